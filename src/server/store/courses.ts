/** The published plan of a course, kept in memory as long as the revision in the database is the same. */
import type { PoolConnection } from "mysql2/promise";
import { difference } from "../../core/plan/difference.ts";
import { wholePlan } from "../../core/plan/tables.ts";
import type { Course, Plan } from "../../core/plan/types.ts";
import { compressJson } from "./compressed-json.ts";
import { rows, run, transaction } from "./database.ts";
import { type Entry, keepRevision, writeJournal } from "./journal.ts";
import { readPlan, type StoredPlan, writeDifference } from "./plan-rows.ts";

// A copy of what the database holds, checked against its revision at every use: a second process misses nothing.
const copies = new Map<string, StoredPlan>();
const keepAtMost = 20;

/** The published plan and its revision, or null. */
export async function course(courseId: string): Promise<StoredPlan | null> {
  const [found] = await rows<{ revision: number }>("SELECT revision FROM courses WHERE id = ?", [courseId]);
  if (!found) return null;
  const copy = copies.get(courseId);
  if (copy?.revision === found.revision) return copy;
  const stored = await transaction((connection) => readPlan(courseId, connection));
  if (stored) keep(courseId, stored);
  return stored;
}

/** After a step was committed: the plan it led to need not be read back. */
export const remember = (courseId: string, { revision, plan }: StoredPlan): void =>
  keep(courseId, { revision, plan: wholePlan(plan) });

function keep(courseId: string, stored: StoredPlan): void {
  copies.delete(courseId);
  copies.set(courseId, stored);
  for (const oldest of copies.keys()) {
    if (copies.size <= keepAtMost) break;
    copies.delete(oldest);
  }
}

/** Locks the course and gives its plan as it is at that moment. */
export async function lockCourse(courseId: string, connection: PoolConnection): Promise<StoredPlan | null> {
  const [found] = await rows<{ revision: number }>(
    "SELECT revision FROM courses WHERE id = ? FOR UPDATE",
    [courseId],
    connection,
  );
  if (!found) return null;
  const copy = copies.get(courseId);
  return copy?.revision === found.revision ? copy : readPlan(courseId, connection);
}

/**
 * Writes the step from one plan to the next under the lock, with what the journal says of it; returns the new revision.
 * `told` hears how many of the rows are written.
 */
export async function moveCourse(
  courseId: string,
  from: StoredPlan,
  to: Plan,
  entry: Entry,
  connection: PoolConnection,
  told?: (done: number, of: number) => void,
): Promise<number> {
  const changes = difference(from.plan, to);
  // While the database writes, the step is packed and the plan that will be read next is made whole.
  const [, packed] = await Promise.all([
    writeDifference(courseId, changes, connection, told),
    compressJson(changes).then((bytes) => {
      wholePlan(to);
      return bytes;
    }),
  ]);
  const revision = from.revision + 1;
  await run("UPDATE courses SET revision = ? WHERE id = ?", [revision, courseId], connection);
  await keepRevision(courseId, revision, entry.at, packed, connection);
  await writeJournal(courseId, revision, entry, connection);
  return revision;
}

/** A course that somebody is in, and as whom. */
export interface CourseOf {
  course: Pick<Course, "id" | "code" | "title" | "term">;
  role: string;
  personId: string;
}

/** Courses in which somebody has an open enrolment, with the strongest role. */
export async function coursesOf(sourcedId: string, t: number): Promise<CourseOf[]> {
  const found = await rows<CourseOf["course"] & Pick<CourseOf, "role" | "personId">>(
    `SELECT c.id, c.code, c.title, c.term, e.role, p.id AS personId FROM people p
     JOIN enrolments e ON e.person_id = p.id AND e.since <= ? AND (e.until IS NULL OR e.until > ?)
     JOIN courses c ON c.id = p.course_id WHERE p.sourced_id = ? ORDER BY c.code, c.title`,
    [t, t, sourcedId],
  );
  const strength = ["coordinator", "instructor", "support", "student", "visitor"];
  const best = new Map<string, (typeof found)[number]>();
  for (const row of found) {
    const other = best.get(row.id);
    if (!other || strength.indexOf(row.role) < strength.indexOf(other.role)) best.set(row.id, row);
  }
  return [...best.values()].map(({ role, personId, ...course }) => ({ course, role, personId }));
}
