import * as api from "../../../../../api/staff.ts";
import { addStaffNote, endStaffNote, mayNote, staffNotes } from "../../../../../server/course/staff-notes.ts";
import { answering } from "../../../../../server/http/answer.ts";
import { notFound } from "../../../../../server/http/guard.ts";

/** Notes of staff on one item, group or person. */
export const GET = answering(api.readStaffNotes, async ({ query, locals }) => {
  if (!mayNote(locals.access, query)) return notFound(true);
  return { notes: await staffNotes(locals.access, query) };
});

/** Leaves a note, or takes one's own away. */
export const POST = answering(api.writeStaffNote, async ({ body, locals }) => {
  const { access } = locals;
  if (!mayNote(access, body.about)) return notFound(true);
  if ("end" in body) {
    if (!(await endStaffNote(access, body.end))) return notFound(true);
  } else await addStaffNote(access, body.about, body.body);
  return { notes: await staffNotes(access, body.about) };
});
