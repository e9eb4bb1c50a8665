/** The audit: everything that is found, or asked about, in a plan at a moment. Source: semantics.md sections 4 and 5. */
import type { Progress } from "../../plan/progress.ts";
import type { Plan } from "../../plan/types.ts";
import { type Reach, reachAt } from "../reach.ts";
import { leftOut, wide } from "./asks.ts";
import { branches, circles, noWindow, unreachable } from "./conditions.ts";
import { dateFindings } from "./dates/checks.ts";
import { type Finding, type FindingKind, findingKinds, isTiming, timingKinds } from "./finding.ts";
import { tellingLabels } from "./labels.ts";
import { type Sightlines, sightlineFindings, sightlines, usualLayer } from "./sightlines.ts";
import { type Sweep, sweep } from "./sweep.ts";
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

interface Asked {
  reach: Reach;
  /** The whole term; computed when it is first asked for, and kept with the plan. */
  term(): Sweep;
  lines: Sightlines | null;
  /** Between whose groups times are compared. */
  layerId: string | null;
  /** What is looked for. */
  kinds: ReadonlySet<FindingKind>;
  /** The plan that people see now, where another is asked about. */
  published: Reach | null;
}

const everyKind: ReadonlySet<FindingKind> = new Set(findingKinds);

/** What is looked for, each with the kinds of finding that come of it. */
const finders: { kinds: FindingKind[]; find(asked: Asked): Finding[] }[] = [
  { kinds: ["leak"], find: ({ reach, term }) => leaks(reach, term()) },
  { kinds: ["stranded"], find: ({ reach, term }) => stranded(reach, term()) },
  { kinds: ["nobody"], find: ({ reach }) => forNobody(reach) },
  { kinds: ["outside"], find: ({ reach }) => outside(reach) },
  { kinds: ["circle"], find: ({ reach }) => circles(reach) },
  { kinds: ["unreachable"], find: ({ reach, term }) => unreachable(reach, term()) },
  { kinds: ["no window"], find: ({ reach, term }) => noWindow(reach, term()) },
  { kinds: ["never", "always"], find: ({ reach, term }) => branches(reach, term()) },
  { kinds: ["telling", "private name"], find: ({ reach }) => tellingLabels(reach.plan) },
  { kinds: ["sightline"], find: ({ reach, lines }) => (lines ? sightlineFindings(reach, lines) : []) },
  { kinds: ["left out"], find: ({ reach }) => leftOut(reach) },
  { kinds: ["one group", "neighbours"], find: ({ reach }) => wide(reach) },
  {
    kinds: [...timingKinds],
    find: ({ reach, layerId, published, kinds }) => dateFindings(reach, layerId, published, kinds),
  },
];

/** Findings of some kinds alone: what is not asked for costs nothing. */
export function findingsOf(
  reach: Reach,
  kinds: ReadonlySet<FindingKind>,
  layerId: string | null = usualLayer(reach.plan),
): Finding[] {
  const { plan } = reach;
  const asksLines = kinds.has("sightline") && layerId !== null && plan.layers[layerId] !== undefined;
  const lines = asksLines ? sightlines(reach, layerId) : null;
  const asked: Asked = { reach, term: () => sweep(plan), lines, layerId, kinds, published: null };
  return finders.filter((one) => one.kinds.some((kind) => kinds.has(kind))).flatMap((one) => one.find(asked));
}

/**
 * The audit of a reach. `layerId`: between whose groups sightlines are counted and times compared; the usual one
 * unless given. `published`: the plan as people have it, where the one that is asked about is a draft.
 */
export function auditOf(
  reach: Reach,
  layerId: string | null = usualLayer(reach.plan),
  published: Reach | null = null,
): Audit {
  const { plan } = reach;
  const lines = layerId !== null && plan.layers[layerId] ? sightlines(reach, layerId) : null;
  const asked: Asked = { reach, term: () => sweep(plan), lines, layerId, kinds: everyKind, published };
  return { findings: finders.flatMap((one) => one.find(asked)).sort(order), sightlines: lines };
}

export const audit = (
  plan: Plan,
  progress: Progress,
  t: number,
  layerId?: string | null,
  published: Plan | null = null,
): Audit => auditOf(reachAt(plan, progress, t), layerId, published && reachAt(published, progress, t));

/** Findings that nobody let stand: what is left to put right in Reach (dates are Timing's). */
export const openFindings = (findings: Finding[]): Finding[] =>
  findings.filter(({ accepted, kind }) => accepted === null && !isTiming(kind));
