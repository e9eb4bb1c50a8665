import * as api from "../../../../../api/course.ts";
import { progressWithin } from "../../../../../core/access/scope.ts";
import { progressPieces } from "../../../../../core/plan/columns.ts";
import { compressPieces, keptPieces, wholeProgressPieces } from "../../../../../server/course/columns.ts";
import { answeredGzip, answering } from "../../../../../server/http/answer.ts";
import { courseProgress, progressRevision } from "../../../../../server/store/progress.ts";

export const GET = answering(api.readProgressInColumns, async ({ request, locals }) => {
  const { courseId, seesAll, access } = locals.member;
  const all = async () => wholeProgressPieces((await courseProgress(courseId)).progress);
  const theirs = async () => {
    const { plan, whole, scope } = await access();
    const { progress } = await courseProgress(courseId);
    return compressPieces({}, progressPieces(scope ? progressWithin(whole, progress, plan, scope) : progress));
  };
  const revision = await progressRevision(courseId);
  const bytes = await (seesAll ? keptPieces({ courseId, kind: "progress", revision }, all) : theirs());
  return answeredGzip(api.readProgressInColumns, request, bytes);
});
