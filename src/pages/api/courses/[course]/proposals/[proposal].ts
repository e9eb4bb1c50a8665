import type { APIRoute } from "astro";
import { z } from "zod";
import { Id } from "../../../../../core/plan/types.ts";
import { readBody } from "../../../../../server/body.ts";
import { notFound } from "../../../../../server/guard.ts";
import { json, problem } from "../../../../../server/problem.ts";
import { takeProposal, takeProposalBack } from "../../../../../server/proposals.ts";

const Body = z.object({ take: z.array(Id).max(5000), answer: z.string().trim().max(1000) });

/** The coordinator takes lines of a proposal into the draft, and hands back the others. */
export const POST: APIRoute = async ({ request, params, locals }) => {
  const { seat, account } = locals;
  if (seat.scope !== null) return notFound(true);
  const body = await readBody(request, Body);
  if (body instanceof Response) return body;
  const answer = await takeProposal(seat, account.id, params.proposal ?? "", body.take, body.answer);
  if (answer === "gone") return notFound(true);
  return answer === "taken"
    ? json({ taken: body.take.length })
    : problem(409, "Not taken", `${answer.sentence} The proposal waits as it was.`, { code: answer.code });
};

/** Its author takes it back. */
export const DELETE: APIRoute = async ({ params, locals }) =>
  (await takeProposalBack(locals.seat.courseId, locals.account.id, params.proposal ?? ""))
    ? json({ back: true })
    : notFound(true);
