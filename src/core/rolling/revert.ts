/**
 * A published change reverted as a new draft: the rows that it changed lead back, as far as nothing has come to depend
 * on them. History stays: whoever was placed leaves from now on, whoever left is placed anew. Source: semantics.md
 * sections 3 and 8.
 */
import { z } from "zod";
import { nameOf, rowsOf } from "../intake/undo.ts";
import { type Context, defineCommand, derivedId, refuse } from "../plan/command.ts";
import { applyDifference, type Row as PlanRow, type RowChange, same } from "../plan/difference.ts";
import { referencesOf } from "../plan/references.ts";
import { rowSchemas } from "../plan/rows.ts";
import { Id, type Plan, tableNames } from "../plan/types.ts";

const rowOf = (plan: Plan, table: RowChange["table"], id: string): PlanRow | null =>
  table === "course" ? (plan.course as PlanRow) : ((plan[table] as Record<string, PlanRow>)[id] ?? null);

export interface Revertible {
  /** The part of the change that can be led back, as it was. */
  changes: RowChange[];
  /** What stays as it is, each in a sentence. */
  staying: string[];
}

/** What of a published change can be led back in the plan as it is now. */
export function revertible(plan: Plan, changes: RowChange[]): Revertible {
  const staying = new Set<string>();
  let left = changes.filter(({ table, id, after }) => {
    const current = rowOf(plan, table, id);
    if (same(current, after)) return true;
    staying.add(`${nameOf(plan, table, after ?? current)} has changed since, and stays.`);
    return false;
  });
  const everyRow = rowsOf(plan).map(({ table, row }) => ({ table, row, names: referencesOf(table, row) }));
  const key = ({ table, id }: { table: string; id: string }) => `${table}/${id}`;
  for (;;) {
    // Rows that would go, and rows that would come back: neither may leave a name that nothing answers to.
    const going = new Map(left.filter(({ after, before }) => after && !before).map((one) => [key(one), one]));
    const coming = new Set(left.filter(({ after, before }) => before && !after).map(key));
    const changing = new Map(left.map((one) => [key(one), one.before]));
    const held = new Set<string>();
    for (const { table, row, names } of everyRow) {
      // A row that goes names nothing then; one that is led back names what it named before.
      const before = changing.get(key({ table, id: row.id }));
      const then = before === undefined ? names : before === null ? [] : referencesOf(table, before);
      const named = then.find((one) => going.has(key(one)));
      const change = named && going.get(key(named));
      if (!change) continue;
      held.add(key(change));
      staying.add(
        `${nameOf(plan, change.table, change.after)} stays: ${lower(nameOf(plan, table, row))} names it by now.`,
      );
    }
    for (const change of left) {
      const { table, before } = change;
      if (!before) continue;
      const gone = referencesOf(table, before).find((one) => !(one.id in plan[one.table]) && !coming.has(key(one)));
      if (gone === undefined) continue;
      held.add(key(change));
      staying.add(`${nameOf(plan, table, before)} cannot come back: what it names is no longer there.`);
    }
    if (held.size === 0) return { changes: left, staying: [...staying] };
    left = left.filter((one) => !held.has(key(one)));
  }
}
const lower = (text: string) => text.charAt(0).toLowerCase() + text.slice(1);

/** The way back of one row from `now` on. */
function backOf({ table, id, before, after }: RowChange, commandId: string, now: number): RowChange[] {
  if (table !== "placements" && table !== "enrolments") return [{ table, id, before: after, after: before }];
  // Somebody was there: that stays true until now.
  if (after && !before) {
    if (Number(after.since) >= now) return [{ table, id, before: after, after: null }];
    return after.until === null ? [{ table, id, before: after, after: { ...after, until: now } }] : [];
  }
  if (before && before.until === null && (!after || (after.until !== null && Number(after.until) <= now))) {
    const again = { ...before, id: derivedId(commandId, id), since: now };
    return [{ table, id: again.id, before: null, after: again }];
  }
  return [{ table, id, before: after, after: before }];
}

const Row = z.looseObject({ id: Id });
/** What comes back is a row as any other: nothing else gets into a plan by this way. */
const Change = z
  .object({ table: z.enum(["course", ...tableNames]), id: Id, before: Row.nullable(), after: Row.nullable() })
  .refine(
    ({ table, id, before }) => before === null || (before.id === id && rowSchemas[table].safeParse(before).success),
    "a row of its table, as it was",
  );

export const revertCommands = [
  defineCommand(
    "revertPublication",
    {
      /** What is reverted, as the journal says it. */
      says: z.string().max(500),
      changes: z.array(Change).min(1).max(100_000),
    },
    {
      apply(plan, command, { now }: Context) {
        const changes = command.changes as RowChange[];
        const { changes: left, staying } = revertible(plan, changes);
        if (left.length < changes.length)
          return refuse("revert.depends", `It can no longer be reverted whole. ${staying[0] ?? ""}`.trim());
        return applyDifference(
          plan,
          left.flatMap((change) => backOf(change, command.id, now)),
        );
      },
      describe: (_plan, { says }) => `Revert: ${says}`,
    },
  ),
];

/** The plan as it was before a list of changes, the latest first. */
export const planBefore = (plan: Plan, latestFirst: RowChange[][]): Plan =>
  latestFirst.reduce(
    (later, changes) =>
      applyDifference(
        later,
        changes.map(({ table, id, before, after }) => ({ table, id, before: after, after: before })),
      ),
    plan,
  );
