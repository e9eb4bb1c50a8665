/** What moving some people into a group would make of it, said before they are let go. Source: semantics.md section 3. */

import { fullName, isStudentAt } from "../plan/lookup.ts";
import type { Group, Layer, Plan } from "../plan/types.ts";
import { isolated, sayNames } from "../text/names.ts";
import { ruleFor } from "./following.ts";
import { studentsOf } from "./membership.ts";

/** A person in one of the layer's groups, or in none of them. */
export interface Place {
  personId: string;
  groupId: string | null;
}
export interface MoveEffect {
  /** Students in the group now, and then. */
  before: number;
  after: number;
  /** What it breaks, a sentence each. */
  breaks: string[];
}

const name = (plan: Plan, id: string) => {
  const person = plan.people[id];
  return person ? isolated(fullName(person)) : "somebody";
};

/** `copies`: they stay where they are as well. `groupId` null: out of all groups of the layer. */
export function effectOfMove(
  plan: Plan,
  layer: Layer,
  groupId: string | null,
  places: readonly Place[],
  t: number,
  copies = false,
): MoveEffect {
  const group = groupId === null ? null : (plan.groups[groupId] as Group);
  const students = places.filter(({ personId }) => isStudentAt(plan, personId, t));
  const moving = new Set(students.map(({ personId }) => personId));
  const there = group ? studentsOf(plan, group.id, t) : [];
  const then = group ? new Set([...there, ...moving]) : new Set<string>();
  const breaks: string[] = [];
  if (group?.max != null && then.size > group.max) breaks.push(`${group.name} holds ${group.max} at most`);
  if (!group && layer.rule === "exactly one" && students.some((place) => place.groupId))
    breaks.push(`${students.length === 1 ? "one student" : `${students.length} students`} would be unplaced`);
  const apart = [...layer.keepApart, ...(layer.forming?.apart ?? [])];
  const told = new Set<string>();
  for (const set of apart) {
    const met = set.filter((id) => then.has(id));
    if (met.length < 2 || !met.some((id) => moving.has(id) && !there.includes(id))) continue;
    told.add(`${sayNames(met.map((id) => name(plan, id)))} are kept apart`);
  }
  if (!copies) {
    for (const set of layer.forming?.together ?? []) {
      const stays = set.filter((id) => !moving.has(id) && !then.has(id));
      const goes = set.filter((id) => moving.has(id) && !there.includes(id));
      if (stays.length > 0 && goes.length > 0)
        told.add(`${sayNames([...goes, ...stays].map((id) => name(plan, id)))} are kept together`);
    }
    const left = new Map<string, number>();
    for (const place of students)
      if (place.groupId && place.groupId !== groupId) left.set(place.groupId, (left.get(place.groupId) ?? 0) + 1);
    for (const [from, count] of left) {
      const source = plan.groups[from];
      const stay = studentsOf(plan, from, t).length - count;
      if (source?.min != null && stay < source.min) told.add(`${source.name} needs ${source.min} at least`);
    }
  }
  if (group?.scopeGroupId) {
    const scope = new Set(studentsOf(plan, group.scopeGroupId, t));
    const strays = [...moving].filter((id) => !scope.has(id)).length;
    if (strays > 0) told.add(`${strays} not in ${plan.groups[group.scopeGroupId]?.name ?? "its scope"}`);
  }
  if (group && layer.following) {
    const against = [...moving].filter((id) => ruleFor(plan, layer.following ?? [], id, t) !== group.id).length;
    if (against > 0) told.add(`${against} held against the rules`);
  }
  return { before: there.length, after: then.size, breaks: [...breaks, ...told] };
}
