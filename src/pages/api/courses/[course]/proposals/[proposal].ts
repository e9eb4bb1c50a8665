import * as api from "../../../../../api/drafting.ts";
import { takeProposal, takeProposalBack } from "../../../../../server/drafts/proposals.ts";
import { answering } from "../../../../../server/http/answer.ts";
import { notFound } from "../../../../../server/http/guard.ts";
import { problem } from "../../../../../server/http/problem.ts";

/** The coordinator takes lines of a proposal into the draft, and hands back the others. */
export const POST = answering(api.takeProposal, async ({ body, params, locals }) => {
  const { access, account } = locals;
  if (access.scope !== null) return notFound(true);
  const answer = await takeProposal(access, account.id, params.proposal ?? "", body.take, body.answer);
  if (answer === "gone") return notFound(true);
  return answer === "taken"
    ? { taken: body.take.length }
    : problem(409, "Not taken", `${answer.sentence} The proposal waits as it was.`, { code: answer.code });
});

/** Its author takes it back. */
export const DELETE = answering(api.takeProposalBack, async ({ params, locals }) =>
  (await takeProposalBack(locals.access.courseId, locals.account.id, params.proposal ?? ""))
    ? { back: true }
    : notFound(true),
);
