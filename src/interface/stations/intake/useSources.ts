/** What was read for an intake: a sample of each file, how its columns are understood, and what could not be read. */
import { useCallback, useMemo, useRef, useState } from "react";
import type { Unreadable } from "../../../core/formats/text-table.ts";
import { type ColumnMatch, headerKey, matchProblem } from "../../../core/intake/columns.ts";
import type { Sample } from "../../../core/intake/session.ts";
import { compareText } from "../../../core/plan/lookup.ts";

export interface Source extends Sample {
  /** True where a person changed the match: it is remembered for this header. */
  byHand: boolean;
  /** The section of a file that has no section column. */
  sectionCode: string;
}

/** "week-1-D2.csv" names the section D2, where the course has it or has none yet. */
function sectionOfFile(name: string, known: string[]): string {
  const words = name.replace(/\.[^.]*$/, "").split(/[\s_-]+/);
  const found = known.find((code) => words.some((word) => compareText(word, code) === 0));
  return found ?? (known.length === 0 ? (words.at(-1) ?? "") : "");
}

/** `codes`: of the course's sections. */
export function useSources(codes: string[]) {
  const [sources, setSources] = useState<Source[]>([]);
  const [unreadable, setUnreadable] = useState<Unreadable[]>([]);
  /** By what a header says: how its columns were understood before. */
  const remembered = useRef<Record<string, ColumnMatch>>({});
  const takeSamples = useCallback(
    (samples: Sample[], wrong: Unreadable[]) => {
      setUnreadable(wrong);
      setSources(
        samples.map((sample) => ({
          ...sample,
          match: remembered.current[headerKey(sample.header)] ?? sample.match,
          byHand: false,
          sectionCode: sample.match.includes("section") ? "" : sectionOfFile(sample.name, codes),
        })),
      );
    },
    [codes],
  );
  const forget = useCallback(() => {
    setSources([]);
    setUnreadable([]);
  }, []);
  const choices = useMemo(() => sources.map(({ match, sectionCode }) => ({ match, sectionCode })), [sources]);
  return { sources, setSources, unreadable, remembered, takeSamples, forget, choices };
}

/** Of each source what keeps it from being read as a roster; null: nothing. */
export const problemsOf = (sources: Source[]) =>
  sources.map(({ match, sectionCode }) => matchProblem(match, sectionCode !== ""));
