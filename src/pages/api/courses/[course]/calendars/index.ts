import type { APIRoute } from "astro";
import { z } from "zod";
import { Id } from "../../../../../core/plan/types.ts";
import {
  addressesOf,
  calendarAnswer,
  calendarFile,
  makeAddress,
  type Whose,
} from "../../../../../server/course/calendars.ts";
import { originOf } from "../../../../../server/http/address.ts";
import { readBody } from "../../../../../server/http/body.ts";
import { notFound } from "../../../../../server/http/guard.ts";
import { json } from "../../../../../server/http/problem.ts";

const Body = z.discriminatedUnion("kind", [
  z.object({ kind: z.enum(["student", "group"]), id: Id }),
  z.object({ kind: z.literal("staff") }),
]);

/** The addresses of the course; with `of`, a calendar as a file: `staff`, `group/ID` or `student/ID`. */
export const GET: APIRoute = async ({ request, url, locals }) => {
  const { courseId, plan } = locals.access;
  const of = url.searchParams.get("of");
  if (of === null) return json(await addressesOf(courseId, plan, locals.account.id, false));
  const [kind, id] = of.split("/");
  const whose = Body.safeParse({ kind, id });
  const file = whose.success ? await calendarFile(courseId, whose.data, originOf(request)) : null;
  return file === null ? notFound(true) : calendarAnswer(file, `${plan.course.code} dates`);
};

export const POST: APIRoute = async ({ request, locals }) => {
  const { courseId, plan } = locals.access;
  const whose = await readBody(request, Body);
  if (whose instanceof Response) return whose;
  if (!exists(whose)) return notFound(true);
  const address = await makeAddress(courseId, locals.account.id, whose);
  return json({ address }, { status: 201 });

  function exists(one: Whose): boolean {
    return one.kind === "staff" || Boolean((one.kind === "group" ? plan.groups : plan.people)[one.id]);
  }
};
