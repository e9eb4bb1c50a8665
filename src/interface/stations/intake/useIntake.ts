/** The state of an intake under way: files, column matches, options and the verdicts, computed in a worker. */
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { v7 } from "uuid";
import type { TextTable, Unreadable } from "../../../core/formats/text.ts";
import { type ColumnMatch, headerKey, matchProblem } from "../../../core/intake/columns.ts";
import type { Reconciled } from "../../../core/intake/reconcile.ts";
import type { RosterRow } from "../../../core/intake/rows.ts";
import { compareText } from "../../../core/plan/lookup.ts";
import type { IntakeAnswer, IntakeRequest } from "../../../workers/intake.ts";
import IntakeWorker from "../../../workers/intake.ts?worker";
import { useBench } from "../../bench/context.tsx";
import { getJson, isFailure, postJson } from "../../bench/fetch.ts";

export interface Source {
  table: TextTable;
  match: ColumnMatch;
  /** True where a person changed the match: it is remembered for this header. */
  byHand: boolean;
  /** The section of a file that has no section column. */
  sectionCode: string;
}
export interface PastIntake {
  id: string;
  at: number;
  by: string;
  files: string[];
  counts: Record<string, number>;
}

type Request = IntakeRequest extends infer One ? (One extends IntakeRequest ? Omit<One, "id"> : never) : never;

/** One worker, asked one thing at a time; the answer to an older question is passed over. */
function useWorker() {
  const worker = useRef<Worker>(null);
  const lastId = useRef(0);
  useEffect(() => () => worker.current?.terminate(), []);
  return useCallback((request: Request): Promise<IntakeAnswer | null> => {
    worker.current ??= new IntakeWorker();
    const id = ++lastId.current;
    const one = worker.current;
    return new Promise((resolve, reject) => {
      const listen = ({ data }: MessageEvent<IntakeAnswer>) => {
        if (data.id !== id) return;
        one.removeEventListener("message", listen);
        resolve(id === lastId.current ? data : null);
      };
      one.addEventListener("message", listen);
      one.onerror = (event) => reject(new Error(event.message));
      one.postMessage({ ...request, id });
    });
  }, []);
}

/** "week-1-D2.csv" names the section D2, where the course has it or has none yet. */
function sectionOfFile(name: string, known: string[]): string {
  const words = name.replace(/\.[^.]*$/, "").split(/[\s_-]+/);
  const found = known.find((code) => words.some((word) => compareText(word, code) === 0));
  return found ?? (known.length === 0 ? (words.at(-1) ?? "") : "");
}

export function useIntake() {
  const { store, state } = useBench();
  const ask = useWorker();
  const [sources, setSources] = useState<Source[]>([]);
  const [unreadable, setUnreadable] = useState<Unreadable[]>([]);
  const [partial, setPartial] = useState(false);
  const [accepted, setAccepted] = useState<string[]>([]);
  const [chosen, setChosen] = useState<string[]>([]);
  const [result, setResult] = useState<{ rows: RosterRow[]; reconciled: Reconciled } | null>(null);
  const [busy, setBusy] = useState<"reading" | "reconciling" | "applying" | null>(null);
  const [past, setPast] = useState<PastIntake[]>([]);
  const remembered = useRef<Record<string, ColumnMatch>>({});
  const intakeId = useRef(v7());
  const codes = useMemo(
    () => Object.values(state.published.sections).map(({ code }) => code),
    [state.published.sections],
  );

  const fetchPast = useCallback(async () => {
    const answer = await getJson<{ intakes: PastIntake[]; matches: Record<string, ColumnMatch> }>(
      `${store.address}/intake`,
    );
    if (isFailure(answer)) return;
    setPast(answer.intakes);
    remembered.current = answer.matches;
  }, [store]);
  useEffect(() => void fetchPast(), [fetchPast]);

  const take = useCallback(
    async (files: { name: string; content: Uint8Array | string }[]) => {
      setBusy("reading");
      const answer = await ask({ kind: "read", files, codes });
      setBusy(null);
      if (answer?.kind !== "read") return;
      intakeId.current = v7();
      setUnreadable(answer.unreadable);
      setSources(
        answer.tables.map(({ table, match }) => ({
          table,
          match: remembered.current[headerKey(table.header)] ?? match,
          byHand: false,
          sectionCode: match.includes("section") ? "" : sectionOfFile(table.name, codes),
        })),
      );
      setAccepted([]);
      setChosen([]);
      setResult(null);
    },
    [ask, codes],
  );

  const problems = useMemo(
    () => sources.map(({ match, sectionCode }) => matchProblem(match, sectionCode !== "")),
    [sources],
  );
  const ready = sources.length > 0 && problems.every((problem) => problem === null);
  // The present moves on by itself; verdicts are asked for again only when something about them changed.
  // biome-ignore lint/correctness/useExhaustiveDependencies: state.now is left out on purpose
  useEffect(() => {
    if (!ready) return setResult(null);
    let wanted = true;
    setBusy("reconciling");
    const tables = sources.map(({ table, match, sectionCode }) => ({ table, match, sectionCode }));
    const options = { partial, acceptedSections: accepted, chosen, now: state.now };
    void ask({ kind: "reconcile", plan: state.published, tables, options }).then((answer) => {
      if (!wanted || answer?.kind !== "reconcile") return;
      setResult({ rows: answer.rows, reconciled: answer.reconciled });
      setBusy(null);
    });
    return () => {
      wanted = false;
    };
  }, [ready, sources, partial, accepted, chosen, state.published, ask]);

  const clear = useCallback(() => {
    setSources([]);
    setUnreadable([]);
    setResult(null);
  }, []);

  const apply = useCallback(
    async (sectionLayer: string | null) => {
      if (!result) return;
      setBusy("applying");
      const answer = await postJson<{ written: number }>(`${store.address}/intake`, {
        intakeId: intakeId.current,
        revision: state.revision,
        rows: result.rows,
        options: { partial, acceptedSections: accepted, chosen },
        sectionLayer,
        files: sources.map(({ table }) => table.name),
        remember: sources.filter(({ byHand }) => byHand).map(({ table, match }) => ({ header: table.header, match })),
      });
      setBusy(null);
      if (isFailure(answer)) {
        store.tell("wrong", answer.detail);
        if (answer.status === 409) await store.load();
        return;
      }
      clear();
      await Promise.all([store.load(), fetchPast()]);
      store.tell(
        "done",
        answer.written === 0
          ? "Nothing was different, so nothing was written."
          : "Applied. The layers that follow sections have followed.",
      );
      if (sectionLayer) store.go("placement");
    },
    [result, store, state.revision, partial, accepted, chosen, sources, clear, fetchPast],
  );

  return {
    sources,
    setSources,
    unreadable,
    problems,
    partial,
    setPartial,
    accepted,
    setAccepted,
    chosen,
    setChosen,
    result,
    busy,
    past,
    take,
    apply,
    clear,
  };
}
export type IntakeState = ReturnType<typeof useIntake>;
