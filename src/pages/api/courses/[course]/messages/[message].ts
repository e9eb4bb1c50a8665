import type { APIRoute } from "astro";
import { notFound } from "../../../../../server/guard.ts";
import { sentMessages, tryAgain } from "../../../../../server/messages.ts";
import { json } from "../../../../../server/problem.ts";

/** Tries letters again that the post office refused. */
export const POST: APIRoute = async ({ params, locals }) => {
  const { courseId, scope } = locals.seat;
  const mine = await sentMessages(courseId, scope === null ? null : locals.account.id);
  if (!mine.some(({ id }) => id === params.message)) return notFound(true);
  return json({ waiting: await tryAgain(courseId, params.message ?? "") });
};
