import type { APIRoute } from "astro";
import { notFound } from "../../../../../server/http/guard.ts";
import { json, problem } from "../../../../../server/http/problem.ts";
import { openIntake, undoIntake } from "../../../../../server/intake/intakes.ts";

export const GET: APIRoute = async ({ locals, params }) => {
  const opened = await openIntake(locals.access.courseId, params.intake ?? "");
  return opened ? json(opened) : notFound(true);
};

/** Takes it back whole, or says what depends on it. */
export const DELETE: APIRoute = async ({ locals, params }) => {
  const answer = await undoIntake(locals.access.courseId, locals.account.id, params.intake ?? "");
  if (answer.undone) return json(answer);
  if (answer.reason === "gone") return notFound(true);
  if (answer.reason === "undone")
    return problem(409, "Undone already", "This intake was taken back before. Nothing was changed.");
  const { dependents } = answer;
  const rest = dependents.length > 8 ? `, and ${dependents.length - 8} more` : "";
  return problem(
    409,
    "Later changes depend on it",
    `It was not taken back, because later changes depend on it: ${dependents.slice(0, 8).join("; ")}${rest}. Take those back first.`,
    { code: "intake.depends", dependents: dependents.slice(0, 100) },
  );
};
