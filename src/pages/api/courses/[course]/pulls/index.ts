import * as api from "../../../../../api/intake.ts";
import { now } from "../../../../../server/clock.ts";
import { answering } from "../../../../../server/http/answer.ts";
import { problem } from "../../../../../server/http/problem.ts";
import { pull } from "../../../../../server/intake/feeds.ts";

/** Pulls the registrar's roster now. */
export const POST = answering(api.pullRoster, async ({ locals }) => {
  const pulled = await pull(locals.access.courseId, now());
  return pulled.state === "failed" ? problem(502, "Nothing was pulled", pulled.says) : pulled;
});
