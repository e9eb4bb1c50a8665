/** The audit: everything that is found, or asked about, in a plan at a moment. Source: semantics.md sections 4 and 5. */
import type { Progress } from "../../plan/progress.ts";
import type { Plan } from "../../plan/types.ts";
import { type Reach, reachAt } from "../reach.ts";
import { leftOut, wide } from "./asks.ts";
import { branches, circles, noWindow, unreachable } from "./conditions.ts";
import { type Dated, datedOf } from "./dates/dated.ts";
import { inVain, movedEarlier } from "./dates/draft.ts";
import { sameDay, unequalTime } from "./dates/groups.ts";
import { dueBeforeMeeting, dueOnFreeDay, outOfOrder, undated } from "./dates/moments.ts";
import { type Finding, type FindingKind, findingKinds, isTiming } from "./finding.ts";
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
  /** Everyone's dates; put together when they are first asked for. */
  dated(): Dated;
  /** The plan that people see now, where another is asked about. */
  published: Reach | null;
}

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
  { kinds: ["dates"], find: ({ dated }) => outOfOrder(dated()) },
  { kinds: ["no date"], find: ({ dated }) => undated(dated()) },
  { kinds: ["moved earlier"], find: ({ dated, published }) => (published ? movedEarlier(dated(), published) : []) },
  { kinds: ["before meeting"], find: ({ dated }) => dueBeforeMeeting(dated()) },
  { kinds: ["no-class day"], find: ({ dated }) => dueOnFreeDay(dated()) },
  { kinds: ["same day"], find: ({ dated }) => sameDay(dated()) },
  { kinds: ["unequal time"], find: ({ dated }) => unequalTime(dated()) },
  { kinds: ["vain override"], find: ({ dated }) => inVain(dated()) },
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
  const asked = askedOf(reach, lines, layerId, null);
  return finders.filter((one) => one.kinds.some((kind) => kinds.has(kind))).flatMap((one) => one.find(asked));
}

function askedOf(reach: Reach, lines: Sightlines | null, layerId: string | null, published: Reach | null): Asked {
  let dated: Dated | null = null;
  return {
    reach,
    term: () => sweep(reach.plan),
    lines,
    published,
    dated() {
      dated ??= datedOf(reach, layerId);
      return dated;
    },
  };
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
  const asked = askedOf(reach, lines, layerId, published);
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
