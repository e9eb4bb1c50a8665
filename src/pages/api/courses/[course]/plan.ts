import type { APIRoute } from "astro";
import { tagged } from "../../../../server/problem.ts";

/** The published plan, once a revision. */
export const GET: APIRoute = ({ request, locals }) => {
  const { revision, plan } = locals.seat;
  return tagged(request, `plan-${revision}`, () => ({ revision, plan }));
};
