import type { APIRoute } from "astro";
import { z } from "zod";
import { Id } from "../../../../core/plan/types.ts";
import { readBody } from "../../../../server/body.ts";
import { notFound } from "../../../../server/guard.ts";
import { json } from "../../../../server/problem.ts";
import { addStaffNote, endStaffNote, mayNote, NoteAbout, staffNotes } from "../../../../server/staff-notes.ts";

/** Notes of staff on one item, group or person. */
export const GET: APIRoute = async ({ url, locals }) => {
  const about = NoteAbout.safeParse(Object.fromEntries(url.searchParams));
  if (!about.success || !mayNote(locals.seat, about.data)) return notFound(true);
  return json({ notes: await staffNotes(locals.seat, about.data) });
};

const Body = z.union([
  z.object({ about: NoteAbout, body: z.string().trim().min(1, "a text").max(5000) }),
  z.object({ about: NoteAbout, end: Id }),
]);

/** Leaves a note, or takes one's own away. */
export const POST: APIRoute = async ({ request, locals }) => {
  const body = await readBody(request, Body);
  if (body instanceof Response) return body;
  const { seat } = locals;
  if (!mayNote(seat, body.about)) return notFound(true);
  if ("end" in body) {
    if (!(await endStaffNote(seat, body.end))) return notFound(true);
  } else await addStaffNote(seat, body.about, body.body);
  return json({ notes: await staffNotes(seat, body.about) });
};
