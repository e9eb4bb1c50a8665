import type { APIRoute } from "astro";
import { progressWithin } from "../../../../core/access/scope.ts";
import { now } from "../../../../server/clock.ts";
import { tagged } from "../../../../server/http/problem.ts";
import { courseProgress } from "../../../../server/store/progress.ts";

export const GET: APIRoute = async ({ request, locals }) => {
  const { courseId, revision: planned, plan, whole, scope, membership } = locals.access;
  const { revision, progress } = await courseProgress(courseId);
  const tag = scope
    ? `progress-${revision}-${planned}-${membership.personId}-${Math.floor(now() / 60_000)}`
    : `progress-${revision}`;
  return tagged(request, tag, () => (scope ? progressWithin(whole, progress, plan, scope) : progress));
};
