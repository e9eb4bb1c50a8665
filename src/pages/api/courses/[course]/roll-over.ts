import type { APIRoute } from "astro";
import { z } from "zod";
import { readPlanFile } from "../../../../core/rolling/portable.ts";
import { NewTerm } from "../../../../core/rolling/roll-over.ts";
import { makeCourse } from "../../../../server/course/rolling.ts";
import { readBody } from "../../../../server/http/body.ts";
import { json, problem } from "../../../../server/http/problem.ts";

/** `file`: the text of a plan that was saved; without it the course itself is rolled over. */
const Body = NewTerm.extend({ id: z.uuid(), file: z.string().max(100_000_000).optional() });

/** Makes a new course out of this one's plan or out of a file, with the asker as its coordinator. */
export const POST: APIRoute = async ({ request, locals }) => {
  const body = await readBody(request, Body);
  if (body instanceof Response) return body;
  const { courseId, plan, membership } = locals.access;
  const { file, ...term } = body;
  if (term.termEnd <= term.termStart)
    return problem(400, "No course was made", "The term ends before it begins. Choose a later end.");
  const read = file === undefined ? { plan } : readPlanFile(file);
  if ("wrong" in read) return problem(400, "No course was made", read.wrong);
  const person = plan.people[membership.personId];
  if (!person) return problem(409, "No course was made", "You are no longer in this course.");
  return json(await makeCourse(courseId, read.plan, term, person, locals.account.id), { status: 201 });
};
