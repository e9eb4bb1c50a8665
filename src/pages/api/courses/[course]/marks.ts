import type { APIRoute } from "astro";
import { z } from "zod";
import { studentsAt } from "../../../../core/plan/lookup.ts";
import { Id } from "../../../../core/plan/types.ts";
import { readBody } from "../../../../server/body.ts";
import { now } from "../../../../server/clock.ts";
import { json, problem } from "../../../../server/problem.ts";
import { recordMark } from "../../../../server/progress.ts";

const Value = z.object({
  points: z.number().min(0).max(1_000_000).multipleOf(0.001).nullable(),
  excused: z.boolean(),
});
const Body = Value.extend({ itemId: Id, personId: Id, seen: Value.nullable() });

export const POST: APIRoute = async ({ request, locals }) => {
  const body = await readBody(request, Body);
  if (body instanceof Response) return body;
  const { courseId, plan } = locals.seat;
  const at = now();
  if (plan.items[body.itemId]?.points == null || !studentsAt(plan, at).includes(body.personId)) {
    return problem(404, "Not found", "There is no such column or student in this course.");
  }
  const copies = plan.items[body.itemId]?.combines.map(({ itemId }) => itemId) ?? [];
  const result = await recordMark(courseId, body, locals.account.id, at, copies);
  if ("newer" in result) {
    const { newer } = result;
    return problem(
      409,
      "Marked meanwhile",
      "Somebody else changed this mark since you saw it. Both values are shown; enter yours again to keep it.",
      {
        code: "mark.newer",
        newer,
      },
    );
  }
  return json(result);
};
