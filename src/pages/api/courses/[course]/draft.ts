import type { APIRoute } from "astro";
import { z } from "zod";
import { Message } from "../../../../core/messages/message.ts";
import { blankMistakes } from "../../../../core/messages/placeholders.ts";
import { Command } from "../../../../core/plan/apply.ts";
import { readBody } from "../../../../server/body.ts";
import { clockFixed, now } from "../../../../server/clock.ts";
import { addCommands, keepLetters, readDraft, stepDraft } from "../../../../server/drafts.ts";
import { json, problem } from "../../../../server/problem.ts";

const Body = z.union([
  z.object({ commands: z.array(Command).min(1).max(500) }),
  z.object({ letters: z.array(Message).max(20) }),
  z.object({ step: z.enum(["undo", "redo", "undo all", "redo all"]) }),
]);

/** The draft, and the server's clock beside it: the plan may come from the browser's cache, this never does. */
export const GET: APIRoute = async ({ locals }) =>
  json({ ...(await readDraft(locals.seat.courseId, locals.account.id)), now: now(), clockFixed });

export const POST: APIRoute = async ({ request, locals }) => {
  const body = await readBody(request, Body);
  if (body instanceof Response) return body;
  const { courseId } = locals.seat;
  if ("step" in body) return json(await stepDraft(courseId, locals.account.id, body.step));
  if ("letters" in body) {
    const [mistake] = body.letters.flatMap(({ subject, body: text }) =>
      [subject, text].flatMap((one) => blankMistakes(locals.seat.plan, one)),
    );
    if (mistake) return problem(400, "Not kept", `At character ${mistake.position + 1}: ${mistake.says}`);
    return json(await keepLetters(courseId, locals.account.id, body.letters));
  }
  const draft = await addCommands(courseId, locals.account.id, body.commands);
  return "refused" in draft ? problem(409, "Not drafted", draft.sentence, { code: draft.code }) : json(draft);
};
