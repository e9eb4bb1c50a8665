import * as api from "../../../../../api/staff.ts";
import { studentNotes } from "../../../../../server/course/staff-notes.ts";
import { answering } from "../../../../../server/http/answer.ts";

/** Notes of staff on one's students, a row a student. */
export const GET = answering(api.readStudentNotes, async ({ locals }) => ({
  students: await studentNotes(locals.access),
}));
