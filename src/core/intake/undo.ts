/** Undoing an applied intake whole, while nothing later depends on it. Source: semantics.md section 2. */

import { applyDifference, type Row, type RowChange, same } from "../plan/difference.ts";
import { fullName } from "../plan/lookup.ts";
import { referencesOf } from "../plan/references.ts";
import { type Plan, tableNames } from "../plan/types.ts";
import { isolated } from "../text/names.ts";

/** Every row of a plan with its table, the course's own first. */
export const rowsOf = (plan: Plan): { table: RowChange["table"]; row: Row }[] => [
  { table: "course", row: plan.course as Row },
  ...tableNames.flatMap((table) => Object.values(plan[table] as Record<string, Row>).map((row) => ({ table, row }))),
];

/** The difference that leads back. */
export const invert = (changes: RowChange[]): RowChange[] =>
  changes.map(({ table, id, before, after }) => ({ table, id, before: after, after: before }));

export type Undone = { plan: Plan; changes: RowChange[] } | { dependents: string[] };

/** Rows that are not any more as the changes left them. */
const changedSince = (plan: Plan, changes: RowChange[]): string[] =>
  changes.flatMap(({ table, id, after }) => {
    const current = table === "course" ? (plan.course as Row) : ((plan[table] as Record<string, Row>)[id] ?? null);
    return same(current, after) ? [] : [`${nameOf(plan, table, after ?? current)} has changed since`];
  });

/** Rows that name what the changes brought, and were not brought by them. */
function namingBorn(plan: Plan, changes: RowChange[]): string[] {
  const born = new Set(changes.filter(({ before }) => before === null).map(({ id, table }) => `${table}/${id}`));
  if (born.size === 0) return [];
  return [...rowsOf(plan)].flatMap(({ table, row }) => {
    if (born.has(`${table}/${row.id}`)) return [];
    const named = referencesOf(table, row).find((one) => born.has(`${one.table}/${one.id}`));
    if (!named) return [];
    const brought = (plan[named.table] as Record<string, unknown>)[named.id] as Row;
    return [`${nameOf(plan, table, row)} names ${nameOf(plan, named.table, brought)}`];
  });
}

/**
 * The plan as it was before the changes, or what has come to depend on them: rows that changed again, and rows
 * that name what the intake brought.
 */
export function undoChanges(plan: Plan, changes: RowChange[]): Undone {
  const dependents = new Set([...changedSince(plan, changes), ...namingBorn(plan, changes)]);
  if (dependents.size > 0) return { dependents: [...dependents] };
  const inverted = invert(changes);
  return { plan: applyDifference(plan, inverted), changes: inverted };
}

/** What a row is called by staff. */
export function nameOf(plan: Plan, table: RowChange["table"], row: Row | null): string {
  if (!row) return "Something that was removed";
  const person = plan.people[String(table === "people" ? row.id : row.personId)];
  const who = person ? fullName(person) : "somebody";
  switch (table) {
    case "course":
      return "The course itself";
    case "people":
      return `The record of ${isolated(fullName(row as unknown as { givenName: string; familyName: string }))}`;
    case "enrolments":
      return `The enrolment of ${who} in ${plan.sections[String(row.sectionId)]?.code ?? "the course"}`;
    case "placements":
      return `The place of ${who} in ${plan.groups[String(row.groupId)]?.name ?? "a group"}`;
    case "sections":
      return `Section ${row.code}`;
    case "layers":
      return `The layer ${row.name}`;
    case "groups":
      return `The group ${row.name}`;
    case "sets":
      return `The set ${row.name}`;
    case "items":
      return `"${row.title}"`;
    case "overrides":
      return `A date of "${plan.items[String(row.itemId)]?.title ?? "a removed item"}"`;
    case "entrances":
      return `An entrance of "${plan.items[String(row.itemId)]?.title ?? "a removed item"}"`;
    case "allowances":
      return "An allowance";
    case "acceptances":
      return "A finding that was let stand";
  }
}
