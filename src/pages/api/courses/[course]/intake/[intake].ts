import * as api from "../../../../../api/intake.ts";
import { answering } from "../../../../../server/http/answer.ts";
import { notFound } from "../../../../../server/http/guard.ts";
import { problem } from "../../../../../server/http/problem.ts";
import { openIntake } from "../../../../../server/intake/intakes.ts";
import { inThread } from "../../../../../server/threads/pool.ts";

export const GET = answering(api.openIntake, async ({ locals, params }) => {
  const opened = await openIntake(locals.access.courseId, params.intake ?? "");
  return opened ? opened : notFound(true);
});

/** Takes it back whole, or says what depends on it. */
export const DELETE = answering(api.undoIntake, async ({ locals, params }) => {
  const { access, account } = locals;
  const answer = await inThread("undoIntake", [access.courseId, account.id, params.intake ?? ""]);
  if (answer.undone) return answer;
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
});
