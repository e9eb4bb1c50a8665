import type { APIRoute } from "astro";
import { sentMessages, tryAgain } from "../../../../../server/course/messages.ts";
import { notFound } from "../../../../../server/http/guard.ts";
import { json } from "../../../../../server/http/problem.ts";

/** Tries mails again that were refused. */
export const POST: APIRoute = async ({ params, locals }) => {
  const { courseId, scope } = locals.access;
  const mine = await sentMessages(courseId, scope === null ? null : locals.account.id);
  if (!mine.some(({ id }) => id === params.message)) return notFound(true);
  return json({ waiting: await tryAgain(courseId, params.message ?? "") });
};
