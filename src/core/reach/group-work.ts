/**
 * Work that a group hands in together, and marks given to a group at once. A split assignment or quiz is one hand-in a
 * group: what one member hands in counts for all who are in the group then. A shared mark goes to every member as of the
 * hand-in that was marked, without one as of when it was given; a person's own mark beats it, whenever given.
 * Source: semantics.md sections 4 (split items) and 7.
 */
import { holdsAt, lookup, plainName } from "../plan/lookup.ts";
import type { GroupMark, HandIn, Mark } from "../plan/progress.ts";
import { sourceOf } from "../plan/tables.ts";
import type { Item, Plan } from "../plan/types.ts";

/** Whether groups hand it in together. */
export const isGroupWork = (item: Item): boolean =>
  item.split !== null && (item.kind === "assignment" || item.kind === "quiz");

const isStudentThen = (plan: Plan, personId: string, t: number): boolean =>
  (lookup(plan).enrolmentsOfPerson.get(personId) ?? []).some((row) => row.role === "student" && holdsAt(row, t));

/** Students in a group at t. */
export function membersThen(plan: Plan, groupId: string, t: number): string[] {
  const found = new Set<string>();
  for (const row of lookup(plan).placementsOfGroup.get(groupId) ?? [])
    if (holdsAt(row, t) && isStudentThen(plan, row.personId, t)) found.add(row.personId);
  return [...found];
}

/** The groups of a layer that somebody is in at t. */
export function groupsThen(plan: Plan, layerId: string, personId: string, t: number): string[] {
  const found = new Set<string>();
  for (const row of lookup(plan).placementsOfPerson.get(personId) ?? [])
    if (holdsAt(row, t) && plan.groups[row.groupId]?.layerId === layerId) found.add(row.groupId);
  return [...found];
}

/** Why a student may not hand in what groups hand in together; null where they may. */
export function whyNotForGroup(plan: Plan, item: Item, personId: string, t: number): string | null {
  const groupIds = groupsThen(plan, item.split?.layerId ?? "", personId, t);
  if (groupIds.length === 0) return "A group hands this in together, and you are in none of its groups yet.";
  if (!item.leadHandsIn) return null;
  const leads = groupIds.flatMap((id) => plan.groups[id]?.leads ?? []);
  // A group without a lead would have nobody to hand in.
  if (leads.length === 0 || leads.includes(personId)) return null;
  const names = leads.flatMap((id) => plan.people[id] ?? []).map(plainName);
  return `The lead of your group hands this in for all of you: ${names.join(" or ")}.`;
}

/** The hand-in that a shared mark given at `at` is for: the group's latest until then. Null where there is none. */
export function handInMarked(plan: Plan, item: Item, groupId: string, handIns: HandIn[], at: number): HandIn | null {
  const layerId = item.split?.layerId ?? "";
  let latest: HandIn | null = null;
  for (const row of handIns)
    if (
      row.at <= at &&
      (!latest || row.at >= latest.at) &&
      groupsThen(plan, layerId, row.by ?? row.personId, row.at).includes(groupId)
    )
      latest = row;
  return latest;
}

/** Whom a shared mark that is given at `at` goes to, their own marks aside. */
export function sharers(plan: Plan, item: Item, groupId: string, handIns: HandIn[], at: number): string[] {
  return membersThen(plan, groupId, handInMarked(plan, item, groupId, handIns, at)?.at ?? at);
}

interface Shared {
  handIns: HandIn[];
  marks: Mark[];
}
interface Kept extends Shared {
  of: unknown[];
}
const kept = new WeakMap<HandIn[] | Mark[] | Item, Kept>();

/** Each hand-in once for everybody who was in its group then. */
function handInsOfAll(plan: Plan, layerId: string, handIns: HandIn[]): HandIn[] {
  const all: HandIn[] = [...handIns];
  const there = new Set(handIns.map(({ id, personId }) => `${id}/${personId}`));
  for (const row of handIns) {
    const others = new Set(
      groupsThen(plan, layerId, row.personId, row.at).flatMap((groupId) => membersThen(plan, groupId, row.at)),
    );
    others.delete(row.personId);
    for (const personId of others)
      if (!there.has(`${row.id}/${personId}`)) all.push({ ...row, personId, by: row.by ?? row.personId });
  }
  return all;
}

/** What an item's rows come to for each person, with what their groups did and were given. */
export function sharedIn(plan: Plan, item: Item, handIns: HandIn[], marks: Mark[], groupMarks: GroupMark[]): Shared {
  const of = [sourceOf(plan, "placements"), plan.enrolments, plan.groups, handIns, marks, groupMarks];
  const ready = kept.get(item);
  if (ready?.of.every((one, at) => one === of[at])) return ready;
  const layerId = item.split?.layerId ?? "";
  const all = isGroupWork(item) ? handInsOfAll(plan, layerId, handIns) : handIns;
  const own = new Set(marks.map(({ personId }) => personId));
  const given = new Map<string, Mark>();
  for (const { groupId, points, excused, at } of [...groupMarks].sort((a, b) => a.at - b.at))
    for (const personId of sharers(plan, item, groupId, handIns, at))
      if (!own.has(personId)) given.set(personId, { personId, itemId: item.id, points, excused, at, shared: groupId });
  const made = { of, handIns: [...all], marks: given.size === 0 ? marks : [...marks, ...given.values()] };
  kept.set(item, made);
  return made;
}
