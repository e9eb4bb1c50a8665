import * as api from "../../../../../../api/attempts.ts";
import { questionRows } from "../../../../../../server/attempts/reading.ts";
import { answering } from "../../../../../../server/http/answer.ts";
import { notFound } from "../../../../../../server/http/guard.ts";

/** The questions of an item, and what attempts of whoever is in one's scope earned by them. */
export const GET = answering(api.readQuestions, ({ params, locals }) => {
  const item = locals.access.plan.items[params.item ?? ""];
  return item ? questionRows(locals.access, item) : notFound(true);
});
