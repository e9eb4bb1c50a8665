import * as api from "../../../../../../api/attempts.ts";
import { anew } from "../../../../../../server/attempts/staff.ts";
import { markingRefused } from "../../../../../../server/course/marking.ts";
import { answering } from "../../../../../../server/http/answer.ts";
import { notFound } from "../../../../../../server/http/guard.ts";

/** Marks attempts that ended by what is called right now, or tells what would change. */
export const POST = answering(api.markAnew, ({ params, body, locals }) => {
  const item = locals.access.plan.items[params.item ?? ""];
  if (!item) return notFound(true);
  const refused = markingRefused(locals.access);
  if (refused) return refused;
  return anew({ access: locals.access, item, by: locals.account.id }, body.keep);
});
