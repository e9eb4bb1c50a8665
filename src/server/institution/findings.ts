/** What the audit finds in each course, counted for lists: asked anew where a course has changed, or after a while. */
import { auditOf, openFindings } from "../../core/reach/audit/audit.ts";
import { reachAt } from "../../core/reach/reach.ts";
import { storeAhead } from "../course/columns.ts";
import { course } from "../store/courses.ts";
import { rows, run } from "../store/database.ts";
import { courseProgress } from "../store/progress.ts";

export interface FindingCounts {
  leaks: number;
  stranded: number;
  /** All others that are left to put right in Reach. */
  others: number;
}

/** Moments pass and people work: what was found is asked anew after so long, in milliseconds. */
const renewedAfter = 6 * 3_600_000;
/** How long one round may take before others have the thread again, in milliseconds. */
const roundMs = 4000;
const atMost = 40;
/** People from which on a workbench would wait for its columns. */
const worthStoring = 1000;

/** Courses that changed since they were asked, or were asked long ago; those that are over or archived rest. */
const due = (at: number) =>
  rows<{ id: string }>(
    `SELECT c.id FROM courses c LEFT JOIN course_findings f ON f.course_id = c.id
     WHERE c.archived_at IS NULL AND c.term_end >= ? AND (f.course_id IS NULL OR f.revision <> c.revision OR f.at < ?)
     ORDER BY f.at LIMIT ${atMost}`,
    [new Date(at).toISOString().slice(0, 10), at - renewedAfter],
  );

/** Asks the courses that are due, as many as a round has time for; gives how many. */
export async function renewFindings(at: number): Promise<number> {
  const begun = Date.now();
  let done = 0;
  for (const { id } of await due(at)) {
    if (done > 0 && Date.now() - begun > roundMs) break;
    await renewOne(id, at);
    done++;
  }
  return done;
}

async function renewOne(courseId: string, at: number): Promise<void> {
  const stored = await course(courseId);
  if (!stored) return;
  const done = await courseProgress(courseId);
  if (Object.keys(stored.plan.people).length >= worthStoring) await storeAhead(courseId, stored, done);
  const reach = reachAt(stored.plan, done.progress, at);
  const open = openFindings(auditOf(reach).findings);
  const count = (kind: string) => open.filter((one) => one.kind === kind).length;
  const [leaks, stranded] = [count("leak"), count("stranded")];
  await run(
    `INSERT INTO course_findings (course_id, revision, at, students, leaks, stranded, others) VALUES (?, ?, ?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE revision = VALUES(revision), at = VALUES(at), students = VALUES(students), leaks = VALUES(leaks),
       stranded = VALUES(stranded), others = VALUES(others)`,
    [courseId, stored.revision, at, reach.students.length, leaks, stranded, open.length - leaks - stranded],
  );
}

const some = (count: number, one: string, many = `${one}s`): string[] =>
  count === 0 ? [] : [`${count} ${count === 1 ? one : many}`];
/** "2 leaks, 1 stranded"; nothing where nothing was found. */
export const sayFindings = ({ leaks, stranded, others }: FindingCounts): string =>
  [...some(leaks, "leak"), ...some(stranded, "stranded", "stranded"), ...some(others, "other finding")].join(", ");
