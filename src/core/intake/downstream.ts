/** What an intake does beyond the roster: groups that gain and lose, who is left unplaced, whose dates move. Source: sections 2, 3, 8. */
import { difference } from "../plan/difference.ts";
import { compareNames, holdsAt, homeEnrolment, lookup, outlineOrder } from "../plan/lookup.ts";
import type { Person, Placement, Plan } from "../plan/types.ts";
import { isAnchor } from "../timing/anchors.ts";
import { dateFields, differingTargets, membershipsAt, resolveDates } from "../timing/resolving/resolve.ts";

export interface GroupChange {
  layerId: string;
  groupId: string;
  gains: string[];
  loses: string[];
}
export interface Downstream {
  groups: GroupChange[];
  /** By layer in which everyone belongs in exactly one group: students whom the intake leaves without one. */
  unplaced: { layerId: string; personIds: string[] }[];
  /** Students who had dates already, and some of whose dates move. */
  datesMove: string[];
  /** Students who will be in two sections and have no home chosen. */
  doubleEnrolled: string[];
}

/** The consequences of going from one plan to the next, at the moment it happens. People are ids of the plan after. */
export function downstream(before: Plan, after: Plan, t: number): Downstream {
  const changes = difference(before, after);
  const groups = new Map<string, GroupChange>();
  const of = (groupId: string): GroupChange => {
    const layerId = (after.groups[groupId] ?? before.groups[groupId])?.layerId ?? "";
    const known = groups.get(groupId) ?? { layerId, groupId, gains: [], loses: [] };
    groups.set(groupId, known);
    return known;
  };
  const touched = new Set<string>();
  for (const { table, before: was, after: is } of changes) {
    if (table === "enrolments") touched.add(String((is ?? was)?.personId));
    if (table === "people") touched.add(String((is ?? was)?.id));
    if (table !== "placements") continue;
    const [old, now] = [was as Placement | null, is as Placement | null];
    const [held, holds] = [old !== null && holdsAt(old, t), now !== null && holdsAt(now, t)];
    const { groupId, personId } = (now ?? old) as Placement;
    touched.add(personId);
    if (!held && holds) of(groupId).gains.push(personId);
    if (held && !holds) of(groupId).loses.push(personId);
  }
  const students = [...touched].filter((personId) => homeEnrolment(after, personId, t) !== null);
  const { layers, enrolmentsOfPerson } = lookup(after);
  const isPlaced = (plan: Plan, personId: string, layerId: string) =>
    (lookup(plan).placementsOfPerson.get(personId) ?? []).some(
      (row) => holdsAt(row, t) && plan.groups[row.groupId]?.layerId === layerId,
    );
  const isNewlyWithout = (personId: string, layerId: string) =>
    !isPlaced(after, personId, layerId) &&
    (homeEnrolment(before, personId, t) === null || isPlaced(before, personId, layerId));
  const unplaced = layers
    .filter(({ rule }) => rule === "exactly one")
    .map(({ id }) => ({ layerId: id, personIds: students.filter((personId) => isNewlyWithout(personId, id)) }))
    .filter(({ personIds }) => personIds.length > 0);
  const doubleEnrolled = students.filter((personId) => {
    const open = (enrolmentsOfPerson.get(personId) ?? []).filter(
      (row) => row.role === "student" && row.sectionId !== null && holdsAt(row, t),
    );
    return open.length > 1 && !open.some(({ home }) => home);
  });
  // In the order in which layers, groups and people stand everywhere else.
  const order = lookup(after).allLayers.flatMap(({ id }) => lookup(after).allGroupsOfLayer.get(id) ?? []);
  const place = new Map(order.map(({ id }, at) => [id, at]));
  const person = (id: string) => (after.people[id] ?? before.people[id]) as Person;
  const named = (ids: string[]) => ids.sort((a, b) => compareNames(person(a), person(b)));
  const sorted = [...groups.values()]
    .map((one) => ({ ...one, gains: named(one.gains), loses: named(one.loses) }))
    .sort((a, b) => (place.get(a.groupId) ?? 0) - (place.get(b.groupId) ?? 0));
  return { groups: sorted, unplaced, datesMove: movedDates(before, after, students, t), doubleEnrolled };
}

/** Of some students who were there before, those for whom a date of an item comes out otherwise. */
function movedDates(before: Plan, after: Plan, students: readonly string[], t: number): string[] {
  const items = outlineOrder(after)
    .map(({ item }) => item)
    .filter(
      (item) =>
        dateFields.some((field) => isAnchor(item.dates[field]) || differingTargets(after, item, field).length > 0) ||
        lookup(after).allowances.length > 0,
    );
  return students.filter((personId) => {
    if (homeEnrolment(before, personId, t) === null) return false;
    const [old, now] = [membershipsAt(before, personId, t), membershipsAt(after, personId, t)];
    return items.some((item) => {
      const was = before.items[item.id];
      if (!was) return false;
      const [from, to] = [resolveDates(before, was, old), resolveDates(after, item, now)];
      return dateFields.some((field) => from[field].value !== to[field].value);
    });
  });
}
