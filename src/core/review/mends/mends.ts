/**
 * Mends: changes that remove a finding, each tried on the plan before it is offered. What is offered removes its finding
 * and adds no leak. Source: semantics.md section 4.
 */

import { apply, type Command, type NewCommand } from "../../commands.ts";
import { derivedId, isRefusal } from "../../plan/command.ts";
import { same } from "../../plan/difference.ts";
import type { Progress } from "../../plan/progress.ts";
import type { Item, Plan } from "../../plan/types.ts";
import { findingsOf } from "../../reach/audit/audit.ts";
import { type Finding, type FindingKind, studentsSay } from "../../reach/audit/finding.ts";
import { type Reach, reachAt } from "../../reach/reach.ts";
import { andNot, countBits, countShared, isEmpty, isSubset } from "../../sets/bits.ts";
import { sayNumber } from "../../text/locale.ts";
import { ofLeftOut, ofNeighbours, ofOneGroup } from "./asking.ts";
import { type Candidate, type Case, change, type ItemCase } from "./candidate.ts";
import { ofBranch, ofCircle, ofNoWindow } from "./conditions.ts";
import { ofFreeDay, ofOrder, ofTooLittleTime, ofUndated, ofVainOverride } from "./dates.ts";
import { ofLeak, ofStranded } from "./opening.ts";
import { ofLabel, ofSightline } from "./seeing.ts";

export interface Mend {
  says: string;
  /** What it does to people: "39 students cease to reach it; nobody it is meant for loses it." */
  effect: string;
  commands: NewCommand[];
}

const none = (): Candidate[] => [];
const ofItems: Record<
  Exclude<FindingKind, "telling" | "private name" | "sightline">,
  (one: ItemCase) => Candidate[]
> = {
  leak: ofLeak,
  stranded: ofStranded,
  nobody: ({ item }) => [
    change("Make it for everyone", item, { audience: { to: "everyone", minus: [] } }),
    change("Unpublish it", item, { published: false }),
  ],
  outside: ({ item }) => [change("Split it no longer", item, { split: null })],
  circle: ofCircle,
  unreachable: ofCircle,
  "no window": ofNoWindow,
  never: ofBranch,
  always: ofBranch,
  "left out": ofLeftOut,
  "one group": ofOneGroup,
  neighbours: ofNeighbours,
  dates: ofOrder,
  "no date": ofUndated,
  "no-class day": ofFreeDay,
  "vain override": ofVainOverride,
  "moved earlier": none,
  "before meeting": none,
  "same day": none,
  "unequal time": none,
  "too little time": ofTooLittleTime,
};

function candidatesFor(one: Case): Candidate[] {
  const { kind, itemId } = one.finding;
  if (kind === "sightline") return ofSightline(one);
  if (kind === "telling" || kind === "private name") return ofLabel(one);
  const item = itemId ? one.plan.items[itemId] : undefined;
  return item ? ofItems[kind]({ ...one, item }) : [];
}

/** A name space for the rows that a mend would make: they are only tried. */
const tried = "3b0f0f6e-6f5e-4d0c-9f57-0d9a2c6f7a10";

/** The plan after some commands, or null where one is refused. */
export function tryCommands(plan: Plan, commands: NewCommand[], now: number): Plan | null {
  let next = plan;
  for (const [at, command] of commands.entries()) {
    const after = apply(next, { ...command, id: derivedId(tried, String(at)) } as Command, { now });
    if (isRefusal(after)) return null;
    next = after;
  }
  return next;
}

/** What a mend does to people at the moment of the reach, in a sentence. */
function effectOf(before: Reach, after: Reach, item: Item | null): string {
  const parts: string[] = [];
  const moves = Object.values(before.plan.items).flatMap((one) => {
    const next = after.plan.items[one.id];
    return next
      ? [{ next, lost: andNot(before.sees(one), after.sees(next)), won: andNot(after.sees(next), before.sees(one)) }]
      : [];
  });
  const losing = moves.filter(({ lost }) => !isEmpty(lost));
  for (const { next, lost } of losing.filter((one) => one.next.id === item?.id)) {
    const meant = countShared(lost, after.meant(next));
    parts.push(`${studentsSay(countBits(lost))} cease to reach it`);
    parts.push(meant > 0 ? `${studentsSay(meant)} of them it is meant for` : "nobody it is meant for loses it");
  }
  const others = losing.filter(({ next }) => next.id !== item?.id).length;
  const gained = moves.reduce((sum, { won }) => sum + countBits(won), 0);
  if (others > 0)
    parts.push(`${others} other ${others === 1 ? "item ceases" : "items cease"} to be reached by somebody`);
  if (gained > 0) parts.push(`${sayNumber(gained)} new crossings of a student and an item`);
  return parts.length > 0 ? `${parts.join("; ")}.` : "At this moment nobody's reach changes.";
}

/** The mends of a finding: each was tried, removes it, and lets nobody reach what is not meant for them. */
export function mendsOf(plan: Plan, progress: Progress, t: number, finding: Finding, layerId?: string | null): Mend[] {
  const reach = reachAt(plan, progress, t);
  const item = finding.itemId ? (plan.items[finding.itemId] ?? null) : null;
  // Only what a mend could take away, and the leaks it could make, are looked for again.
  const kinds = new Set<FindingKind>([finding.kind, "leak"]);
  const leaksBefore = leaking(findingsOf(reach, new Set<FindingKind>(["leak"])));
  const found: Mend[] = [];
  for (const { says, commands, otherwise } of candidatesFor({ reach, plan, finding })) {
    // What does more than another that was found is not offered beside it.
    if (otherwise && found.some(({ commands: few }) => commands.some((one) => same(one, few[0])))) continue;
    const next = tryCommands(plan, commands, t);
    if (!next || next === plan) continue;
    const after = reachAt(next, progress, t);
    const findings = findingsOf(after, kinds, layerId ?? undefined);
    if (findings.some(({ key }) => key === finding.key)) continue;
    const leaksAfter = leaking(findings);
    if ([...leaksAfter].some((pair) => !leaksBefore.has(pair)) || leaksSooner(reach, after)) continue;
    found.push({ says, commands, effect: effectOf(reach, after, item) });
  }
  return found;
}

/** Whether somebody reaches at this moment what is not meant for them and did not before, though they would have later. */
function leaksSooner(before: Reach, after: Reach): boolean {
  const { items } = before.plan;
  return Object.values(after.plan.items).some((item) => {
    const was = items[item.id];
    return !isSubset(after.leak(item), was ? before.leak(was) : after.sets.nobody);
  });
}

/** Who leaks where, now or to come. */
const leaking = (findings: Finding[]): Set<string> =>
  new Set(
    findings
      .filter(({ kind }) => kind === "leak")
      .flatMap(({ key, personIds }) => personIds.map((id) => `${key} ${id}`)),
  );
