import * as api from "../../../../../../api/attempts.ts";
import { attemptRows } from "../../../../../../server/attempts/reading.ts";
import { actOn } from "../../../../../../server/attempts/staff.ts";
import { markingRefused } from "../../../../../../server/course/marking.ts";
import { answering } from "../../../../../../server/http/answer.ts";
import { notFound } from "../../../../../../server/http/guard.ts";

/** The attempts on an item of whoever is in one's scope. */
export const GET = answering(api.readAttempts, ({ params, locals }) => {
  const item = locals.access.plan.items[params.item ?? ""];
  return item ? attemptRows(locals.access, item) : notFound(true);
});

/** Gives attempts more time, ends them, opens them again, or makes them as if they had not been. */
export const POST = answering(api.actOnAttempts, async ({ params, body, locals }) => {
  const item = locals.access.plan.items[params.item ?? ""];
  if (!item) return notFound(true);
  const refused = markingRefused(locals.access);
  if (refused) return refused;
  return { done: await actOn({ access: locals.access, item, by: locals.account.id }, body.attemptIds, body.act) };
});
