/** Sections that go into another course, and courses that everybody leaves. Source: semantics.md sections 2 and 3. */

import { followAll } from "../placement/commands.ts";
import { sectionGroups } from "../placement/group-commands.ts";
import { derivedId, put } from "../plan/command.ts";
import { fullName, holdsAt, lookup } from "../plan/lookup.ts";
import type { Layer, Person, Plan, Section } from "../plan/types.ts";
import { fold } from "../text/caseless.ts";
import { isolated } from "../text/names.ts";

/** Two people of two courses who have one login; a sentence that says who, null where there are none. */
export function sharedLogin(into: Plan, people: readonly Person[]): string | null {
  const logins = new Map(
    Object.values(into.people).flatMap((person) => (person.username ? [[fold(person.username), person]] : [])),
  );
  for (const person of people) {
    const other = person.username && logins.get(fold(person.username));
    if (other && other.sourcedId !== person.sourcedId)
      return `${isolated(fullName(person))} (${person.sourcedId}) and ${isolated(fullName(other))} (${other.sourcedId}) have the same login, ${person.username}. Ask the registrar's office which of them it belongs to.`;
  }
  return null;
}

/**
 * Some sections of `from`, with whoever is in them at a moment, in another course: new sections there, and a group each
 * where a layer has one for every section. What they did stays where it was done. Or why that cannot be.
 */
export function withSectionsOf(
  into: Plan,
  from: Plan,
  sectionIds: ReadonlySet<string>,
  at: number,
  id: string,
): { plan: Plan; people: number } | { wrong: string } {
  const sections = [...sectionIds].map((one) => from.sections[one] as Section);
  const codes = new Set(Object.values(into.sections).map(({ code }) => fold(code)));
  const taken = sections.find(({ code }) => codes.has(fold(code)));
  if (taken)
    return { wrong: `${into.course.code} has a section ${taken.code} already. Give one of them another code first.` };
  const rows = Object.values(from.enrolments).filter(
    (row) => row.sectionId !== null && sectionIds.has(row.sectionId) && holdsAt(row, at),
  );
  const known = new Map(Object.values(into.people).map((person) => [person.sourcedId, person.id]));
  const people = new Map(rows.map(({ personId }) => [personId, from.people[personId] as Person]));
  const wrong = sharedLogin(into, [...people.values()]);
  if (wrong) return { wrong };
  const idOf = (oldId: string) => known.get(people.get(oldId)?.sourcedId ?? "") ?? derivedId(id, oldId);
  const born = [...people.values()].filter(({ sourcedId }) => !known.has(sourcedId));
  let plan = put(
    into,
    "sections",
    sections.map((one) => ({ ...one, id: idOf(one.id) })),
  );
  plan = put(
    plan,
    "people",
    born.map((one) => ({ ...one, id: idOf(one.id) })),
  );
  plan = put(
    plan,
    "enrolments",
    rows.map((row) => ({
      ...row,
      ...{ id: idOf(row.id), personId: idOf(row.personId), sectionId: idOf(row.sectionId as string) },
      ...{ since: at, until: null, home: false },
    })),
  );
  const named = new Set(sections.map((one) => idOf(one.id)));
  for (const layer of lookup(into).layers) plan = withGroupsFor(plan, layer, named, id);
  return { plan: followAll(plan, id, { now: at }), people: people.size };
}

/** A group for each new section, where a layer has one for each of the sections that there were. */
function withGroupsFor(plan: Plan, layer: Layer, sectionIds: ReadonlySet<string>, id: string): Plan {
  const { following } = layer;
  const isOneEach = following?.length && following.every((rule) => rule.sectionIds.length === 1 && !rule.attribute);
  if (!following || !isOneEach) return plan;
  const all = sectionGroups(plan, layer.id, (sectionId) => derivedId(id, layer.id, sectionId));
  const rules = all.following.filter((rule) => sectionIds.has(rule.sectionIds[0] as string));
  const made = new Set(rules.map(({ groupId }) => groupId));
  const last = Math.max(-1, ...(lookup(plan).groupsOfLayer.get(layer.id) ?? []).map(({ position }) => position));
  const groups = all.groups.filter((group) => made.has(group.id));
  const placed = groups.map((group, place) => ({ ...group, position: last + 1 + place }));
  return put(put(plan, "groups", placed), "layers", [{ ...layer, following: [...following, ...rules] }]);
}

/** The course with nobody in it from a moment on but its coordinators: what was stays true, and can be read by them. */
export function withoutAnybody(plan: Plan, at: number): Plan {
  const open = Object.values(plan.enrolments).filter((row) => row.role !== "coordinator" && holdsAt(row, at));
  return put(
    plan,
    "enrolments",
    open.map((row) => ({ ...row, until: at })),
  );
}
