/** Things left to put right, a station. */
import { useMemo } from "react";
import { countLayer, doubleEnrolled } from "../../core/placement/membership.ts";
import { lookup } from "../../core/plan/lookup.ts";
import { openFindings } from "../../core/reach/audit/audit.ts";
import { isTiming } from "../../core/reach/audit/finding.ts";
import { useFindings, useParts, useStudents, useWorkbench } from "./context.tsx";
import type { Station } from "./store.ts";

export interface Left {
  count: number;
  says: string;
}

export function useLeft(): Record<Station, Left> {
  const { plan, t } = useWorkbench();
  const state = useParts("draft", "proposals", "scope");
  const students = useStudents();
  const audit = useFindings();
  const heldBack = state.draft.planned.filter((one) => one.state === "held back").length;
  const proposed = state.proposals.filter((one) => one.state === "waiting").length;
  return useMemo(() => {
    // Only the coordinator says which of two sections is somebody's home.
    const double = state.scope === null ? doubleEnrolled(plan, t).length : 0;
    const layers = lookup(plan).layers.map((layer) => countLayer(plan, layer.id, t, students));
    const unplaced = layers.reduce(
      (sum, { layer, unplaced: list }) => sum + (layer.rule === "exactly one" ? list.length : 0),
      0,
    );
    const wrong = layers.reduce((sum, { inTwo, together }) => sum + inTwo.length + together.length, 0);
    const problems = openFindings(audit.findings).length;
    const dates = audit.findings.filter(({ kind, accepted }) => isTiming(kind) && accepted === null).length;
    const counted = (count: number, what: string): Left =>
      audit.isKnown
        ? { count, says: `${count} ${what}` }
        : { count: 0, says: audit.failure === null ? "Being counted" : "Not counted" };
    return {
      intake: { count: double, says: `${double} double-enrolled` },
      placement: {
        count: unplaced + wrong,
        says: `${unplaced} unplaced, ${wrong} in two groups or kept apart and together`,
      },
      reach: counted(problems, "findings"),
      timing: counted(dates, "findings about dates"),
      gradebook: counted(audit.toMark, "hand-ins to mark"),
      review: {
        count: heldBack + proposed,
        says: `${heldBack} held back, ${proposed} proposed`,
      },
    };
  }, [plan, students, t, audit, heldBack, proposed, state.scope]);
}
