/**
 * Release conditions of one student, with the reason as a tree of the same shape as the condition: every part
 * true or false, the value found, and what would make it true. Source: semantics.md section 5.
 */

import { sayInstant } from "../clock/local-time.ts";
import { targetName } from "../plan/lookup.ts";
import { reachesPercent, showPercent } from "../plan/percent.ts";
import { type Progress, progressByItem, progressLookup, rowsByPerson } from "../plan/progress.ts";
import type { Condition, Item, Plan, Target } from "../plan/types.ts";
import { instantByCalendar, isAnchor, sayMoment } from "../timing/anchors.ts";
import { type Memberships, memberOf } from "../timing/resolving/resolve.ts";
import { type MembershipSets, placesOf } from "./membership-sets.ts";

export interface Reason {
  kind: Condition["kind"];
  holds: boolean;
  /** Whether it can hold, or cease to hold, at some later moment: what is done stays done. */
  canHold: boolean;
  canFail: boolean;
  /** One sentence part, for staff: the value found and what is needed. */
  says: string;
  /** The same for the student, without private names. */
  tells: string;
  parts: Reason[];
}

export interface Asking {
  plan: Plan;
  progress: Progress;
  memberships: Memberships;
  /** Epoch milliseconds. */
  t: number;
}

/** The condition that applies to a student: the first variant whose groups hold them, otherwise the item's own. */
export function conditionFor(item: Item, memberships: Memberships): Condition | null {
  for (const variant of item.variants) {
    if (variant.targets.some((target) => memberOf(memberships, target))) return variant.condition;
  }
  return item.condition;
}

const joinNames = (plan: Plan, targets: Target[]) => targets.map((target) => targetName(plan, target)).join(" or ");

function openName(plan: Plan, target: Target): string | null {
  if (target.kind === "person") return null;
  if (target.kind === "section") return plan.sections[target.id]?.studentTitle ?? null;
  if (target.kind === "set") {
    // The set's own name is the staff's; its groups are named where every one of them may be.
    const names = (plan.sets[target.id]?.groupIds ?? []).map((id) => openName(plan, { kind: "group", id }));
    return names.length > 0 && names.every((name) => name !== null) ? names.join(" or ") : null;
  }
  const group = plan.groups[target.id];
  return group && !plan.layers[group.layerId]?.private ? group.label : null;
}

/** What a group condition says to a student; private layers are never named, nor that they exist. */
function tellTargets(plan: Plan, targets: Target[]): string {
  const names = targets.map((target) => openName(plan, target)).filter((name) => name !== null);
  return names.length > 0 ? `for ${names.join(" or ")}` : "for some of the course";
}

function leaf(condition: Exclude<Condition, { of: Condition[] }>, asking: Asking): Omit<Reason, "kind" | "parts"> {
  const { plan, progress, memberships, t } = asking;
  const found = progressLookup(progress);
  const both = (says: string) => ({ says, tells: says });
  switch (condition.kind) {
    case "from":
    case "before": {
      const { moment } = condition;
      const at = instantByCalendar(moment, memberships.calendar, plan.course.timeZone);
      // Where a moment has no date for a student, neither holds, and neither can.
      if (at === null)
        return { holds: false, canHold: false, canFail: false, ...both(`${sayMoment(moment)}: no date`) };
      const isFrom = condition.kind === "from";
      const holds = isFrom === t >= at;
      const when = sayInstant(at, plan.course.timeZone);
      const says = `${isFrom ? "from" : "before"} ${isAnchor(moment) ? `${sayMoment(moment)} (${when})` : when}`;
      return {
        holds,
        canHold: isFrom || holds,
        canFail: !isFrom,
        says,
        tells: `${isFrom ? "from" : "before"} ${when}`,
      };
    }
    case "in": {
      const holds = condition.targets.some((target) => memberOf(memberships, target));
      const says = `in ${joinNames(plan, condition.targets) || "no group"}`;
      return {
        holds,
        canHold: holds,
        canFail: !holds,
        says,
        tells: tellTargets(plan, condition.targets),
      };
    }
    case "atLeast":
    case "lessThan": {
      const item = plan.items[condition.itemId];
      const title = item?.title ?? "a removed item";
      const mark = found.mark(memberships.personId, condition.itemId);
      const counts = mark && mark.at <= t ? mark : undefined;
      const enough = condition.kind === "atLeast";
      const needs = enough ? `needs ${condition.percent} %` : `needs less than ${condition.percent} %`;
      if (counts?.excused) {
        return {
          holds: enough,
          canHold: enough,
          canFail: !enough,
          ...both(`excused from ${title}`),
        };
      }
      if (!counts || counts.points === null || !item?.points) {
        return {
          holds: false,
          canHold: Boolean(item?.points),
          canFail: true,
          ...both(`no mark yet on ${title}, ${needs}`),
        };
      }
      const reaches = reachesPercent(counts.points, item.points, condition.percent);
      const says = `${showPercent(counts.points, item.points)} on ${title}, ${needs}`;
      return { holds: enough ? reaches : !reaches, canHold: true, canFail: true, ...both(says) };
    }
    case "handedIn": {
      const title = plan.items[condition.itemId]?.title ?? "a removed item";
      const mark = found.mark(memberships.personId, condition.itemId);
      const excused = Boolean(mark?.excused && mark.at <= t);
      const holds = excused || found.handIns(memberships.personId, condition.itemId).some(({ at }) => at <= t);
      const says = excused ? `excused from ${title}` : holds ? `handed in ${title}` : `${title} not handed in yet`;
      return { holds, canHold: true, canFail: !holds, ...both(says) };
    }
    case "opened":
    case "read": {
      const title = plan.items[condition.itemId]?.title ?? "a removed item";
      const opening = found.opening(memberships.personId, condition.itemId);
      const at = condition.kind === "opened" ? opening?.at : opening?.readAt;
      const holds = at != null && at <= t;
      const verb = condition.kind === "opened" ? "opened" : "marked as read";
      return {
        holds,
        canHold: true,
        canFail: !holds,
        ...both(holds ? `${verb} ${title}` : `${title} not ${verb} yet`),
      };
    }
  }
}

/** Students of whom progress is looked up one by one rather than by reading all rows of an item. */
const few = 16;

/** Whom a leaf about progress holds for, told by place in a membershipSets: read from the item's rows, not student by student. */
export function progressHolders(
  condition: Extract<Condition, { itemId: string }>,
  plan: Plan,
  progress: Progress,
  t: number,
  membershipSets: MembershipSets,
  holds: (index: number, yes: boolean) => void,
): void {
  const byItem = progressByItem(progress);
  const { itemId } = condition;
  const none: never[] = [];
  const [marks, handIns] = [byItem.marks.get(itemId) ?? none, byItem.handIns.get(itemId) ?? none];
  const each = <Row extends { personId: string }>(rows: Row[], call: (index: number, row: Row) => void) => {
    if (rows.length === 0) return;
    // Of a few students only their own rows are read.
    if (membershipSets.students.length <= few) {
      for (const [index, personId] of membershipSets.students.entries())
        for (const row of (rowsByPerson(rows).get(personId) ?? []) as Row[]) call(index, row);
      return;
    }
    const places = placesOf(rows, membershipSets);
    for (let at = 0; at < rows.length; at++)
      if ((places[at] as number) >= 0) call(places[at] as number, rows[at] as Row);
  };
  if (condition.kind === "opened" || condition.kind === "read") {
    each(byItem.openings.get(itemId) ?? none, (index, { at, readAt }) => {
      const done = condition.kind === "opened" ? at : readAt;
      holds(index, done !== null && done <= t);
    });
    return;
  }
  if (!("percent" in condition)) {
    // Of several marks of one student the last counts; a hand-in stays one.
    each(marks, (index, { excused, at }) => holds(index, excused && at <= t));
    each(handIns, (index, { at }) => {
      if (at <= t) holds(index, true);
    });
    return;
  }
  const enough = condition.kind === "atLeast";
  const possible = plan.items[itemId]?.points;
  each(marks, (index, { excused, points, at }) => {
    if (at > t) holds(index, false);
    else if (excused) holds(index, enough);
    else
      holds(
        index,
        points !== null && possible != null && reachesPercent(points, possible, condition.percent) === enough,
      );
  });
}

/** The verdict on a condition, with its reason. Empty all-of and none-of hold; empty any-of does not. */
export function judge(condition: Condition, asking: Asking): Reason {
  if (!("of" in condition)) return { kind: condition.kind, parts: [], ...leaf(condition, asking) };
  const parts = condition.of.map((part) => judge(part, asking));
  const every = (ask: (part: Reason) => boolean) => parts.every(ask);
  const some = (ask: (part: Reason) => boolean) => parts.some(ask);
  const can = (part: Reason) => part.holds || part.canHold;
  const may = (part: Reason) => !part.holds || part.canFail;
  const verdicts = {
    allOf: () => ({ holds: every((p) => p.holds), canHold: every(can), canFail: some(may) }),
    anyOf: () => ({ holds: some((p) => p.holds), canHold: some(can), canFail: every(may) }),
    noneOf: () => ({ holds: every((p) => !p.holds), canHold: every(may), canFail: some(can) }),
  };
  const says = { allOf: "all of these", anyOf: "any of these", noneOf: "none of these" }[condition.kind];
  return { kind: condition.kind, ...verdicts[condition.kind](), says, tells: says, parts };
}

/** The parts of a reason that still fail and can come true, as sentences for the student. */
export function stillNeeded(reason: Reason): string[] {
  if (reason.holds) return [];
  if (reason.parts.length === 0) return [reason.tells];
  if (reason.kind === "noneOf") return reason.parts.filter((part) => part.holds).map((part) => `not: ${part.tells}`);
  const failing = reason.parts.filter(({ holds }) => !holds);
  // Of several ways those that are open; a group that they will be in only later is told as it stands.
  const open = reason.kind === "anyOf" ? failing.filter(({ canHold }) => canHold) : failing;
  return (open.length > 0 ? open : failing).flatMap(stillNeeded);
}
