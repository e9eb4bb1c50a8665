import * as api from "../../../../api/course.ts";
import { coordinatorsAt } from "../../../../core/access/staff.ts";
import { plainName } from "../../../../core/plan/lookup.ts";
import { now } from "../../../../server/clock.ts";
import { answered, answering } from "../../../../server/http/answer.ts";
import { tagged } from "../../../../server/http/problem.ts";
import { changesBetween, planAsOf } from "../../../../server/store/journal.ts";

/** Once a revision: who has it already is told so. What changed since, and the plan as it was, are the coordinator's to ask. */
export const GET = answering(api.readPlan, async ({ request, query: { after, at }, locals }) => {
  const { courseId, revision, plan, whole, scope, membership } = locals.access;
  if (at !== undefined && scope === null) return { ...(await planAsOf(courseId, locals.access, at)), scope: null };
  if (after !== undefined && scope === null) {
    const changes = await changesBetween(courseId, after, revision);
    if (changes) return { revision, changes };
  }
  const given = scope && {
    own: [...scope.own].filter((id) => plan.groups[id]),
    sectionIds: [...scope.sectionIds],
    groupIds: [...scope.groupIds],
    personId: membership.personId,
    may: plan.course.staffMay[membership.personId] ?? [],
    coordinators: coordinatorsAt(whole, now()).map(plainName),
  };
  const tag = scope ? `plan-${revision}-${membership.personId}-${Math.floor(now() / 60_000)}` : `plan-${revision}`;
  return tagged(request, tag, () => answered(api.readPlan, { revision, plan, scope: given }), "no-store");
});
