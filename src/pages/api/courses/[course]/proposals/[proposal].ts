import type { APIRoute } from "astro";
import { z } from "zod";
import { Id } from "../../../../../core/plan/types.ts";
import { takeProposal, takeProposalBack } from "../../../../../server/drafts/proposals.ts";
import { readBody } from "../../../../../server/http/body.ts";
import { notFound } from "../../../../../server/http/guard.ts";
import { json, problem } from "../../../../../server/http/problem.ts";

const Body = z.object({ take: z.array(Id).max(5000), answer: z.string().trim().max(1000) });

/** The coordinator takes lines of a proposal into the draft, and hands back the others. */
export const POST: APIRoute = async ({ request, params, locals }) => {
  const { access, account } = locals;
  if (access.scope !== null) return notFound(true);
  const body = await readBody(request, Body);
  if (body instanceof Response) return body;
  const answer = await takeProposal(access, account.id, params.proposal ?? "", body.take, body.answer);
  if (answer === "gone") return notFound(true);
  return answer === "taken"
    ? json({ taken: body.take.length })
    : problem(409, "Not taken", `${answer.sentence} The proposal waits as it was.`, { code: answer.code });
};

/** Its author takes it back. */
export const DELETE: APIRoute = async ({ params, locals }) =>
  (await takeProposalBack(locals.access.courseId, locals.account.id, params.proposal ?? ""))
    ? json({ back: true })
    : notFound(true);
