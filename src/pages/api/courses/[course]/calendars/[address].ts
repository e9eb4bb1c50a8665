import type { APIRoute } from "astro";
import { addressesOf, withdrawAddress } from "../../../../../server/course/calendars.ts";
import { notFound } from "../../../../../server/http/guard.ts";
import { json } from "../../../../../server/http/problem.ts";

export const DELETE: APIRoute = async ({ params, locals }) => {
  const { courseId, plan } = locals.access;
  if (!(await withdrawAddress(courseId, params.address ?? "", null))) return notFound(true);
  return json(await addressesOf(courseId, plan, locals.account.id, false));
};
