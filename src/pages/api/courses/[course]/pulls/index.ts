import type { APIRoute } from "astro";
import { now } from "../../../../../server/clock.ts";
import { json, problem } from "../../../../../server/http/problem.ts";
import { pull } from "../../../../../server/intake/feeds.ts";

/** Pulls the registrar's roster now. */
export const POST: APIRoute = async ({ locals }) => {
  const pulled = await pull(locals.access.courseId, now());
  return pulled.state === "failed" ? problem(502, "Nothing was pulled", pulled.says) : json(pulled);
};
