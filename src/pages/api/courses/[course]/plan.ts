import type { APIRoute } from "astro";
import { now } from "../../../../server/clock.ts";
import { json, problem, tagged } from "../../../../server/http/problem.ts";
import { changesBetween, planAsOf } from "../../../../server/store/journal.ts";

/**
 * The published plan, once a revision: all of it for the coordinator, for others on the staff what is within their scope.
 * `after`, a revision, asks the coordinator's way for what changed since, which is told where it is not too much.
 * `at`, epoch milliseconds, asks for the plan as it was published then; the coordinator alone may.
 */
export const GET: APIRoute = async ({ request, url, locals }) => {
  const { courseId, revision, plan, scope, membership } = locals.access;
  const at = url.searchParams.get("at");
  if (at !== null && scope === null) {
    const moment = Number(at);
    if (!Number.isSafeInteger(moment)) return problem(400, "No moment", "The moment is to be epoch milliseconds.");
    const then = await planAsOf(courseId, locals.access, moment);
    return json({ ...then, scope: null });
  }
  const after = Number(url.searchParams.get("after") ?? Number.NaN);
  if (Number.isSafeInteger(after) && scope === null) {
    const changes = await changesBetween(courseId, after, revision);
    if (changes) return json({ revision, changes });
  }
  const given = scope && {
    own: [...scope.own].filter((id) => plan.groups[id]),
    sectionIds: [...scope.sectionIds],
    groupIds: [...scope.groupIds],
    personId: membership.personId,
    may: plan.course.staffMay[membership.personId] ?? [],
  };
  const tag = scope ? `plan-${revision}-${membership.personId}-${Math.floor(now() / 60_000)}` : `plan-${revision}`;
  return tagged(request, tag, () => ({ revision, plan, scope: given }));
};
