import type { APIRoute } from "astro";
import { openPull, settlePull } from "../../../../../server/feeds.ts";
import { notFound } from "../../../../../server/guard.ts";
import { json } from "../../../../../server/problem.ts";

export const GET: APIRoute = async ({ locals, params }) => {
  const roster = await openPull(locals.seat.courseId, params.pull ?? "");
  return roster ? json(roster) : notFound(true);
};

export const DELETE: APIRoute = async ({ locals, params }) =>
  (await settlePull(locals.seat.courseId, params.pull ?? "", "put away")) ? json({ putAway: true }) : notFound(true);
