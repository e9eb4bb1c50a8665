import type { APIRoute } from "astro";
import { openPull, settlePull } from "../../../../../server/feeds.ts";
import { notFound } from "../../../../../server/guard.ts";
import { json } from "../../../../../server/problem.ts";

export const GET: APIRoute = async ({ locals, params }) => {
  const roster = await openPull(locals.seat.courseId, params.pull ?? "");
  return roster ? json(roster) : notFound(true);
};

/** Puts it away; again is the same as once. */
export const DELETE: APIRoute = async ({ locals, params }) => {
  const [courseId, pullId] = [locals.seat.courseId, params.pull ?? ""];
  if (!(await openPull(courseId, pullId))) return notFound(true);
  await settlePull(courseId, pullId, "put away");
  return json({ putAway: true });
};
