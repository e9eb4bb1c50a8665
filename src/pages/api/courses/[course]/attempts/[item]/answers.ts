import * as api from "../../../../../../api/attempts.ts";
import { answerRows } from "../../../../../../server/attempts/reading.ts";
import { giveToAnswers } from "../../../../../../server/attempts/staff.ts";
import { markingRefused } from "../../../../../../server/course/marking.ts";
import { answering } from "../../../../../../server/http/answer.ts";
import { notFound } from "../../../../../../server/http/guard.ts";

/** The answers of attempts that ended: of one student or group, or to one question. */
export const GET = answering(api.readAnswers, ({ params, query, locals }) => {
  const item = locals.access.plan.items[params.item ?? ""];
  return item ? answerRows(locals.access, item, query) : notFound(true);
});

/** Gives points to answers, or takes them back. */
export const POST = answering(api.markAnswers, async ({ params, body, locals }) => {
  const item = locals.access.plan.items[params.item ?? ""];
  if (!item) return notFound(true);
  const refused = markingRefused(locals.access);
  if (refused) return refused;
  return { stored: await giveToAnswers({ access: locals.access, item, by: locals.account.id }, body.marks) };
});
