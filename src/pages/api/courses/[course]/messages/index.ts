import * as api from "../../../../../api/messages.ts";
import { recipientsOf } from "../../../../../core/messages/message.ts";
import { placeholderMistakes } from "../../../../../core/messages/placeholders.ts";
import { now } from "../../../../../server/clock.ts";
import { sendMessage, sentMessages } from "../../../../../server/course/messages.ts";
import { answering } from "../../../../../server/http/answer.ts";
import { problem } from "../../../../../server/http/problem.ts";

/** What was sent: by anybody for the coordinator, by themselves for others on the staff. */
export const GET = answering(api.readMessages, async ({ locals }) => {
  const { courseId, scope } = locals.access;
  return await sentMessages(courseId, scope === null ? null : locals.account.id);
});

/** Sends a message at once, to whoever of the sender's students and groups it names. */
export const POST = answering(api.sendMessage, async ({ body, locals }) => {
  const { plan } = locals.access;
  const [mistake] = [...placeholderMistakes(plan, body.subject), ...placeholderMistakes(plan, body.body)];
  if (mistake) return problem(400, "Not sent", `At character ${mistake.position + 1}: ${mistake.says}`);
  const at = now();
  if (recipientsOf(plan, body, at).length === 0)
    return problem(409, "Not sent", "Nobody would get it: those it names have left, or it names nobody.");
  return await sendMessage(plan, locals.account.id, body, at);
});
