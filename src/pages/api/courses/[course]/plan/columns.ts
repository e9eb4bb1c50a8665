import * as api from "../../../../../api/course.ts";
import { planPieces } from "../../../../../core/plan/columns.ts";
import { now } from "../../../../../server/clock.ts";
import { compressPieces, keptPieces, wholePlanPieces } from "../../../../../server/course/columns.ts";
import { givenTo } from "../../../../../server/course/given.ts";
import { answeredGzip, answering } from "../../../../../server/http/answer.ts";

/** All of the plan is the same for every coordinator; within a scope it is made for whoever asks. */
export const GET = answering(api.readPlanInColumns, async ({ request, locals }) => {
  const { member } = locals;
  const all = async () => wholePlanPieces(await member.access());
  const theirs = async () => {
    const access = await member.access();
    const head = { revision: access.revision, scope: givenTo(access, now()), course: access.plan.course };
    return compressPieces(head, planPieces(access.plan));
  };
  const { courseId, revision, seesAll } = member;
  const bytes = await (seesAll ? keptPieces({ courseId, kind: "plan", revision }, all) : theirs());
  return answeredGzip(api.readPlanInColumns, request, bytes);
});
