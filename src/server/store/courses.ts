/** The published plan of a course, kept in memory as long as the revision in the database is the same. */
import type { PoolConnection } from "mysql2/promise";
import { type Membership, strongestOf } from "../../core/access/roles.ts";
import { difference, type RowChange } from "../../core/plan/difference.ts";
import { wholePlan } from "../../core/plan/tables.ts";
import type { Course, Plan, Role } from "../../core/plan/types.ts";
import { compressJson } from "./compressed-json.ts";
import { copiesUpTo } from "./copies.ts";
import { insertMany, rows, run, transaction } from "./database.ts";
import { type Entry, keepRevision, writeJournal } from "./journal.ts";
import { onceAtATime } from "./once-at-a-time.ts";
import { readPlan, type StoredPlan, writeDifference } from "./plan-rows.ts";

// A copy of what the database holds, checked against its revision at every use: a second process misses nothing.
const copies = copiesUpTo<StoredPlan>(1_200_000, ({ plan }) => aboutRows(plan));
/**
 * Most rows are placements, of each person about one a layer: counting those takes longer than a small change does. A row takes
 * some 300 bytes; of 50,000 students there are about 1.1 million.
 */
function aboutRows({ people, layers, items }: Plan): number {
  const count = (table: object) => Object.keys(table).length;
  return count(people) * (2 + count(layers)) + count(items);
}
const reading = onceAtATime<StoredPlan | null>();

/** The published plan and its revision, or null. */
export async function course(courseId: string): Promise<StoredPlan | null> {
  const [found] = await rows<{ revision: number }>("SELECT revision FROM courses WHERE id = ?", [courseId]);
  if (!found) return null;
  const copy = copies.get(courseId);
  if (copy?.revision === found.revision) return copy;
  return reading(`${courseId}/${found.revision}`, async () => {
    const stored = await transaction((connection) => readPlan(courseId, connection));
    if (stored) copies.set(courseId, stored);
    return stored;
  });
}

interface InCourse {
  revision: number;
  code: string;
  title: string;
  membership: Membership | null;
}
/**
 * What somebody is in a course at t, by the registrar's id, read from their own rows: what `membershipOf` says of the plan,
 * without reading it. Null where there is no such course.
 */
export async function memberIn(courseId: string, sourcedId: string, t: number): Promise<InCourse | null> {
  const found = await rows<Omit<InCourse, "membership"> & { personId: string | null; role: Role | null }>(
    `SELECT c.revision, c.code, c.title, p.id AS personId, e.role FROM courses c
     LEFT JOIN people p ON p.course_id = c.id AND p.sourced_id = ?
     LEFT JOIN enrolments e ON e.person_id = p.id AND e.since <= ? AND (e.until IS NULL OR e.until > ?)
     WHERE c.id = ?`,
    [sourcedId, t, t, courseId],
  );
  const [first] = found;
  if (!first) return null;
  const { revision, code, title, personId } = first;
  const role = strongestOf(found.flatMap((row) => row.role ?? []));
  return { revision, code, title, membership: personId && role ? { personId, role } : null };
}

/** After a step was committed: the plan it led to need not be read back. */
export function remember(courseId: string, { revision, plan }: StoredPlan): void {
  copies.set(courseId, { revision, plan: wholePlan(plan) });
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
  await keepFormerPeople(courseId, changes, connection);
  const revision = from.revision + 1;
  await run("UPDATE courses SET revision = ? WHERE id = ?", [revision, courseId], connection);
  await keepRevision(courseId, revision, entry.at, packed, connection);
  await writeJournal(courseId, revision, entry, connection);
  return revision;
}

/** Notes who is in the plan no more, or under another id: the history of the course names them still. */
async function keepFormerPeople(courseId: string, changes: RowChange[], connection: PoolConnection): Promise<void> {
  const gone = changes.filter(
    ({ table, before, after }) => table === "people" && before && before.sourcedId !== after?.sourcedId,
  );
  const columns = ["course_id", "person_id", "sourced_id"];
  const values = gone.map(({ id, before }) => [courseId, id, String(before?.sourcedId)]);
  await insertMany("former_people", columns, values, connection, "ON DUPLICATE KEY UPDATE person_id = person_id");
  // What somebody was called stands nowhere longer than in the plan and its history.
  if (changes.some(({ table, before }) => table === "people" && before))
    await run("DELETE FROM course_columns WHERE course_id = ?", [courseId], connection);
}

/** A course that somebody is in, and as whom. */
export interface CourseOf {
  course: Pick<Course, "id" | "code" | "title" | "term" | "termStart" | "termEnd">;
  role: string;
  personId: string;
  /** Its coordinators can read it, and nobody else is in it. */
  isArchived: boolean;
}

/** Courses in which somebody has an open enrolment, with the strongest role. */
export async function coursesOf(sourcedId: string, t: number): Promise<CourseOf[]> {
  const found = await rows<CourseOf["course"] & Pick<CourseOf, "role" | "personId"> & { archived: number }>(
    `SELECT c.id, c.code, c.title, c.term, c.term_start AS termStart, c.term_end AS termEnd, e.role, p.id AS personId, c.archived_at IS NOT NULL AS archived FROM people p
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
  return [...best.values()].map(({ role, personId, archived, ...course }) => ({
    ...{ course, role, personId },
    isArchived: Boolean(archived),
  }));
}

/** Whether somebody is on the staff of any course. */
export async function isStaff(sourcedId: string, at: number): Promise<boolean> {
  const [found] = await rows(
    `SELECT 1 FROM people p JOIN enrolments e ON e.person_id = p.id
     WHERE p.sourced_id = ? AND e.role IN ('coordinator', 'instructor', 'support') AND e.since <= ?
       AND (e.until IS NULL OR e.until > ?) LIMIT 1`,
    [sourcedId, at, at],
  );
  return found !== undefined;
}
