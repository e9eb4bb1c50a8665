/**
 * Release conditions of one student, with the reason as a tree of the same shape as the condition: every part
 * true or false, the value found, and what would make it true. Source: semantics.md section 5.
 */

import { sayInstant } from "../clock/local-time.ts";
import { targetName } from "../plan/lookup.ts";
import { showPercent } from "../plan/percent.ts";
import { type Progress, progressByItem, progressLookup, rowsByPerson } from "../plan/progress.ts";
import type { Condition, Item, Plan, Target } from "../plan/types.ts";
import { instantByCalendar, isAnchor, sayMoment } from "../timing/anchors.ts";
import { type Memberships, memberOf } from "../timing/resolving/resolve.ts";
import { type MembershipSets, placesOf } from "./membership-sets.ts";
import { foundOfHandIn, foundOfMark, foundOfOpening, holdsWith, type ProgressLeaf } from "./progress-leaf.ts";

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
  /** What a part about progress asks for. */
  itemId?: string;
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

type Told = Omit<Reason, "kind" | "parts" | "itemId">;
const both = (says: string) => ({ says, tells: says });

function momentReason(condition: Extract<Condition, { moment: unknown }>, { plan, memberships, t }: Asking): Told {
  const { moment } = condition;
  const at = instantByCalendar(moment, memberships.calendar, plan.course.timeZone);
  // Where a moment has no date for a student, neither holds, and neither can.
  if (at === null) return { holds: false, canHold: false, canFail: false, ...both(`${sayMoment(moment)}: no date`) };
  const isFrom = condition.kind === "from";
  const holds = isFrom === t >= at;
  const when = sayInstant(at, plan.course.timeZone);
  const says = `${isFrom ? "from" : "before"} ${isAnchor(moment) ? `${sayMoment(moment)} (${when})` : when}`;
  return { holds, canHold: isFrom || holds, canFail: !isFrom, says, tells: `${isFrom ? "from" : "before"} ${when}` };
}

function groupReason({ targets }: Extract<Condition, { targets: Target[] }>, { plan, memberships }: Asking): Told {
  const holds = targets.some((target) => memberOf(memberships, target));
  const says = `in ${joinNames(plan, targets) || "no group"}`;
  return { holds, canHold: holds, canFail: !holds, says, tells: tellTargets(plan, targets) };
}

function markReason(
  leaf: Extract<ProgressLeaf, { percent: number }>,
  { plan, progress, memberships, t }: Asking,
): Told {
  const item = plan.items[leaf.itemId];
  const title = item?.title ?? "a removed item";
  const mark = progressLookup(progress).mark(memberships.personId, leaf.itemId);
  const found = foundOfMark(leaf, plan, mark, t);
  const holds = holdsWith(leaf.kind, found);
  const needs = leaf.kind === "atLeast" ? `needs ${leaf.percent} %` : `needs less than ${leaf.percent} %`;
  if (found === "excused") return { holds, canHold: holds, canFail: !holds, ...both(`excused from ${title}`) };
  if (found === "nothing")
    return { holds, canHold: Boolean(item?.points), canFail: true, ...both(`no mark yet on ${title}, ${needs}`) };
  const reached = showPercent(mark?.points as number, item?.points as number);
  return { holds, canHold: true, canFail: true, ...both(`${reached} on ${title}, ${needs}`) };
}

function handInReason(leaf: ProgressLeaf, { plan, progress, memberships, t }: Asking): Told {
  const title = plan.items[leaf.itemId]?.title ?? "a removed item";
  const rows = progressLookup(progress);
  const isExcused = foundOfMark(leaf, plan, rows.mark(memberships.personId, leaf.itemId), t) === "excused";
  const found = rows.handIns(memberships.personId, leaf.itemId).map((handIn) => foundOfHandIn(handIn, t));
  const holds = [isExcused ? ("excused" as const) : ("nothing" as const), ...found].some((one) =>
    holdsWith(leaf.kind, one),
  );
  const says = isExcused ? `excused from ${title}` : holds ? `handed in ${title}` : `${title} not handed in yet`;
  return { holds, canHold: true, canFail: !holds, ...both(says) };
}

function openingReason(leaf: ProgressLeaf, { plan, progress, memberships, t }: Asking): Told {
  const title = plan.items[leaf.itemId]?.title ?? "a removed item";
  const opening = progressLookup(progress).opening(memberships.personId, leaf.itemId);
  const holds = holdsWith(leaf.kind, foundOfOpening(leaf, opening, t));
  const verb = leaf.kind === "opened" ? "opened" : "marked as read";
  return { holds, canHold: true, canFail: !holds, ...both(holds ? `${verb} ${title}` : `${title} not ${verb} yet`) };
}

function leafReason(leaf: Exclude<Condition, { of: Condition[] }>, asking: Asking): Told {
  if ("moment" in leaf) return momentReason(leaf, asking);
  if ("targets" in leaf) return groupReason(leaf, asking);
  if ("percent" in leaf) return markReason(leaf, asking);
  return leaf.kind === "handedIn" ? handInReason(leaf, asking) : openingReason(leaf, asking);
}

/** Students of whom progress is looked up one by one rather than by reading all rows of an item. */
const few = 16;

/** Calls with the rows of those whom sets of members name, in the order of the rows, told by place. */
function eachRow<Row extends { personId: string }>(
  rows: Row[] | undefined,
  membershipSets: MembershipSets,
  call: (index: number, row: Row) => void,
): void {
  if (!rows) return;
  // Of a few students only their own rows are read.
  if (membershipSets.students.length <= few) {
    for (const [index, personId] of membershipSets.students.entries())
      for (const row of (rowsByPerson(rows).get(personId) ?? []) as Row[]) call(index, row);
    return;
  }
  const places = placesOf(rows, membershipSets);
  for (let at = 0; at < rows.length; at++) if ((places[at] as number) >= 0) call(places[at] as number, rows[at] as Row);
}

/** Whom a leaf about progress holds for, told by place: read from the item's rows, not student by student. */
export function progressHolders(
  leaf: ProgressLeaf,
  { plan, progress, t, membershipSets }: Pick<Asking, "plan" | "progress" | "t"> & { membershipSets: MembershipSets },
  holds: (index: number, yes: boolean) => void,
): void {
  const { marks, handIns, openings } = progressByItem(progress);
  const { itemId, kind } = leaf;
  if (kind === "opened" || kind === "read") {
    eachRow(openings.get(itemId), membershipSets, (index, opening) =>
      holds(index, holdsWith(kind, foundOfOpening(leaf, opening, t))),
    );
    return;
  }
  // Of several marks of one student the last counts; a hand-in stays one.
  eachRow(marks.get(itemId), membershipSets, (index, mark) =>
    holds(index, holdsWith(kind, foundOfMark(leaf, plan, mark, t))),
  );
  if (kind !== "handedIn") return;
  eachRow(handIns.get(itemId), membershipSets, (index, handIn) => {
    if (holdsWith(kind, foundOfHandIn(handIn, t))) holds(index, true);
  });
}

/** The verdict on a condition, with its reason. Empty all-of and none-of hold; empty any-of does not. */
export function judge(condition: Condition, asking: Asking): Reason {
  if (!("of" in condition)) {
    const found: Reason = { kind: condition.kind, parts: [], ...leafReason(condition, asking) };
    return "itemId" in condition ? { ...found, itemId: condition.itemId } : found;
  }
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

/** Said in place of what a student can never reach: its title is not for them to know. */
export const askInstructor = "ask your instructor";

/**
 * The parts of a reason that still fail and can come true, as sentences for the student. `mayName`: whether an item may
 * be named to them.
 */
export function stillNeeded(reason: Reason, mayName: (itemId: string) => boolean): string[] {
  const needed = [...new Set(neededParts(reason, mayName))];
  const named = needed.filter((says) => says !== askInstructor);
  // Of several ways those that they can go.
  return reason.kind === "anyOf" && named.length > 0 ? named : needed;
}

function neededParts(reason: Reason, mayName: (itemId: string) => boolean): string[] {
  const told = ({ itemId, tells }: Reason, words = tells) =>
    itemId === undefined || mayName(itemId) ? words : askInstructor;
  if (reason.holds) return [];
  if (reason.parts.length === 0) return [told(reason)];
  if (reason.kind === "noneOf")
    return reason.parts.filter((part) => part.holds).map((part) => told(part, `not: ${part.tells}`));
  const failing = reason.parts.filter(({ holds }) => !holds);
  // Of several ways those that are open; a group that they will be in only later is told as it stands.
  const open = reason.kind === "anyOf" ? failing.filter(({ canHold }) => canHold) : failing;
  return (open.length > 0 ? open : failing).flatMap((part) => stillNeeded(part, mayName));
}
