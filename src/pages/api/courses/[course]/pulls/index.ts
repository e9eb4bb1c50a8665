import * as api from "../../../../../api/intake.ts";
import { now } from "../../../../../server/clock.ts";
import { answering } from "../../../../../server/http/answer.ts";
import { problem } from "../../../../../server/http/problem.ts";
import { inThread } from "../../../../../server/threads/pool.ts";

/** Pulls the registrar's roster now. */
export const POST = answering(api.pullRoster, async ({ locals }) => {
  const pulled = await inThread("pull", [locals.access.courseId, now()]);
  return pulled.state === "failed" ? problem(502, "Nothing was pulled", pulled.says) : pulled;
});
