/**
 * Attempts end: by whoever hands in, by the clock, or by staff. What was saved by then is handed in, once, and counts in the
 * column. Source: semantics.md section 7, attempts.
 */
import type { PoolConnection } from "mysql2/promise";
import { v7 } from "uuid";
import { endBy, isOver, laterEnd, limitsOf } from "../../core/attempts/clock.ts";
import { columnMark, pointsOf, scoreOf } from "../../core/attempts/marking.ts";
import type { Item, Plan } from "../../core/plan/types.ts";
import { membersThen } from "../../core/reach/group-work.ts";
import { now } from "../clock.ts";
import { log } from "../log.ts";
import { course } from "../store/courses.ts";
import { rows, run, transaction } from "../store/database.ts";
import { touched } from "../store/progress.ts";
import { type Attempt, answered, answersOf, attemptsOf, type Ending, lockAttempt, overdue, setEnd } from "./rows.ts";

/** When an attempt ends, by the limits of now; its item may be gone from the plan, which lengthens nothing. */
export function endNow(plan: Plan, attempt: Attempt, t: number): number | null {
  const item = plan.items[attempt.itemId];
  if (!item) return attempt.endsAt ?? t;
  const { holderId, isGroup, begunAt, extraMinutes } = attempt;
  const persons = isGroup ? membersThen(plan, holderId, t) : [holderId];
  return laterEnd(attempt.endsAt, endBy(begunAt, limitsOf(plan, item, persons, t), extraMinutes));
}

/**
 * An attempt as the clock has it at t: locked, its end by the limits of now noted, and ended where its time is over.
 * Null where there is none.
 */
export async function onTime(
  plan: Plan,
  courseId: string,
  attemptId: string,
  connection: PoolConnection,
  t: number,
): Promise<Attempt | null> {
  const found = await lockAttempt(courseId, attemptId, connection);
  if (!found || found.endedAt !== null) return found;
  const endsAt = endNow(plan, found, t);
  if (endsAt !== found.endsAt) await setEnd(found.id, endsAt, connection);
  const attempt = { ...found, endsAt };
  return isOver(endsAt, t) ? end(plan, attempt, "time", endsAt as number, connection) : attempt;
}

/** Ends an attempt that runs and is locked: hands in what was saved, marks what needs nobody, and sets the column's mark. */
export async function end(
  plan: Plan,
  attempt: Attempt,
  how: Exclude<Ending, "void">,
  at: number,
  connection: PoolConnection,
): Promise<Attempt> {
  const { id, courseId, itemId, begunBy } = attempt;
  const item = plan.items[itemId];
  const saved = await answersOf([id], connection);
  const points = pointsOf(scoreOf(attempt.paper, answered(saved)), item?.points ?? null);
  const handInId = attempt.handInId ?? v7();
  await run(
    `INSERT INTO hand_ins (id, course_id, item_id, person_id, at, body) VALUES (?, ?, ?, ?, ?, '')
     ON DUPLICATE KEY UPDATE at = VALUES(at)`,
    [handInId, courseId, itemId, begunBy, at],
    connection,
  );
  await run(
    "UPDATE attempts SET ended_at = ?, ended_how = ?, points = ?, hand_in_id = ? WHERE id = ?",
    [at, how, points, handInId, id],
    connection,
  );
  if (item) await setColumnMark(item, attempt, connection);
  await run(touched, [courseId], connection);
  return { ...attempt, endedAt: at, endedHow: how, points, handInId };
}

/**
 * Sets the mark of the column by the attempts that stand. One that a person gave stays as it is; one that attempts led to
 * goes where they lead to none any more.
 */
export async function setColumnMark(
  item: Item,
  { courseId, holderId, isGroup }: Pick<Attempt, "courseId" | "holderId" | "isGroup">,
  connection: PoolConnection,
): Promise<void> {
  if (item.points === null) return;
  const all = await attemptsOf(courseId, item.id, [holderId], connection);
  const counted = all.filter(({ endedAt, endedHow }) => endedAt !== null && endedHow !== "void");
  const mark = columnMark(
    counted.map(({ points }) => points),
    item.quiz?.counts ?? "best",
  );
  const [table, column] = isGroup ? ["group_marks", "group_id"] : ["marks", "person_id"];
  const key = [courseId, item.id, holderId];
  const where = `course_id = ? AND item_id = ? AND ${column} = ?`;
  const [given] = await rows<{ markedBy: string | null }>(
    `SELECT marked_by AS markedBy FROM ${table} WHERE ${where} FOR UPDATE`,
    key,
    connection,
  );
  if (given && given.markedBy !== null) return;
  if (mark === null) {
    await run(`DELETE FROM ${table} WHERE ${where}`, key, connection);
    return;
  }
  await run(
    `INSERT INTO ${table} (course_id, item_id, ${column}, points, excused, at, marked_by) VALUES (?, ?, ?, ?, FALSE, ?, NULL)
     ON DUPLICATE KEY UPDATE at = IF(points <=> VALUES(points), at, VALUES(at)), points = VALUES(points)`,
    [...key, mark, now()],
    connection,
  );
}

/** Ends what the clock has ended. Several processes may ask at once: each attempt is locked, and ended by one of them. */
export async function endOverdue(at: number): Promise<void> {
  for (const { id, courseId } of await overdue(at)) {
    const stored = await course(courseId);
    if (!stored) continue;
    // One that cannot be ended holds back none of the others.
    await transaction((connection) => onTime(stored.plan, courseId, id, connection, at)).catch((error) =>
      log.error({ error: String(error), attempt: id }, "an attempt was not ended"),
    );
  }
}

// What was looked at last, of courses in which attempts run. Another process looks by itself: it is done twice, to one end.
const looked = new Map<string, number>();

/**
 * Where a plan changed, attempts that run and have more time now have it at once, whatever becomes of the limit later.
 * Nobody need ask for it, so that a page that is away gets it too.
 */
export async function lengthenChanged(at: number): Promise<void> {
  const running = await rows<{ courseId: string; revision: number; id: string }>(
    `SELECT a.course_id AS courseId, c.revision, a.id FROM attempts a JOIN courses c ON c.id = a.course_id
     WHERE a.ended_at IS NULL`,
  );
  const changed = running.filter(({ courseId, revision }) => looked.get(courseId) !== revision);
  for (const { courseId, id } of changed) {
    const stored = await course(courseId);
    if (stored) await transaction((connection) => onTime(stored.plan, courseId, id, connection, at));
  }
  looked.clear();
  for (const { courseId, revision } of running) looked.set(courseId, revision);
}
