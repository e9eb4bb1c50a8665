/** Notes that staff leave one another on items, groups and people; no answer to a student ever holds one. Source: semantics.md section 9. */
import { v7 } from "uuid";
import type { NoteAbout, StaffNote } from "../../api/staff.ts";
import { sayInstant } from "../../core/clock/local-time.ts";
import { pronounsIn } from "../accounts/own.ts";
import { now } from "../clock.ts";
import type { CourseAccess } from "../http/guard.ts";
import { rows, run } from "../store/database.ts";
import { staffNameOf } from "./staff-threads.ts";

/**
 * Whether something is this member of staff's to write and read notes on: within a scope an item that they see, a
 * group that is theirs as a whole, a student of theirs.
 */
export function mayNote({ plan, scope }: CourseAccess, { kind, id }: NoteAbout): boolean {
  if (kind === "item") return plan.items[id] !== undefined;
  if (kind === "group") return plan.groups[id] !== undefined && (scope === null || scope.own.has(id));
  return scope === null ? plan.people[id] !== undefined : scope.personIds.has(id);
}

export async function staffNotes(access: CourseAccess, { kind, id }: NoteAbout): Promise<StaffNote[]> {
  const found = await rows<{ id: string; personId: string; at: number; body: string }>(
    `SELECT id, person_id AS personId, at, body FROM staff_notes
     WHERE course_id = ? AND about_kind = ? AND about_id = ? AND ended_at IS NULL ORDER BY at, id`,
    [access.courseId, kind, id],
  );
  const nameOf = staffNameOf(access, await pronounsIn(access.courseId));
  return found.map(({ personId, at, ...note }) => ({
    ...note,
    name: nameOf(personId),
    at: sayInstant(at, access.plan.course.timeZone),
    mine: personId === access.membership.personId,
  }));
}

export interface StudentNotes {
  personId: string;
  count: number;
  /** What the latest of them says. */
  latest: string;
}
/** Notes on the students that somebody may read notes on, a row a student. */
export async function studentNotes(access: CourseAccess): Promise<StudentNotes[]> {
  const found = await rows<StudentNotes>(
    `SELECT n.about_id AS personId, one.count, n.body AS latest FROM staff_notes n
       JOIN (SELECT MAX(id) AS id, COUNT(*) AS count FROM staff_notes
             WHERE course_id = ? AND about_kind = 'person' AND ended_at IS NULL GROUP BY about_id) one ON one.id = n.id`,
    [access.courseId],
  );
  return found.filter(({ personId }) => mayNote(access, { kind: "person", id: personId }));
}

export const addStaffNote = (access: CourseAccess, { kind, id }: NoteAbout, body: string): Promise<number> =>
  run(
    "INSERT INTO staff_notes (id, course_id, about_kind, about_id, person_id, at, body) VALUES (?, ?, ?, ?, ?, ?, ?)",
    [v7(), access.courseId, kind, id, access.membership.personId, now(), body],
  );

/** Takes away one's own; false where it is none. */
export const endStaffNote = async (access: CourseAccess, noteId: string): Promise<boolean> =>
  (await run(
    "UPDATE staff_notes SET ended_at = ? WHERE course_id = ? AND id = ? AND person_id = ? AND ended_at IS NULL",
    [now(), access.courseId, noteId, access.membership.personId],
  )) > 0;
