import type { APIRoute } from "astro";
import { now } from "../../../../../server/clock.ts";
import { pull } from "../../../../../server/feeds.ts";
import { json, problem } from "../../../../../server/problem.ts";

/** Pulls the registrar's roster now. */
export const POST: APIRoute = async ({ locals }) => {
  const pulled = await pull(locals.seat.courseId, now());
  return pulled.state === "failed" ? problem(502, "Nothing was pulled", pulled.says) : json(pulled);
};
