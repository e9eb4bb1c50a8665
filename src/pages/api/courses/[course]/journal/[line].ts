import * as api from "../../../../../api/journal.ts";
import { addCommands } from "../../../../../server/drafts/drafts.ts";
import { answering } from "../../../../../server/http/answer.ts";
import { notFound } from "../../../../../server/http/guard.ts";
import { problem } from "../../../../../server/http/problem.ts";
import { openLine, revertCommand } from "../../../../../server/store/journal.ts";

export const GET = answering(api.openJournalLine, async ({ params, locals }) => {
  const found = await openLine(locals.access.courseId, locals.access.plan, params.line ?? "");
  return found ? found : notFound(true);
});

/** Drafts what leads a publication back. */
export const POST = answering(api.revertJournalLine, async ({ params, locals }) => {
  const { courseId, plan } = locals.access;
  const found = await openLine(courseId, plan, params.line ?? "");
  if (!found) return notFound(true);
  const made = await revertCommand(courseId, plan, found.line.revision);
  if (!made)
    return problem(
      409,
      "Not reverted",
      "Nothing of it can be led back: all of it has changed since, or it changed nothing of the plan.",
    );
  const draft = await addCommands(courseId, locals.account.id, [made.command]);
  return "refused" in draft
    ? problem(409, "Not reverted", draft.sentence, { code: draft.code })
    : { draft, staying: made.staying };
});
