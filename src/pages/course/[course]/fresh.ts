import type { APIRoute } from "astro";
import { momentsOf } from "../../../core/reach/changes.ts";
import { now } from "../../../server/clock.ts";
import { json } from "../../../server/http/problem.ts";

/**
 * By what an open page knows that it is no longer as things are: the revision of the course, and how many of the moments
 * have come at which the clock may open or close something for this student. `next` is the first that is still to come.
 */
export const GET: APIRoute = ({ locals }) => {
  const { plan, revision, membership } = locals.access;
  const t = now();
  const moments = momentsOf(plan, membership.personId);
  const past = moments.filter((at) => at <= t).length;
  return json({ tag: `${revision}/${past}`, next: moments[past] ?? null, now: t });
};
