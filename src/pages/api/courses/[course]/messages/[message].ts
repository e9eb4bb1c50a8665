import * as api from "../../../../../api/messages.ts";
import { sentMessages, tryAgain } from "../../../../../server/course/messages.ts";
import { answering } from "../../../../../server/http/answer.ts";
import { notFound } from "../../../../../server/http/guard.ts";

/** Tries mails again that were refused. */
export const POST = answering(api.retryMessage, async ({ params, locals }) => {
  const { courseId, scope } = locals.access;
  const mine = await sentMessages(courseId, scope === null ? null : locals.account.id);
  if (!mine.some(({ id }) => id === params.message)) return notFound(true);
  return { waiting: await tryAgain(courseId, params.message ?? "") };
});
