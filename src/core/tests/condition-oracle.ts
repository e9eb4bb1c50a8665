/**
 * Who is a student, who is in a group, and what a condition says of them, or may still come to: semantics.md section 4,
 * one sentence at a time, written without a look at the engine.
 */

import { addDays, instantOf, wallOf } from "../clock/local-time.ts";
import type { Progress } from "../plan/progress.ts";
import type { Audience, Condition, Moment, Plan, Target } from "../plan/types.ts";
import { meetingsOf } from "../timing/meetings.ts";

export interface World {
  plan: Plan;
  progress: Progress;
  t: number;
  /** Under the most favourable progress: whether the student could have opened, or handed in, an item by t. Unset: as it is. */
  could?: (itemId: string, act: "open" | "hand in") => boolean;
  /** From when on progress is the most favourable: what was done until then stays done. Unset: from a blank start. */
  from?: number;
}

const open = (row: { since: number; until: number | null }, t: number) =>
  t >= row.since && (row.until === null || t < row.until);

export function isStudent({ plan, t }: World, s: string): boolean {
  return Object.values(plan.enrolments).some((row) => row.personId === s && row.role === "student" && open(row, t));
}

export function isIn({ plan, t }: World, s: string, target: Target): boolean {
  if (target.kind === "person") return target.id === s;
  if (target.kind === "section")
    return Object.values(plan.enrolments).some(
      (row) => row.personId === s && row.sectionId === target.id && open(row, t),
    );
  const groups = target.kind === "set" ? (plan.sets[target.id]?.groupIds ?? []) : [target.id];
  return Object.values(plan.placements).some(
    (row) => row.personId === s && groups.includes(row.groupId) && open(row, t),
  );
}

export function inAudience(world: World, s: string, { to, minus }: Audience): boolean {
  const included = to === "everyone" || to.some((target) => isIn(world, s, target));
  return included && !minus.some((target) => isIn(world, s, target));
}

/** Section 6: an anchor through the group of the meeting layer that has a pattern, otherwise the home section. */
export function momentOf({ plan, t }: World, s: string, moment: Moment): number | null {
  const zone = plan.course.timeZone;
  if (typeof moment === "string") return instantOf(moment, zone);
  const group = Object.values(plan.groups)
    .filter((one) => one.layerId === plan.course.meetingLayerId && one.pattern.length > 0)
    .sort((a, b) => a.position - b.position)
    .find((one) => isIn({ plan, t } as World, s, { kind: "group", id: one.id }));
  const homes = Object.values(plan.enrolments)
    .filter((row) => row.personId === s && row.role === "student" && open(row, t) && row.sectionId !== null)
    .sort((a, b) => Number(b.home) - Number(a.home) || b.since - a.since);
  const section = plan.sections[homes[0]?.sectionId ?? ""];
  const pattern = group ?? section;
  const meetings = pattern ? meetingsOf(plan.course, pattern) : [];
  const { meeting } = moment;
  const found =
    typeof meeting === "number"
      ? meetings[meeting - 1]
      : meetings.filter(({ day }) => day < meeting.lastBefore).sort((a, b) => b.start - a.start)[0];
  if (!found) return moment.fallback === null ? null : instantOf(moment.fallback, zone);
  const at = addDays(wallOf(moment.edge === "start" ? found.start : found.end, zone), moment.days);
  return instantOf(moment.time === null ? at : `${at.slice(0, 10)}T${moment.time}`, zone);
}

export function holds(world: World, s: string, condition: Condition): boolean {
  const { plan, progress, t } = world;
  switch (condition.kind) {
    case "allOf":
      return condition.of.every((part) => holds(world, s, part));
    case "anyOf":
      return condition.of.some((part) => holds(world, s, part));
    case "noneOf":
      return !condition.of.some((part) => holds(world, s, part));
    case "from":
    case "before": {
      const at = momentOf(world, s, condition.moment);
      return at !== null && (condition.kind === "from" ? t >= at : t < at);
    }
    case "in":
      return condition.targets.some((target) => isIn(world, s, target));
    case "handedIn": {
      const excused = progress.marks.some(
        (m) => m.personId === s && m.itemId === condition.itemId && m.excused && m.at <= t,
      );
      // A split assignment or quiz is one hand-in a group: that of whoever was in the group with the student then.
      const split = plan.items[condition.itemId]?.split;
      const together = ["assignment", "quiz"].includes(plan.items[condition.itemId]?.kind ?? "") ? split : null;
      return (
        excused ||
        progress.handIns.some(
          (h) =>
            h.itemId === condition.itemId &&
            h.at <= t &&
            (h.personId === s ||
              (together &&
                isStudent({ ...world, t: h.at }, s) &&
                Object.values(plan.groups).some(
                  ({ id, layerId }) =>
                    layerId === together.layerId &&
                    [s, h.personId].every((who) => isIn({ ...world, t: h.at }, who, { kind: "group", id })),
                ))),
        )
      );
    }
    case "opened":
      return progress.openings.some((o) => o.personId === s && o.itemId === condition.itemId && o.at <= t);
    case "read":
      return progress.openings.some(
        (o) => o.personId === s && o.itemId === condition.itemId && o.readAt !== null && o.readAt <= t,
      );
    case "atLeast":
    case "lessThan": {
      const mark = progress.marks.find((m) => m.personId === s && m.itemId === condition.itemId && m.at <= t);
      if (!mark) return false;
      if (mark.excused) return condition.kind === "atLeast";
      const points = plan.items[condition.itemId]?.points;
      if (mark.points === null || !points) return false;
      // Whole numbers in these tests, so that this comparison is exact.
      const enough = mark.points * 100 >= condition.percent * points;
      return condition.kind === "atLeast" ? enough : !enough;
    }
  }
}

/** What was done before progress became the most favourable. */
const soFar = ({ plan, progress, from }: World): World | null =>
  from === undefined ? null : { plan, progress, t: from };
const excused = (world: World, s: string, itemId: string): boolean =>
  world.progress.marks.some((m) => m.personId === s && m.itemId === itemId && m.excused && m.at <= world.t);

/** Section 4, what most favourable progress can do: from a blank start, or from here on; judged leaf by leaf. */
export function mayHold(world: World, s: string, condition: Condition): boolean {
  if (condition.kind === "allOf") return condition.of.every((part) => mayHold(world, s, part));
  if (condition.kind === "anyOf") return condition.of.some((part) => mayHold(world, s, part));
  if (condition.kind === "noneOf") return condition.of.every((part) => mayFail(world, s, part));
  if (!("itemId" in condition)) return holds(world, s, condition);
  const asked = world.plan.items[condition.itemId];
  const before = soFar(world);
  if ("percent" in condition) {
    if (before && excused(before, s, condition.itemId)) return condition.kind === "atLeast";
    if (!asked?.points) return false;
    // No mark is below 0 %.
    if (condition.kind === "lessThan" && condition.percent <= 0) return false;
  }
  const { itemId } = condition;
  if (before) {
    if ("percent" in condition) {
      const marked = before.progress.marks.some((m) => m.personId === s && m.itemId === itemId && m.at <= before.t);
      // A mark may be given, or given anew, for what was worked on.
      if (marked || (["handedIn", "opened"] as const).some((kind) => holds(before, s, { kind, itemId }))) return true;
    } else if (holds(before, s, condition)) return true;
  }
  return asked !== undefined && world.could?.(itemId, condition.kind === "handedIn" ? "hand in" : "open") === true;
}
export function mayFail(world: World, s: string, condition: Condition): boolean {
  if (condition.kind === "allOf") return condition.of.some((part) => mayFail(world, s, part));
  if (condition.kind === "anyOf") return condition.of.every((part) => mayFail(world, s, part));
  if (condition.kind === "noneOf") return condition.of.some((part) => mayHold(world, s, part));
  if (!("itemId" in condition)) return !holds(world, s, condition);
  const before = soFar(world);
  if (!before) return true;
  if ("percent" in condition) return !excused(before, s, condition.itemId) || condition.kind === "lessThan";
  return !holds(before, s, condition);
}
