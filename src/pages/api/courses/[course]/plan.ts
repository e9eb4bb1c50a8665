import type { APIRoute } from "astro";
import { now } from "../../../../server/clock.ts";
import { tagged } from "../../../../server/problem.ts";

/** The published plan, once a revision: all of it for the coordinator, for others on the staff what is within their scope. */
export const GET: APIRoute = ({ request, locals }) => {
  const { revision, plan, scope, membership } = locals.seat;
  const own = scope && [...scope.own].filter((id) => plan.groups[id]);
  const tag = scope ? `plan-${revision}-${membership.personId}-${Math.floor(now() / 60_000)}` : `plan-${revision}`;
  return tagged(request, tag, () => ({ revision, plan, scope: own }));
};
