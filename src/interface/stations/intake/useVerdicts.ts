/** What the worker says of an intake's rows, asked again whenever something about them changes. */

import { proxy } from "comlink";
import { useCallback, useState } from "react";
import type { Comparison, Scope } from "../../../core/intake/compare.ts";
import type { Consequences, TableChoice } from "../../../core/intake/session.ts";
import type { Judged, Reconciled } from "../../../core/intake/verdict.ts";
import type { Plan } from "../../../core/plan/types.ts";
import { useEffectWhen } from "../../kit/when.ts";
import { useParts, useWorkbench } from "../../workbench/context.tsx";
import type { AskIntake } from "./useIntakeWorker.ts";

/** What a person chose of an intake's rows. */
export function useChoices() {
  const [partial, setPartial] = useState(false);
  const [accepted, setAccepted] = useState<string[]>([]);
  const [chosen, setChosen] = useState<string[]>([]);
  const [samePeople, setSamePeople] = useState<Record<string, string | null>>({});
  /** Sections of which many leave, and somebody said that it is so. */
  const [mayLose, setMayLose] = useState<string[]>([]);
  const forget = useCallback(() => {
    setAccepted([]);
    setChosen([]);
    setSamePeople({});
    setMayLose([]);
  }, []);
  return {
    partial,
    setPartial,
    accepted,
    setAccepted,
    chosen,
    setChosen,
    samePeople,
    setSamePeople,
    mayLose,
    setMayLose,
    forget,
  };
}
export type Chosen = Pick<ReturnType<typeof useChoices>, "partial" | "accepted" | "chosen" | "samePeople">;

export interface VerdictsAsked {
  ask: AskIntake;
  plan: Plan;
  /** Whether the columns of every source are understood. */
  ready: boolean;
  choices: TableChoice[];
  chosen: Chosen;
  /** Where a list is only compared: with whom. */
  scope: Scope | null;
  /** The layer to be made for the sections; null: none. */
  sectionLayer: string | null;
}

export function useVerdicts({ ask, plan, ready, choices, chosen: chosenBy, scope, sectionLayer }: VerdictsAsked) {
  const { store } = useWorkbench();
  const { now } = useParts("now");
  const [result, setResult] = useState<{ reconciled: Reconciled; consequences: Consequences } | null>(null);
  const [comparison, setComparison] = useState<Comparison | null>(null);
  const forget = useCallback(() => {
    setResult(null);
    setComparison(null);
  }, []);
  const { partial, accepted, chosen, samePeople } = chosenBy;
  // The present moves on by itself; verdicts are asked for again only when something about them changed.
  // Now is left out on purpose.
  useEffectWhen([ready, choices, partial, accepted, chosen, samePeople, scope, sectionLayer, plan, ask, store], () => {
    if (!ready) return setResult(null);
    let wanted = true;
    const options = { partial, acceptedSections: accepted, chosen, samePeople, now };
    const look = async () => {
      const rows: Judged[] = [];
      const onRows = proxy((more: Judged[]) => void rows.push(...more));
      const asked = await ask(plan, (worker, onProgress) =>
        worker.look(choices, { options, sectionLayer }, onProgress, onRows),
      );
      if (!wanted || !asked) return;
      if ("failed" in asked) return store.tell("wrong", asked.failed);
      const { reconciled, consequences } = asked.answer;
      setResult({ reconciled: { ...reconciled, rows }, consequences });
    };
    const compare = async (to: Scope) => {
      const asked = await ask(plan, (worker) => worker.compare(choices, to, now));
      if (!wanted || !asked) return;
      if ("failed" in asked) return store.tell("wrong", asked.failed);
      setComparison(asked.answer);
    };
    void (scope ? compare(scope) : look());
    return () => {
      wanted = false;
    };
  });
  return { result, comparison, forget };
}
