/** What forming needs to know of a plan, small enough to be sent to a worker. Source: semantics.md section 3. */

import type { Forming } from "../../plan/forming.ts";
import { compareText, fullName, holdsAt, lookup, studentsAt } from "../../plan/lookup.ts";
import type { Plan } from "../../plan/types.ts";
import { placementsAt } from "../membership.ts";

/** Groups to be, of one group of the scope's layer or of everyone. */
export interface FormingScope {
  groupId: string | null;
  name: string;
  people: readonly string[];
  /** Groups that are there already, those with held students first. */
  existing: string[];
  /** Who is held, and in which of the existing groups. */
  held: { person: string; bin: number }[];
}
export interface FormingInput {
  forming: Forming;
  scopes: FormingScope[];
  /** What each person has under each column that a wish names. */
  values: Record<string, Record<string, string>>;
  /** Partners of the wish with the same place among the soft ones; each pair once. */
  partners: [string, string][][];
  /** How often each person has led a group. */
  led: Record<string, number>;
  /** Students in no group of the scope's layer: they are not formed. */
  leftOut: string[];
}

/** Pairs who are or were in one group of some layers at the same time. */
function partnersIn(plan: Plan, layerIds: string[]): [string, string][] {
  const { groupsOfLayer, placementsOfGroup } = lookup(plan);
  const pairs = new Map<string, [string, string]>();
  for (const group of layerIds.flatMap((id) => groupsOfLayer.get(id) ?? [])) {
    const rows = placementsOfGroup.get(group.id) ?? [];
    for (const [at, a] of rows.entries())
      for (const b of rows.slice(at + 1)) {
        const overlap =
          a.since < (b.until ?? Number.POSITIVE_INFINITY) && b.since < (a.until ?? Number.POSITIVE_INFINITY);
        if (a.personId === b.personId || !overlap) continue;
        const pair: [string, string] = a.personId < b.personId ? [a.personId, b.personId] : [b.personId, a.personId];
        pairs.set(pair.join(" "), pair);
      }
  }
  return [...pairs.values()];
}

/** `layerId` is the layer that is formed, where it is there already: its held students stay where they are. */
export function formingInput(plan: Plan, layerId: string | null, forming: Forming, t: number): FormingInput {
  const students = studentsAt(plan, t);
  const { groupsOfLayer, placementsOfGroup } = lookup(plan);
  const isStudent = new Set(students);
  const inGroup = (groupId: string) =>
    new Set((placementsOfGroup.get(groupId) ?? []).filter((row) => holdsAt(row, t)).map(({ personId }) => personId));
  const own = layerId ? (groupsOfLayer.get(layerId) ?? []) : [];
  const heldRows = layerId
    ? placementsAt(plan, layerId, t).filter(({ held, personId }) => held && isStudent.has(personId))
    : [];
  const taken = new Set<string>();
  const scopeOf = (groupId: string | null, name: string, people: readonly string[]): FormingScope => {
    const there = new Set(people);
    const held = heldRows.filter(({ personId }) => there.has(personId));
    const mine = own.filter((group) => forming.scopeLayerId === null || group.scopeGroupId === groupId);
    const holds = (id: string) => held.some((row) => row.groupId === id);
    // Someone is held in a group that was made for another scope: it becomes one of this scope.
    const others = own.filter((group) => holds(group.id) && !mine.includes(group));
    const existing = [...mine.filter(({ id }) => holds(id)), ...others, ...mine.filter(({ id }) => !holds(id))];
    return {
      groupId,
      name,
      people,
      existing: existing.map(({ id }) => id),
      held: held.map((row) => ({ person: row.personId, bin: existing.findIndex(({ id }) => id === row.groupId) })),
    };
  };
  const scopes =
    forming.scopeLayerId === null
      ? [scopeOf(null, "", students)]
      : (groupsOfLayer.get(forming.scopeLayerId) ?? []).map((group) => {
          const members = inGroup(group.id);
          const people = students.filter((id) => members.has(id) && !taken.has(id));
          for (const id of people) taken.add(id);
          return scopeOf(group.id, group.label, people);
        });
  const columns = new Set(forming.soft.flatMap((wish) => ("column" in wish ? [wish.column] : [])));
  const led: Record<string, number> = {};
  for (const group of Object.values(plan.groups))
    if (group.layerId !== layerId) for (const id of group.leads) led[id] = (led[id] ?? 0) + 1;
  return {
    forming,
    scopes: scopes.filter(({ people }) => people.length > 0),
    values: Object.fromEntries(
      [...columns].map((column) => [
        column,
        Object.fromEntries(students.map((id) => [id, plan.people[id]?.attributes[column] ?? ""])),
      ]),
    ),
    partners: forming.soft.map((wish) => (wish.kind === "new partners" ? partnersIn(plan, wish.layerIds) : [])),
    led,
    leftOut: forming.scopeLayerId === null ? [] : students.filter((id) => !taken.has(id)),
  };
}

/** Columns that students have something in, and whether it is a number for nearly all who have. */
export function formingColumns(
  plan: Plan,
  students: readonly string[],
): { column: string; number: boolean; values: number }[] {
  const found = new Map<string, string[]>();
  for (const id of students)
    for (const [column, value] of Object.entries(plan.people[id]?.attributes ?? {})) {
      const list = found.get(column);
      if (list) list.push(value);
      else found.set(column, [value]);
    }
  return [...found]
    .map(([column, values]) => ({
      column,
      number: values.filter((value) => numberIn(value) !== null).length >= values.length * 0.9,
      values: new Set(values).size,
    }))
    .sort((a, b) => compareText(a.column, b.column));
}

/** A number as a roster writes it: with point or comma, perhaps with a percent sign; null where there is none. */
export function numberIn(text: string): number | null {
  const plain = text
    .trim()
    .replace(/\s?%$/, "")
    .replace(/^(-?\d+),(\d+)$/, "$1.$2");
  return /^-?\d+(\.\d+)?$/.test(plain) ? Number(plain) : null;
}

export const nameOf = (plan: Plan, id: string): string => {
  const person = plan.people[id];
  return person ? fullName(person) : "someone who left";
};
