import * as api from "../../../../../api/course.ts";
import { planPieces } from "../../../../../core/plan/columns.ts";
import { now } from "../../../../../server/clock.ts";
import { compressPieces, keptPieces } from "../../../../../server/course/columns.ts";
import { givenTo } from "../../../../../server/course/given.ts";
import { answeredGzip, answering } from "../../../../../server/http/answer.ts";

/** All of the plan is the same for every coordinator; within a scope it is made for whoever asks. */
export const GET = answering(api.readPlanInColumns, async ({ request, locals }) => {
  const { courseId, revision, plan, scope } = locals.access;
  const head = { revision, scope: givenTo(locals.access, now()), course: plan.course };
  const make = () => compressPieces(head, planPieces(plan));
  const bytes = await (scope ? make() : keptPieces(`plan ${courseId} ${revision}`, make));
  return answeredGzip(api.readPlanInColumns, request, bytes);
});
