import * as api from "../../../../../api/staff.ts";
import { coordinatorsAt } from "../../../../../core/access/staff.ts";
import { blankMessage } from "../../../../../core/messages/message.ts";
import { askingSubject } from "../../../../../core/messages/to-staff.ts";
import { now } from "../../../../../server/clock.ts";
import { sendMessage } from "../../../../../server/course/messages.ts";
import { answering } from "../../../../../server/http/answer.ts";
import { notFound } from "../../../../../server/http/guard.ts";

/** Asks the coordinators for sections or groups; whoever has students writes to them as to anybody. */
export const POST = answering(api.askForStudents, async ({ body: { id, text }, locals }) => {
  const { scope, whole } = locals.access;
  if (scope === null || scope.personIds.size > 0) return notFound(true);
  const at = now();
  const to = coordinatorsAt(whole, at).map((one) => ({ kind: "person" as const, id: one.id }));
  const body =
    text || "I was given nobody in this course yet. Please give me the sections or groups that I am here for.";
  await sendMessage(
    whole,
    locals.account.id,
    { ...blankMessage, id, subject: askingSubject, body, to },
    at,
    "to staff",
  );
  return { at };
});
