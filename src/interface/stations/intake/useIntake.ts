/** The state of an intake under way: samples of the files, column matches, options and the verdicts of the worker. */
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { v7 } from "uuid";
import * as api from "../../../api/intake.ts";
import { dayOf } from "../../../core/clock/local-time.ts";
import type { SourceFile } from "../../../core/formats/read.ts";
import type { Unreadable } from "../../../core/formats/text-table.ts";
import type { Scope } from "../../../core/intake/compare.ts";
import type { Sample } from "../../../core/intake/session.ts";
import { lookup } from "../../../core/plan/lookup.ts";
import { useParts, useWorkbench } from "../../workbench/context.tsx";
import { ask as askServer, isFailure } from "../../workbench/fetch.ts";
import { useIntakeWorker } from "./useIntakeWorker.ts";
import { problemsOf, useSources } from "./useSources.ts";
import { useChoices, useVerdicts } from "./useVerdicts.ts";

/** Named by what the section groups' layer is called. */
const sectionLayer = "Sections";

export function useIntake() {
  const { published: plan } = useParts("published");
  const worker = useIntakeWorker();
  const codes = useMemo(() => Object.values(plan.sections).map(({ code }) => code), [plan.sections]);
  const read = useSources(codes);
  const chosen = useChoices();
  const [withGroups, setWithGroups] = useState(true);
  const [scope, setScope] = useState<Scope | null>(null);
  const { past, fetchPast } = usePast(read.remembered);
  const offersGroups = lookup(plan).layers.length === 0;
  const layerToMake = offersGroups && withGroups ? sectionLayer : null;
  const problems = useMemo(
    // A list that is only compared may name people by anything.
    () => (scope ? read.sources.map(() => null) : problemsOf(read.sources)),
    [read.sources, scope],
  );
  const ready = read.sources.length > 0 && problems.every((problem) => problem === null);
  const { choices } = read;
  const verdicts = useVerdicts({ ask: worker.ask, plan, ready, choices, chosen, scope, sectionLayer: layerToMake });
  const { begun, begin, clear } = useBeginning({ worker, read, chosen, verdicts, setScope });
  const taking = useTaking({ worker, plan, codes, begun, begin, unreadable: read.unreadable });
  const applying = useApplying({ worker, plan, chosen, layerToMake, sources: read.sources, begun, clear, fetchPast });
  return {
    sources: read.sources,
    setSources: read.setSources,
    unreadable: read.unreadable,
    problems,
    ...chosen,
    offersGroups,
    withGroups,
    setWithGroups,
    scope,
    setScope,
    comparison: verdicts.comparison,
    result: verdicts.result,
    under: worker.under,
    past,
    fetchPast,
    clear,
    ...taking,
    ...applying,
  };
}
export type IntakeState = ReturnType<typeof useIntake>;

type Worker = ReturnType<typeof useIntakeWorker>;
type Read = ReturnType<typeof useSources>;
type Choices = ReturnType<typeof useChoices>;
/** What the intake under way is called, so that it is never applied twice, and the pull that it came from. */
interface Begun {
  intakeId: string;
  pullId: string | null;
}

/** Earlier intakes, and how columns were understood then. */
function usePast(remembered: Read["remembered"]) {
  const { store } = useWorkbench();
  const [past, setPast] = useState<api.PastIntake[]>([]);
  const fetchPast = useCallback(async () => {
    const answer = await askServer(store.address, api.readIntakes);
    if (isFailure(answer)) return;
    setPast(answer.intakes);
    remembered.current = answer.matches;
  }, [store, remembered]);
  useEffect(() => void fetchPast(), [fetchPast]);
  return { past, fetchPast };
}

interface Beginning {
  worker: Worker;
  read: Read;
  chosen: Choices;
  verdicts: { forget(): void };
  setScope(scope: Scope | null): void;
}
/** Beginning an intake with what was read, and clearing it away. */
function useBeginning({ worker, read, chosen, verdicts, setScope }: Beginning) {
  const begun = useRef<Begun>({ intakeId: v7(), pullId: null });
  const { cancel } = worker;
  const { takeSamples, forget: forgetSources } = read;
  const { forget: forgetChoices } = chosen;
  const { forget: forgetVerdicts } = verdicts;
  const begin = useCallback(
    (samples: Sample[], wrong: Unreadable[], pullId: string | null) => {
      begun.current = { intakeId: v7(), pullId };
      takeSamples(samples, wrong);
      forgetChoices();
      forgetVerdicts();
    },
    [takeSamples, forgetChoices, forgetVerdicts],
  );
  const clear = useCallback(() => {
    cancel();
    forgetSources();
    forgetVerdicts();
    setScope(null);
  }, [cancel, forgetSources, forgetVerdicts, setScope]);
  return { begun, begin, clear };
}

interface Taking extends Pick<ReturnType<typeof useBeginning>, "begun" | "begin"> {
  worker: Worker;
  plan: Parameters<Worker["ask"]>[0];
  codes: string[];
  unreadable: Unreadable[];
}
/** Files, pulled rosters and sheets of workbooks are read. */
function useTaking({ worker, plan, codes, begun, begin, unreadable }: Taking) {
  const { store } = useWorkbench();
  const { now } = useParts("now");
  const { ask } = worker;
  const { termStart, termEnd, timeZone } = plan.course;
  const today = dayOf(now, timeZone);
  const on = useMemo(() => ({ today, termStart, termEnd }), [today, termStart, termEnd]);
  const take = useCallback(
    async (files: SourceFile[]) => {
      const asked = await ask(plan, (one, onProgress) => one.read(files, { codes, on }, onProgress));
      if (!asked) return;
      if ("failed" in asked) return store.tell("wrong", asked.failed);
      begin(asked.answer.samples, asked.answer.unreadable, null);
    },
    [ask, begin, codes, plan, store, on],
  );
  /** A roster that waits since it was pulled. */
  const takePull = useCallback(
    async (id: string) => {
      const table = await askServer(store.address, api.openPull, { params: { pull: id } });
      if (isFailure(table)) return store.tell("wrong", table.detail);
      const asked = await ask(plan, (one) => one.takeTable(table, codes));
      if (asked && !("failed" in asked)) begin(asked.answer.samples, [], id);
    },
    [ask, begin, codes, plan, store],
  );
  const chooseSheet = useCallback(
    async (source: number, sheet: number) => {
      const asked = await ask(plan, (one) => one.chooseSheet(source, sheet, codes));
      if (asked && !("failed" in asked)) begin(asked.answer.samples, unreadable, begun.current.pullId);
    },
    [ask, begin, begun, codes, plan, unreadable],
  );
  return { take, takePull, chooseSheet };
}

interface Applying {
  worker: Worker;
  plan: Parameters<Worker["ask"]>[0];
  chosen: Choices;
  layerToMake: string | null;
  sources: Read["sources"];
  begun: { current: Begun };
  clear(): void;
  fetchPast(): Promise<void>;
}
/** The roster is applied, or what needs somebody is saved to be mended. */
function useApplying({ worker, plan, chosen: choices, layerToMake, sources, begun, clear, fetchPast }: Applying) {
  const { store } = useWorkbench();
  const { revision } = useParts("revision");
  const [applying, setApplying] = useState(false);
  const { ask } = worker;
  const { partial, accepted, chosen, samePeople } = choices;
  const apply = useCallback(async () => {
    setApplying(true);
    const body = {
      ...begun.current,
      revision,
      sectionLayer: layerToMake,
      files: sources.map(({ name }) => name),
      remember: sources.filter(({ byHand }) => byHand).map(({ header, match }) => ({ header, match })),
    };
    const options = { partial, acceptedSections: accepted, chosen, samePeople };
    const address = new URL(`${store.address}/intake`, location.href).href;
    const asked = await ask(plan, (one, onProgress) => one.apply(address, { body, options }, onProgress));
    setApplying(false);
    if (!asked) return;
    if ("failed" in asked) return store.tell("wrong", asked.failed);
    const { status, body: answer } = asked.answer;
    if (status === 0 || status >= 300) {
      store.tell("wrong", String(answer.detail ?? `The server answered ${status}. Nothing was applied.`));
      if (status === 409) await store.load();
      return;
    }
    clear();
    await Promise.all([store.load(), fetchPast()]);
    store.tell(
      "done",
      answer.written === 0 ? nothingDifferent : "Applied. The layers that follow sections have followed.",
    );
    if (layerToMake) store.go("placement");
  }, [
    ask,
    plan,
    store,
    revision,
    partial,
    accepted,
    chosen,
    samePeople,
    layerToMake,
    sources,
    begun,
    clear,
    fetchPast,
  ]);
  const mend = useCallback(async (): Promise<string | null> => {
    const asked = await ask(plan, (one) => one.mend());
    return asked && !("failed" in asked) ? asked.answer : null;
  }, [ask, plan]);
  return { applying, apply, mend };
}
const nothingDifferent = "Nothing was different, so nothing was written.";
