/** Undoing an applied intake whole, while nothing later depends on it. Source: semantics.md section 2. */
import { applyDifference, type Row, type RowChange, same } from "../plan/difference.ts";
import { fullName } from "../plan/lookup.ts";
import { type Audience, type Condition, type Plan, type Target, tableNames } from "../plan/types.ts";

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
  const born = new Map(changes.filter(({ before }) => before === null).map(({ id, table }) => [id, table]));
  if (born.size > 0) {
    for (const table of tableNames) {
      for (const row of Object.values(plan[table] as Record<string, Row>)) {
        if (born.has(row.id)) continue;
        const named = namedBy(row).find((id) => born.has(id));
        if (named === undefined) continue;
        const brought = (plan[born.get(named) as "people"] as Record<string, unknown>)[named] as Row;
        dependents.add(
          `${nameOf(plan, table, row)} names ${nameOf(plan, born.get(named) as RowChange["table"], brought)}`,
        );
      }
    }
  }
  if (dependents.size > 0) return { dependents: [...dependents] };
  const inverted = invert(changes);
  return { plan: applyDifference(plan, inverted), changes: inverted };
}

/** Every id that a row names. */
export function namedBy(row: Row): string[] {
  const ids: string[] = [];
  const targets = (list: Target[]) => ids.push(...list.map(({ id }) => id));
  const condition = (node: Condition | null): void => {
    if (!node) return;
    if ("of" in node) node.of.forEach(condition);
    else if (node.kind === "in") targets(node.targets);
  };
  for (const field of ["personId", "sectionId", "layerId", "groupId", "pageOf"])
    if (typeof row[field] === "string") ids.push(row[field]);
  if (row.target) targets([row.target as Target]);
  const audience = row.audience as Audience | undefined;
  if (audience) {
    if (audience.to !== "everyone") targets(audience.to);
    targets(audience.minus);
  }
  condition((row.condition as Condition | null | undefined) ?? null);
  for (const variant of (row.variants as { targets: Target[]; condition: Condition | null }[] | undefined) ?? []) {
    targets(variant.targets);
    condition(variant.condition);
  }
  const split = row.split as { layerId: string } | null | undefined;
  if (split) ids.push(split.layerId);
  for (const rule of (row.following as { sectionIds: string[]; groupId: string }[] | null | undefined) ?? [])
    ids.push(...rule.sectionIds, rule.groupId);
  ids.push(...((row.groupIds as string[] | undefined) ?? []));
  for (const set of (row.keepApart as string[][] | undefined) ?? []) ids.push(...set);
  return ids;
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
