import type { APIRoute } from "astro";
import { z } from "zod";
import { sayCommand } from "../../../../core/plan/apply.ts";
import { Id } from "../../../../core/plan/types.ts";
import { readBody } from "../../../../server/body.ts";
import { publish } from "../../../../server/drafts.ts";
import { json, problem } from "../../../../server/problem.ts";

const Body = z.object({ publicationId: Id, revision: z.number().int(), version: z.number().int() });

export const POST: APIRoute = async ({ request, locals }) => {
  const body = await readBody(request, Body);
  if (body instanceof Response) return body;
  const { courseId, plan } = locals.seat;
  const result = await publish(courseId, locals.account.id, body.publicationId, body);
  if (result.published) return json(result);
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
  const lines = result.refused.map(({ command, refusal }) => ({
    id: command.id,
    says: sayCommand(plan, command),
    why: refusal.sentence,
  }));
  return problem(409, "Nothing was published", `${lines.length} of the drafted changes no longer apply.`, {
    code: "publish.refused",
    lines,
  });
};
