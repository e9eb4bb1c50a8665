import type { APIRoute } from "astro";
import { notFound } from "../../../../../server/http/guard.ts";
import { json } from "../../../../../server/http/problem.ts";
import { openPull, settlePull } from "../../../../../server/intake/feeds.ts";

export const GET: APIRoute = async ({ locals, params }) => {
  const roster = await openPull(locals.access.courseId, params.pull ?? "");
  return roster ? json(roster) : notFound(true);
};

/** Puts it away; again is the same as once. */
export const DELETE: APIRoute = async ({ locals, params }) => {
  const [courseId, pullId] = [locals.access.courseId, params.pull ?? ""];
  if (!(await openPull(courseId, pullId))) return notFound(true);
  await settlePull(courseId, pullId, "put away");
  return json({ putAway: true });
};
