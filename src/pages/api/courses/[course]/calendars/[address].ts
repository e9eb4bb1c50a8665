import type { APIRoute } from "astro";
import { addressesOf, withdrawAddress } from "../../../../../server/calendars.ts";
import { notFound } from "../../../../../server/guard.ts";
import { json } from "../../../../../server/problem.ts";

export const DELETE: APIRoute = async ({ params, locals }) => {
  const { courseId, plan } = locals.seat;
  if (!(await withdrawAddress(courseId, params.address ?? "", null))) return notFound(true);
  return json(await addressesOf(courseId, plan, locals.account.id, false));
};
