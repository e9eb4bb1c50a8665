/**
 * What is kept how long, by term. First the words and files of students go, and what was written to them: marks, groups and the
 * history of the course stay. Later the course goes, whole. Nothing goes sooner than a week after its day was named.
 */
import type { PoolConnection } from "mysql2/promise";
import { dayOf } from "../../core/clock/local-time.ts";
import { noteEvent } from "../accounts/security-events.ts";
import { deletedPaper } from "../attempts/rows.ts";
import { rows, run, transaction } from "../store/database.ts";
import { deleteStored } from "../store/files.ts";
import { writeJournal } from "../store/journal.ts";
import { touched } from "../store/progress.ts";

/** Milliseconds between naming a day and the first thing that may go by it: a slip is seen and put right meanwhile. */
export const retentionGrace = 7 * 86_400_000;
/** What a student reads in the place of a post whose time is over. */
const gonePost = "Deleted: what was written here was kept until its day.";

interface Due {
  id: string;
  code: string;
  setBy: string | null;
}
/** Courses whose work, or which themselves, were kept until a day before this one. */
function dueCourses(until: "work_until" | "courses_until", day: string, at: number): Promise<Due[]> {
  const left = until === "work_until" ? "AND c.work_gone_at IS NULL" : "";
  return rows<Due>(
    `SELECT c.id, c.code, t.retention_set_by AS setBy FROM terms t JOIN courses c ON c.term = t.name
     WHERE t.${until} < ? AND t.retention_set_at <= ? ${left} ORDER BY c.code, c.id`,
    [day, at - retentionGrace],
  );
}

/** Deletes what was kept until a day that is over, a course at a time; gives of how many courses work went, and how many went. */
export async function keepToRetention(at: number): Promise<{ work: number; courses: number }> {
  const [own] = await rows<{ zone: string }>("SELECT time_zone AS zone FROM institution");
  const day = dayOf(at, own?.zone ?? "UTC");
  const courses = await dueCourses("courses_until", day, at);
  for (const one of courses) {
    await transaction((connection) => deleteCourse(one.id, connection));
    await noteEvent({ kind: "course deleted", accountId: one.setBy, what: one.code });
  }
  const work = await dueCourses("work_until", day, at);
  for (const one of work) await transaction((connection) => deleteWork(one, at, connection));
  return { work: work.length, courses: courses.length };
}

/** Courses that went because their day was over, the latest first. */
export const deletedCourses = (): Promise<{ code: string; at: number }[]> =>
  rows("SELECT what AS code, at FROM security_events WHERE kind = 'course deleted' ORDER BY at DESC, what LIMIT 50");

/** Files that students handed in or posted leave, and their bytes are counted to nobody any more. */
async function deleteFiles(courseId: string, connection: PoolConnection): Promise<void> {
  const theirs = `course_id = ? AND id IN (SELECT file_id FROM hand_ins WHERE course_id = ? AND file_id IS NOT NULL
    UNION SELECT file_id FROM posts WHERE course_id = ? AND file_id IS NOT NULL
    UNION SELECT file_id FROM attempt_answers WHERE course_id = ? AND file_id IS NOT NULL)`;
  const of = [courseId, courseId, courseId, courseId];
  const found = await rows<{ id: string; size: number; accountId: string }>(
    `SELECT id, size, stored_by AS accountId FROM files WHERE ${theirs}`,
    of,
    connection,
  );
  await deleteStored(
    found.map((file) => ({ ...file, courseId })),
    connection,
  );
}

/** What was written before, of posts and of entries on group pages: their rows name a course by another row alone. */
const versions = [
  "DELETE v FROM post_versions v JOIN posts p ON p.id = v.post_id WHERE p.course_id = ?",
  "DELETE v FROM group_entry_versions v JOIN group_entries e ON e.id = v.entry_id WHERE e.course_id = ?",
];

async function deleteWork({ id, setBy }: Due, at: number, connection: PoolConnection): Promise<void> {
  const lock = "SELECT id FROM courses WHERE id = ? AND work_gone_at IS NULL FOR UPDATE";
  if ((await rows(lock, [id], connection)).length === 0) return;
  await deleteFiles(id, connection);
  for (const sql of [
    ...versions,
    "UPDATE hand_ins SET body = '', link = NULL, file_id = NULL WHERE course_id = ?",
    `UPDATE posts SET body = '${gonePost}', is_html = FALSE, file_id = NULL WHERE course_id = ?`,
    "DELETE FROM attempt_answers WHERE course_id = ?",
    `UPDATE attempts SET paper = '${deletedPaper}', reason = '' WHERE course_id = ?`,
    "DELETE FROM group_entries WHERE course_id = ?",
    "DELETE FROM remarks WHERE course_id = ?",
    "DELETE FROM staff_notes WHERE course_id = ?",
    "DELETE FROM deliveries WHERE course_id = ?",
    "DELETE FROM messages WHERE course_id = ?",
    touched,
  ])
    await run(sql, [id], connection);
  await run("UPDATE courses SET work_gone_at = ? WHERE id = ?", [at, id], connection);
  if (setBy === null) return;
  const says = "The words and files of students were deleted: they were kept until their day";
  await writeJournal(id, 0, { accountId: setBy, at, kind: "sections", lines: [{ says }] }, connection);
}

/** Everything that any table holds of a course. */
async function deleteCourse(courseId: string, connection: PoolConnection): Promise<void> {
  if ((await rows("SELECT id FROM courses WHERE id = ? FOR UPDATE", [courseId], connection)).length === 0) return;
  const files = "SELECT stored_by, SUM(size) AS size FROM files WHERE course_id = ? GROUP BY stored_by";
  for (const { stored_by, size } of await rows<{ stored_by: string; size: number }>(files, [courseId], connection)) {
    const count = "UPDATE stored_bytes SET bytes = GREATEST(0, bytes - ?) WHERE holder = ?";
    await run(count, [Number(size), stored_by], connection);
  }
  const tables = await rows<{ name: string }>(
    `SELECT table_name AS name FROM information_schema.columns
     WHERE table_schema = DATABASE() AND column_name = 'course_id' ORDER BY table_name`,
    [],
    connection,
  );
  // All of it goes at once, so that in which order is nobody's concern.
  await run("SET foreign_key_checks = 0", [], connection);
  try {
    const parts = "DELETE b FROM file_parts b JOIN files f ON f.id = b.file_id WHERE f.course_id = ?";
    for (const sql of [...versions, parts]) await run(sql, [courseId], connection);
    for (const { name } of tables) await run(`DELETE FROM \`${name}\` WHERE course_id = ?`, [courseId], connection);
    await run("DELETE FROM section_moves WHERE other_id = ?", [courseId], connection);
    await run("DELETE FROM stored_bytes WHERE holder = ?", [courseId], connection);
    await run("DELETE FROM courses WHERE id = ?", [courseId], connection);
  } finally {
    await run("SET foreign_key_checks = 1", [], connection);
  }
}
