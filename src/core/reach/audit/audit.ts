/** The audit: everything that is found, or asked about, in a plan at a moment. Source: semantics.md sections 4 and 5. */
import type { Progress } from "../../plan/progress.ts";
import type { Plan } from "../../plan/types.ts";
import { type Reach, reachAt } from "../reach.ts";
import { leftOut, wide } from "./asks.ts";
import { branches, circles, noWindow, unreachable } from "./conditions.ts";
import { datesOutOfOrder } from "./dates.ts";
import { type Finding, findingKinds } from "./finding.ts";
import { tellingLabels } from "./labels.ts";
import { type Sightlines, sightlineFindings, sightlines, usualLayer } from "./sightlines.ts";
import { sweep } from "./sweep.ts";
import { forNobody, leaks, outside, stranded } from "./who.ts";

export interface Audit {
  findings: Finding[];
  /** Between the groups of the layer that was asked about; null where there is none. */
  sightlines: Sightlines | null;
}

/** Worst first; of one kind those that touch most people. */
const order = (a: Finding, b: Finding): number =>
  Number(a.accepted !== null) - Number(b.accepted !== null) ||
  findingKinds.indexOf(a.kind) - findingKinds.indexOf(b.kind) ||
  b.personIds.length - a.personIds.length;

/** The audit of a reach. `layerId`: between whose groups sightlines are counted; the usual one unless given. */
export function auditOf(reach: Reach, layerId: string | null = usualLayer(reach.plan)): Audit {
  const { plan } = reach;
  const term = sweep(plan);
  const lines = layerId !== null && plan.layers[layerId] ? sightlines(reach, layerId) : null;
  const findings = [
    ...leaks(reach, term),
    ...stranded(reach, term),
    ...forNobody(reach),
    ...outside(reach),
    ...circles(reach),
    ...unreachable(reach, term),
    ...noWindow(reach, term),
    ...branches(reach, term),
    ...tellingLabels(plan),
    ...(lines ? sightlineFindings(reach, lines) : []),
    ...leftOut(reach),
    ...wide(reach),
    ...datesOutOfOrder(reach),
  ];
  return { findings: findings.sort(order), sightlines: lines };
}

export const audit = (plan: Plan, progress: Progress, t: number, layerId?: string | null): Audit =>
  auditOf(reachAt(plan, progress, t), layerId);

/** Findings that nobody let stand: what is left to put right in Reach (dates are Timing's). */
export const openFindings = (findings: Finding[]): Finding[] =>
  findings.filter(({ accepted, kind }) => accepted === null && kind !== "dates");
