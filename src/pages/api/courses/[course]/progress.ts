import * as api from "../../../../api/course.ts";
import { progressWithin } from "../../../../core/access/scope.ts";
import { now } from "../../../../server/clock.ts";
import { answered, answering } from "../../../../server/http/answer.ts";
import { tagged } from "../../../../server/http/problem.ts";
import { courseProgress } from "../../../../server/store/progress.ts";

export const GET = answering(api.readProgress, async ({ request, locals }) => {
  const { courseId, revision: planned, plan, whole, scope, membership } = locals.access;
  const { revision, progress } = await courseProgress(courseId);
  const tag = scope
    ? `progress-${revision}-${planned}-${membership.personId}-${Math.floor(now() / 60_000)}`
    : `progress-${revision}`;
  const shown = () => answered(api.readProgress, scope ? progressWithin(whole, progress, plan, scope) : progress);
  return tagged(request, tag, shown, "no-store");
});
