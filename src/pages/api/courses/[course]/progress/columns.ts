import * as api from "../../../../../api/course.ts";
import { progressWithin } from "../../../../../core/access/scope.ts";
import { progressPieces } from "../../../../../core/plan/columns.ts";
import { compressPieces, keptPieces } from "../../../../../server/course/columns.ts";
import { answeredGzip, answering } from "../../../../../server/http/answer.ts";
import { courseProgress } from "../../../../../server/store/progress.ts";

export const GET = answering(api.readProgressInColumns, async ({ request, locals }) => {
  const { courseId, plan, whole, scope } = locals.access;
  const { revision, progress } = await courseProgress(courseId);
  const make = () =>
    compressPieces({}, progressPieces(scope ? progressWithin(whole, progress, plan, scope) : progress));
  const bytes = await (scope ? make() : keptPieces(`progress ${courseId} ${revision}`, make));
  return answeredGzip(api.readProgressInColumns, request, bytes);
});
