import type { APIRoute } from "astro";
import { z } from "zod";
import { Id } from "../../../../core/plan/types.ts";
import { addStaffNote, endStaffNote, mayNote, NoteAbout, staffNotes } from "../../../../server/course/staff-notes.ts";
import { readBody } from "../../../../server/http/body.ts";
import { notFound } from "../../../../server/http/guard.ts";
import { json } from "../../../../server/http/problem.ts";

/** Notes of staff on one item, group or person. */
export const GET: APIRoute = async ({ url, locals }) => {
  const about = NoteAbout.safeParse(Object.fromEntries(url.searchParams));
  if (!about.success || !mayNote(locals.access, about.data)) return notFound(true);
  return json({ notes: await staffNotes(locals.access, about.data) });
};

const Body = z.union([
  z.object({ about: NoteAbout, body: z.string().trim().min(1, "a text").max(5000) }),
  z.object({ about: NoteAbout, end: Id }),
]);

/** Leaves a note, or takes one's own away. */
export const POST: APIRoute = async ({ request, locals }) => {
  const body = await readBody(request, Body);
  if (body instanceof Response) return body;
  const { access } = locals;
  if (!mayNote(access, body.about)) return notFound(true);
  if ("end" in body) {
    if (!(await endStaffNote(access, body.end))) return notFound(true);
  } else await addStaffNote(access, body.about, body.body);
  return json({ notes: await staffNotes(access, body.about) });
};
