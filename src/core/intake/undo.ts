/** Undoing an applied intake whole, while nothing later depends on it. Source: semantics.md section 2. */
import { applyDifference, type Row, type RowChange, same } from "../plan/difference.ts";
import { fullName } from "../plan/lookup.ts";
import { referencesOf } from "../plan/references.ts";
import { type Plan, tableNames } from "../plan/types.ts";

/** Every row of a plan with its table, the course's own first. */
export const rowsOf = (plan: Plan): { table: RowChange["table"]; row: Row }[] => [
  { table: "course", row: plan.course as Row },
  ...tableNames.flatMap((table) => Object.values(plan[table] as Record<string, Row>).map((row) => ({ table, row }))),
];

/** The difference that leads back. */
export const invert = (changes: RowChange[]): RowChange[] =>
  changes.map(({ table, id, before, after }) => ({ table, id, before: after, after: before }));

export type Undone = { plan: Plan; changes: RowChange[] } | { dependents: string[] };

/**
 * The plan as it was before the changes, or what has come to depend on them: rows that changed again, and rows
 * that name what the intake brought.
 */
export function undoChanges(plan: Plan, changes: RowChange[]): Undone {
  const dependents = new Set<string>();
  for (const { table, id, after } of changes) {
    const current = table === "course" ? (plan.course as Row) : ((plan[table] as Record<string, Row>)[id] ?? null);
    if (!same(current, after)) dependents.add(`${nameOf(plan, table, after ?? current)} has changed since`);
  }
  const born = new Set(changes.filter(({ before }) => before === null).map(({ id, table }) => `${table}/${id}`));
  if (born.size > 0)
    for (const { table, row } of rowsOf(plan)) {
      if (born.has(`${table}/${row.id}`)) continue;
      const named = referencesOf(table, row).find((one) => born.has(`${one.table}/${one.id}`));
      if (!named) continue;
      const brought = (plan[named.table] as Record<string, unknown>)[named.id] as Row;
      dependents.add(`${nameOf(plan, table, row)} names ${nameOf(plan, named.table, brought)}`);
    }
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
      return `The record of ${fullName(row as unknown as { givenName: string; familyName: string })}`;
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
