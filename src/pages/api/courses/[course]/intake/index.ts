import * as api from "../../../../../api/intake.ts";
import { answering } from "../../../../../server/http/answer.ts";
import { problem } from "../../../../../server/http/problem.ts";
import { settlePull } from "../../../../../server/intake/feeds.ts";
import { applyIntake, pastIntakes, rememberedMatches, rememberMatch } from "../../../../../server/intake/intakes.ts";

export const GET = answering(api.readIntakes, async ({ locals }) => {
  const { courseId } = locals.access;
  return { intakes: await pastIntakes(courseId), matches: await rememberedMatches(courseId) };
});

export const POST = answering(api.applyIntake, async ({ body, locals }) => {
  const { courseId } = locals.access;
  const answer = await applyIntake(courseId, locals.account.id, body);
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
  if (body.pullId) await settlePull(courseId, body.pullId, "applied");
  for (const { header, match } of body.remember) await rememberMatch(courseId, header, match);
  return answer;
});
