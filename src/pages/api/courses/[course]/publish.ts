import * as api from "../../../../api/drafting.ts";
import { sayCommand } from "../../../../core/commands.ts";
import { whyNotPublish } from "../../../../core/review/within-scope.ts";
import { now } from "../../../../server/clock.ts";
import { movePlanned, planPublication, takeBack } from "../../../../server/drafts/planned.ts";
import { drafterOf } from "../../../../server/drafts/proposals.ts";
import { type Published, publish } from "../../../../server/drafts/publishing.ts";
import { answered, answering } from "../../../../server/http/answer.ts";
import type { CourseAccess } from "../../../../server/http/guard.ts";
import { problem, streamed } from "../../../../server/http/problem.ts";
import { courseProgress } from "../../../../server/store/progress.ts";

/** Why nothing was published. */
function refusal({ plan }: CourseAccess, result: Published & { published: false }): Response {
  if (result.reason === "empty")
    return problem(
      409,
      "Nothing to publish",
      "Everything that is drafted is left out. Take something in, then publish.",
      {
        code: "publish.empty",
      },
    );
  if (result.reason === "message")
    return problem(409, "Nothing was published", result.says, { code: "publish.message" });
  if (result.reason === "beyond")
    return problem(409, "Nothing was published", result.refusal.sentence, { code: result.refusal.code });
  if (result.reason === "changed") {
    return problem(
      409,
      "Changed underneath",
      "The course or the draft changed since this review. Look at the review again, then publish.",
      {
        code: "publish.changed",
      },
    );
  }
  const lines = result.refused.map(({ command, refusal: why }) => ({
    id: command.id,
    says: sayCommand(plan, command),
    why: why.sentence,
  }));
  return problem(409, "Nothing was published", `${lines.length} of the drafted changes no longer apply.`, {
    code: "publish.refused",
    lines,
  });
}

/** Publishes the draft, or plans that. Whoever accepts lines of JSON is told meanwhile how far it is. */
export const POST = answering(api.publish, async ({ request, body, locals }) => {
  const { access, account } = locals;
  const drafter = drafterOf(access);
  if (body.planned) {
    if (drafter)
      return problem(
        409,
        "Not planned",
        "Only the coordinator plans a publication. Propose it, and say when it is to be.",
      );
    if (body.planned.at <= now()) return passed();
    const result = await planPublication(access.courseId, account.id, body, body.planned.at, body.planned.seen);
    return "planned" in result || result.published ? result : refusal(access, result);
  }
  const done = drafter && (await courseProgress(access.courseId));
  const work = async (told?: (done: number, of: number) => void) => {
    const result = await publish(access.courseId, account.id, body, told, (before, after, commands) =>
      drafter && done ? whyNotPublish(drafter, { before, after, commands, progress: done.progress, now: now() }) : null,
    );
    return result.published ? answered(api.publish, result) : refusal(access, result);
  };
  return request.headers.get("accept") === "application/x-ndjson" ? streamed(work) : work();
});

const noneSuch = () =>
  problem(404, "Not found", "There is no such planned publication. It may have gone out already: reload the page.");
const passed = () => problem(400, "Not planned", "That moment has passed. Choose a later one, or publish now.");

/** Moves a planned publication to another moment. */
export const PATCH = answering(api.movePlanned, async ({ body, locals }) => {
  if (body.at <= now()) return passed();
  const moved = await movePlanned(locals.access.courseId, locals.account.id, body.plannedId, body.at);
  return moved ? { moved: true } : noneSuch();
});

/** Takes a planned publication back into the draft. */
export const DELETE = answering(api.takePlannedBack, async ({ body, locals }) => {
  const taken = await takeBack(locals.access.courseId, locals.account.id, body.plannedId);
  return taken ? { taken: true } : noneSuch();
});
