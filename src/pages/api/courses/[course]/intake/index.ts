import type { APIRoute } from "astro";
import * as api from "../../../../../api/intake.ts";
import { answered, answering } from "../../../../../server/http/answer.ts";
import { misreadAnswer } from "../../../../../server/http/body.ts";
import { problem } from "../../../../../server/http/problem.ts";
import { settlePull } from "../../../../../server/intake/feeds.ts";
import { pastIntakes, rememberedMatches, rememberMatch } from "../../../../../server/intake/intakes.ts";
import { inThread } from "../../../../../server/threads/pool.ts";

export const GET = answering(api.readIntakes, async ({ locals }) => {
  const { courseId } = locals.access;
  return { intakes: await pastIntakes(courseId), matches: await rememberedMatches(courseId) };
});

/** Read, judged and written in a worker thread: a roster of a hundred thousand rows takes it ten seconds. */
export const POST: APIRoute = async ({ request, locals }) => {
  const { courseId } = locals.access;
  const sent = new Uint8Array(await request.arrayBuffer());
  const done = await inThread("applyIntake", [courseId, locals.account.id, sent], { moves: [sent.buffer] });
  if ("misread" in done) return misreadAnswer(done);
  const { answer, asked } = done;
  if (!answer.applied) {
    return problem(
      409,
      "Changed underneath",
      "The course changed since these rows were looked at, so nothing was applied. Look at the verdicts again, then apply.",
      {
        code: "intake.changed",
      },
    );
  }
  if (asked.pullId) await settlePull(courseId, asked.pullId, "applied");
  for (const { header, match } of asked.remember) await rememberMatch(courseId, header, match);
  return answered(api.applyIntake, answer);
};
