import type { APIRoute } from "astro";
import { SentAnswers } from "../../../../../../api/attempts.ts";
import { save, savingPlace } from "../../../../../../server/attempts/working.ts";
import { readBody } from "../../../../../../server/http/body.ts";
import { notFound } from "../../../../../../server/http/guard.ts";
import { json } from "../../../../../../server/http/problem.ts";

/** Saves answers of the student's own attempt as they are given, and says how its clock stands. */
export const POST: APIRoute = async ({ locals, params, request }) => {
  const sent = await readBody(request, SentAnswers);
  if (sent instanceof Response) return sent;
  const place = savingPlace(locals.access, params.item ?? "");
  const saved = place && (await save(place, sent.attemptId, sent.answers));
  return saved ? json(saved) : notFound(true);
};
