import * as api from "../../../../api/drafting.ts";
import type { Command } from "../../../../core/commands.ts";
import { placeholderMistakes } from "../../../../core/messages/placeholders.ts";
import { whyNotDraftAll } from "../../../../core/review/within-scope.ts";
import { clockFixed, now } from "../../../../server/clock.ts";
import { addCommands, draftedPlan, keepMessages, readDraft, stepDraft } from "../../../../server/drafts/drafts.ts";
import { drafterOf } from "../../../../server/drafts/proposals.ts";
import { answering } from "../../../../server/http/answer.ts";
import { problem } from "../../../../server/http/problem.ts";
import { storedAll } from "../../../../server/store/files.ts";

/** The file that a command puts into an item. */
function fileIn(command: Command): string[] {
  const file =
    command.kind === "item.add" ? command.item.file : command.kind === "item.change" ? command.fields.file : null;
  return file ? [file.id] : [];
}

/** The draft, and the server's clock beside it: the plan may come from the browser's cache, this never does. */
export const GET = answering(api.readDraft, async ({ locals }) => ({
  ...(await readDraft(locals.member.courseId, locals.account.id)),
  now: now(),
  clockFixed,
}));

export const POST = answering(api.changeDraft, async ({ body, locals }) => {
  const { courseId, scope } = locals.access;
  if ("step" in body) return stepDraft(courseId, locals.account.id, body.step);
  if ("messages" in body) {
    if (scope !== null)
      return problem(
        409,
        "Not kept",
        "Messages go out with the coordinator's publications. Write to people by itself.",
      );
    // A message that goes out with the draft may speak of what is drafted.
    const drafted = (await draftedPlan(courseId, locals.account.id))?.plan ?? locals.access.plan;
    const [mistake] = body.messages.flatMap(({ subject, body: text }) =>
      [subject, text].flatMap((one) => placeholderMistakes(drafted, one)),
    );
    if (mistake) return problem(400, "Not kept", `At character ${mistake.position + 1}: ${mistake.says}`);
    return keepMessages(courseId, locals.account.id, body.messages);
  }
  if (scope !== null && !(await storedAll(courseId, locals.account.id, body.commands.flatMap(fileIn))))
    return problem(409, "Not drafted", "That file is not one that you stored. Choose your own and send it again.");
  const draft = await addCommands(courseId, locals.account.id, body.commands, (plan, commands) => {
    const drafter = drafterOf(locals.access);
    return drafter && whyNotDraftAll(plan, drafter, commands, now());
  });
  return "refused" in draft ? problem(409, "Not drafted", draft.sentence, { code: draft.code }) : draft;
});
