/**
 * The difference between two plans, row by row. Publishing writes it, the review reads it.
 * Applying a difference to `before` gives `after` (tested as a property).
 */
import { changesSince, rowIn, sourceOf, withChanges, withCourse } from "./tables.ts";
import { type Plan, type TableName, tableNames } from "./types.ts";

export type Row = { id: string } & Record<string, unknown>;
export interface RowChange {
  table: TableName | "course";
  id: string;
  before: Row | null;
  after: Row | null;
}

/** Deep equality of JSON values; unset and absent are the same. */
export function same(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (typeof a !== "object" || typeof b !== "object" || a === null || b === null) return false;
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  const [left, right] = [a as Record<string, unknown>, b as Record<string, unknown>];
  const keys = new Set([...Object.keys(left), ...Object.keys(right)]);
  for (const key of keys) if (!same(left[key], right[key])) return false;
  return true;
}

/** Whether two lists hold the same values, each at its place. */
export const sameList = (a: readonly unknown[], b: readonly unknown[]): boolean =>
  a.length === b.length && a.every((one, at) => one === b[at]);

export function difference(before: Plan, after: Plan): RowChange[] {
  const changes: RowChange[] = [];
  if (!same(before.course, after.course)) {
    changes.push({
      table: "course",
      id: after.course.id,
      before: before.course as Row,
      after: after.course as Row,
    });
  }
  for (const table of tableNames) {
    if (sourceOf(before, table) === sourceOf(after, table)) continue;
    const since = changesSince(before, after, table);
    if (since) {
      for (const [id, row] of since) {
        const [was, is] = [rowIn(before, table, id) as Row | null, row as Row | null];
        if (was !== is && !(was && is && same(was, is))) changes.push({ table, id, before: was, after: is });
      }
      continue;
    }
    const old = before[table] as Record<string, Row>;
    const now = after[table] as Record<string, Row>;
    for (const id of Object.keys(now)) {
      const [was, is] = [old[id] ?? null, now[id] as Row];
      // Rows that a command did not touch are the same object, so this is a pointer comparison for most.
      if (was !== is && !same(was, is)) changes.push({ table, id, before: was, after: is });
    }
    for (const id of Object.keys(old)) {
      if (!(id in now)) changes.push({ table, id, before: old[id] as Row, after: null });
    }
  }
  return changes;
}

/** A row as a difference leaves it. */
export type RowAfter = Pick<RowChange, "table" | "id" | "after">;

/** The plan that a difference leads to. */
export function applyDifference(plan: Plan, changes: RowAfter[]): Plan {
  let next = plan;
  const rows = new Map<TableName, Map<string, Row | null>>();
  for (const { table, id, after } of changes) {
    if (table === "course") next = withCourse(next, after as unknown as Plan["course"]);
    else rows.set(table, (rows.get(table) ?? new Map<string, Row | null>()).set(id, after));
  }
  for (const [table, changed] of rows) next = withChanges(next, table, changed);
  return next;
}
