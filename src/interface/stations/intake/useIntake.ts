/** The state of an intake under way: samples of the files, column matches, options and the verdicts of the worker. */
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { v7 } from "uuid";
import * as api from "../../../api/intake.ts";
import { dayOf } from "../../../core/clock/local-time.ts";
import type { SourceFile } from "../../../core/formats/read.ts";
import type { Unreadable } from "../../../core/formats/text.ts";
import { type ColumnMatch, headerKey, matchProblem } from "../../../core/intake/columns.ts";
import type { Comparison, Scope } from "../../../core/intake/compare.ts";
import type { Consequences, Sample } from "../../../core/intake/session.ts";
import type { Reconciled } from "../../../core/intake/verdict.ts";
import { compareText, lookup } from "../../../core/plan/lookup.ts";
import { useWorkbench } from "../../workbench/context.tsx";
import { ask as askServer, isFailure } from "../../workbench/fetch.ts";
import { useWorker } from "./useWorker.ts";

export interface Source extends Sample {
  /** True where a person changed the match: it is remembered for this header. */
  byHand: boolean;
  /** The section of a file that has no section column. */
  sectionCode: string;
}
/** Named by what the section groups' layer is called. */
const sectionLayer = "Sections";

/** "week-1-D2.csv" names the section D2, where the course has it or has none yet. */
function sectionOfFile(name: string, known: string[]): string {
  const words = name.replace(/\.[^.]*$/, "").split(/[\s_-]+/);
  const found = known.find((code) => words.some((word) => compareText(word, code) === 0));
  return found ?? (known.length === 0 ? (words.at(-1) ?? "") : "");
}

export function useIntake() {
  const { store, state } = useWorkbench();
  const plan = state.published;
  const { ask, cancel, under } = useWorker();
  const [sources, setSources] = useState<Source[]>([]);
  const [unreadable, setUnreadable] = useState<Unreadable[]>([]);
  const [partial, setPartial] = useState(false);
  const [withGroups, setWithGroups] = useState(true);
  const [accepted, setAccepted] = useState<string[]>([]);
  const [chosen, setChosen] = useState<string[]>([]);
  const [samePeople, setSamePeople] = useState<Record<string, string | null>>({});
  /** Sections of which many leave, and somebody said that it is so. */
  const [mayLose, setMayLose] = useState<string[]>([]);
  const [result, setResult] = useState<{ reconciled: Reconciled; consequences: Consequences } | null>(null);
  const [scope, setScope] = useState<Scope | null>(null);
  const [comparison, setComparison] = useState<Comparison | null>(null);
  const [applying, setApplying] = useState(false);
  const [past, setPast] = useState<api.PastIntake[]>([]);
  const remembered = useRef<Record<string, ColumnMatch>>({});
  const intakeId = useRef(v7());
  const pullId = useRef<string | null>(null);
  const codes = useMemo(() => Object.values(plan.sections).map(({ code }) => code), [plan.sections]);
  const { termStart, termEnd, timeZone } = plan.course;
  const today = dayOf(state.now, timeZone);
  const readOn = useMemo(() => ({ today, termStart, termEnd }), [today, termStart, termEnd]);
  const offersGroups = lookup(plan).layers.length === 0;
  const layerToMake = offersGroups && withGroups ? sectionLayer : null;

  const fetchPast = useCallback(async () => {
    const answer = await askServer(store.address, api.readIntakes);
    if (isFailure(answer)) return;
    setPast(answer.intakes);
    remembered.current = answer.matches;
  }, [store]);
  useEffect(() => void fetchPast(), [fetchPast]);

  const clear = useCallback(() => {
    cancel();
    setSources([]);
    setUnreadable([]);
    setResult(null);
    setScope(null);
    setComparison(null);
  }, [cancel]);

  const begin = useCallback(
    (samples: Sample[], wrong: Unreadable[]) => {
      intakeId.current = v7();
      setUnreadable(wrong);
      setSources(
        samples.map((sample) => ({
          ...sample,
          match: remembered.current[headerKey(sample.header)] ?? sample.match,
          byHand: false,
          sectionCode: sample.match.includes("section") ? "" : sectionOfFile(sample.name, codes),
        })),
      );
      setAccepted([]);
      setChosen([]);
      setSamePeople({});
      setMayLose([]);
      setResult(null);
      setComparison(null);
    },
    [codes],
  );
  const take = useCallback(
    async (files: SourceFile[]) => {
      const asked = await ask({ kind: "read", files, codes, on: readOn }, plan);
      if (!asked) return;
      if ("failed" in asked) return store.tell("wrong", asked.failed);
      pullId.current = null;
      if (asked.answer.kind === "read") begin(asked.answer.samples, asked.answer.unreadable);
    },
    [ask, begin, codes, plan, store, readOn],
  );
  /** A roster that waits since it was pulled. */
  const takePull = useCallback(
    async (id: string) => {
      const table = await askServer(store.address, api.openPull, { params: { pull: id } });
      if (isFailure(table)) return store.tell("wrong", table.detail);
      const asked = await ask({ kind: "table", table, codes }, plan);
      if (!asked || "failed" in asked || asked.answer.kind !== "read") return;
      pullId.current = id;
      begin(asked.answer.samples, []);
    },
    [ask, begin, codes, plan, store],
  );
  const chooseSheet = useCallback(
    async (source: number, sheet: number) => {
      const asked = await ask({ kind: "sheet", source, sheet, codes }, plan);
      if (asked && !("failed" in asked) && asked.answer.kind === "read") begin(asked.answer.samples, unreadable);
    },
    [ask, begin, codes, plan, unreadable],
  );

  const problems = useMemo(
    () =>
      sources.map(({ match, sectionCode }) =>
        // A list that is only compared may name people by anything.
        scope ? null : matchProblem(match, sectionCode !== ""),
      ),
    [sources, scope],
  );
  const choices = useMemo(() => sources.map(({ match, sectionCode }) => ({ match, sectionCode })), [sources]);
  const ready = sources.length > 0 && problems.every((problem) => problem === null);
  // The present moves on by itself; verdicts are asked for again only when something about them changed.
  // biome-ignore lint/correctness/useExhaustiveDependencies: state.now is left out on purpose
  useEffect(() => {
    if (!ready) return setResult(null);
    let wanted = true;
    const options = { partial, acceptedSections: accepted, chosen, samePeople, now: state.now };
    const request = scope
      ? ({ kind: "compare", choices, scope, now: state.now } as const)
      : ({ kind: "look", choices, options, sectionLayer: layerToMake } as const);
    void ask(request, plan).then((asked) => {
      if (!wanted || !asked) return;
      if ("failed" in asked) return store.tell("wrong", asked.failed);
      const { answer, rows } = asked;
      if (answer.kind === "compared") setComparison(answer.comparison);
      if (answer.kind === "looked") setResult({ ...answer.looked, reconciled: { ...answer.looked.reconciled, rows } });
    });
    return () => {
      wanted = false;
    };
  }, [ready, choices, partial, accepted, chosen, samePeople, scope, layerToMake, plan, ask, store]);

  const apply = useCallback(async () => {
    setApplying(true);
    const body = {
      intakeId: intakeId.current,
      revision: state.revision,
      sectionLayer: layerToMake,
      pullId: pullId.current,
      files: sources.map(({ name }) => name),
      remember: sources.filter(({ byHand }) => byHand).map(({ header, match }) => ({ header, match })),
    };
    const asked = await ask(
      {
        kind: "apply",
        address: new URL(`${store.address}/intake`, location.href).href,
        body,
        options: { partial, acceptedSections: accepted, chosen, samePeople },
      },
      plan,
    );
    setApplying(false);
    if (!asked) return;
    if ("failed" in asked) return store.tell("wrong", asked.failed);
    if (asked.answer.kind !== "applied") return;
    const { status, body: answer } = asked.answer;
    if (status >= 300) {
      store.tell("wrong", String(answer.detail ?? `The server answered ${status}. Nothing was applied.`));
      if (status === 409) await store.load();
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
    if (layerToMake) store.go("placement");
  }, [ask, plan, store, state.revision, partial, accepted, chosen, samePeople, layerToMake, sources, clear, fetchPast]);

  const mend = useCallback(async (): Promise<string | null> => {
    const asked = await ask({ kind: "mend" }, plan);
    return asked && !("failed" in asked) && asked.answer.kind === "mended" ? asked.answer.csv : null;
  }, [ask, plan]);

  return {
    sources,
    setSources,
    chooseSheet,
    unreadable,
    problems,
    partial,
    setPartial,
    offersGroups,
    withGroups,
    setWithGroups,
    accepted,
    setAccepted,
    chosen,
    setChosen,
    samePeople,
    setSamePeople,
    mayLose,
    setMayLose,
    scope,
    setScope,
    comparison,
    result,
    under,
    applying,
    past,
    fetchPast,
    take,
    takePull,
    apply,
    mend,
    clear,
  };
}
export type IntakeState = ReturnType<typeof useIntake>;
