import * as api from "../../../../api/course.ts";
import { readPlanFile } from "../../../../core/rolling/portable.ts";
import { makeCourse } from "../../../../server/course/rolling.ts";
import { answering } from "../../../../server/http/answer.ts";
import { problem } from "../../../../server/http/problem.ts";

/** Makes a new course out of this one's plan or out of a file, with the asker as its coordinator. */
export const POST = answering(api.rollOver, async ({ body, locals }) => {
  const { courseId, plan, membership } = locals.access;
  const { file, ...term } = body;
  if (term.termEnd <= term.termStart)
    return problem(400, "No course was made", "The term ends before it begins. Choose a later end.");
  const read = file === undefined ? { plan } : readPlanFile(file);
  if ("wrong" in read) return problem(400, "No course was made", read.wrong);
  const person = plan.people[membership.personId];
  if (!person) return problem(409, "No course was made", "You are no longer in this course.");
  return await makeCourse(courseId, read.plan, term, person, locals.account.id);
});
