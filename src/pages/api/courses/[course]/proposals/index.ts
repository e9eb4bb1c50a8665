import * as api from "../../../../../api/drafting.ts";
import { proposalsOf, propose } from "../../../../../server/drafts/proposals.ts";
import { answering } from "../../../../../server/http/answer.ts";
import { problem } from "../../../../../server/http/problem.ts";

/** For the coordinator what waits; for others on the staff their own. */
export const GET = answering(api.readProposals, async ({ locals }) => ({
  proposals: await proposalsOf(locals.member, locals.account.id),
}));

/** Proposes what is drafted, without what stays. */
export const POST = answering(api.propose, async ({ body, locals }) => {
  const made = await propose(locals.access, locals.account.id, body.leave);
  return "refused" in made ? problem(409, "Not proposed", made.sentence, { code: made.code }) : made;
});
