import type { APIRoute } from "astro";
import { z } from "zod";
import { Id } from "../../../../../core/plan/types.ts";
import { proposalsOf, propose } from "../../../../../server/drafts/proposals.ts";
import { readBody } from "../../../../../server/http/body.ts";
import { json, problem } from "../../../../../server/http/problem.ts";

/** For the coordinator what waits; for others on the staff their own. */
export const GET: APIRoute = async ({ locals }) =>
  json({ proposals: await proposalsOf(locals.access, locals.account.id) });

/** Proposes what is drafted, without what stays. */
export const POST: APIRoute = async ({ request, locals }) => {
  const body = await readBody(request, z.object({ leave: z.array(Id).max(5000) }));
  if (body instanceof Response) return body;
  const made = await propose(locals.access, locals.account.id, body.leave);
  return "refused" in made ? problem(409, "Not proposed", made.sentence, { code: made.code }) : json(made);
};
