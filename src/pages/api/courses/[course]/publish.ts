import type { APIRoute } from "astro";
import { z } from "zod";
import { sayCommand } from "../../../../core/commands.ts";
import { Id } from "../../../../core/plan/types.ts";
import { Seen } from "../../../../core/review/draft.ts";
import { now } from "../../../../server/clock.ts";
import { movePlanned, planPublication, takeBack } from "../../../../server/drafts/planned.ts";
import { drafterOf, whyNotPublish } from "../../../../server/drafts/proposals.ts";
import { type Published, publish } from "../../../../server/drafts/publishing.ts";
import { readBody } from "../../../../server/http/body.ts";
import type { CourseAccess } from "../../../../server/http/guard.ts";
import { json, problem, streamed } from "../../../../server/http/problem.ts";
import { courseProgress } from "../../../../server/store/progress.ts";

const Body = z.object({
  publicationId: Id,
  revision: z.number().int(),
  version: z.number().int(),
  leave: z.array(Id).max(5000).default([]),
  /** At which moment, with what was counted in the review; without it at once. */
  planned: z.object({ at: z.number().int(), seen: Seen }).optional(),
});

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
export const POST: APIRoute = async ({ request, locals }) => {
  const body = await readBody(request, Body);
  if (body instanceof Response) return body;
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
    return "planned" in result ? json(result) : result.published ? json(result) : refusal(access, result);
  }
  const done = drafter && (await courseProgress(access.courseId));
  const work = async (told?: (done: number, of: number) => void) => {
    const result = await publish(access.courseId, account.id, body, told, (before, after, commands) =>
      drafter && done ? whyNotPublish(before, after, commands, drafter, done.progress) : null,
    );
    return result.published ? json(result) : refusal(access, result);
  };
  return request.headers.get("accept") === "application/x-ndjson" ? streamed(work) : work();
};

const noneSuch = () =>
  problem(404, "Not found", "There is no such planned publication. It may have gone out already: reload the page.");
const passed = () => problem(400, "Not planned", "That moment has passed. Choose a later one, or publish now.");

/** Moves a planned publication to another moment. */
export const PATCH: APIRoute = async ({ request, locals }) => {
  const body = await readBody(request, z.object({ plannedId: Id, at: z.number().int() }));
  if (body instanceof Response) return body;
  if (body.at <= now()) return passed();
  const moved = await movePlanned(locals.access.courseId, locals.account.id, body.plannedId, body.at);
  return moved ? json({ moved }) : noneSuch();
};

/** Takes a planned publication back into the draft. */
export const DELETE: APIRoute = async ({ request, locals }) => {
  const body = await readBody(request, z.object({ plannedId: Id }));
  if (body instanceof Response) return body;
  const taken = await takeBack(locals.access.courseId, locals.account.id, body.plannedId);
  return taken ? json({ taken }) : noneSuch();
};
