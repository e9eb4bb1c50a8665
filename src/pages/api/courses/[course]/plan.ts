import * as api from "../../../../api/course.ts";
import { now } from "../../../../server/clock.ts";
import { givenTo } from "../../../../server/course/given.ts";
import { answered, answering } from "../../../../server/http/answer.ts";
import { tagged } from "../../../../server/http/problem.ts";
import { changesBetween, planAsOf } from "../../../../server/store/journal.ts";

/** Once a revision: who has it already is told so. What changed since, and the plan as it was, are the coordinator's to ask. */
export const GET = answering(api.readPlan, async ({ request, query: { after, at }, locals }) => {
  const { courseId, revision, plan, scope, membership } = locals.access;
  if (at !== undefined && scope === null) return { ...(await planAsOf(courseId, locals.access, at)), scope: null };
  if (after !== undefined && scope === null) {
    const changes = await changesBetween(courseId, after, revision);
    if (changes) return { revision, changes };
  }
  const tag = scope ? `plan-${revision}-${membership.personId}-${Math.floor(now() / 60_000)}` : `plan-${revision}`;
  const whole = () => answered(api.readPlan, { revision, plan, scope: givenTo(locals.access, now()) });
  return tagged(request, tag, whole, "no-store");
});
