import type { APIRoute } from "astro";
import { z } from "zod";
import { fullName, studentsAt } from "../../../../core/plan/lookup.ts";
import { Id, type Plan } from "../../../../core/plan/types.ts";
import type { MarkLine } from "../../../../core/review/journal.ts";
import { now } from "../../../../server/clock.ts";
import { markingRefused, type NewMark, recordMarks } from "../../../../server/course/marking.ts";
import { readBody } from "../../../../server/http/body.ts";
import { json, problem } from "../../../../server/http/problem.ts";

/** What the journal says of marks: the one there is from what to what, or how many in which columns. */
function sayMarks(plan: Plan, lines: MarkLine[]): string {
  const titles = [...new Set(lines.map(({ itemId }) => plan.items[itemId]?.title ?? "a removed item"))];
  const [only] = lines;
  const where =
    titles.length > 3 ? `${titles.slice(0, 3).join(", ")} and ${titles.length - 3} more` : titles.join(", ");
  if (!only || lines.length > 1) return `${lines.length} marks in ${where}`;
  const person = plan.people[only.personId ?? ""];
  const whose = person ? fullName(person) : (plan.groups[only.groupId ?? ""]?.name ?? "");
  const value = (mark: MarkLine["from"]) => (!mark ? "none" : mark.excused ? "excused" : String(mark.points));
  return `${where}, ${whose}: ${value(only.from)} to ${value(only.to)}`;
}

const Value = z.object({
  points: z.number().min(0).max(1_000_000).multipleOf(0.001).nullable(),
  excused: z.boolean(),
});
const Mark = Value.extend({ itemId: Id, seen: Value.nullable() });
const Body = z.object({
  marks: z
    .array(z.union([Mark.extend({ personId: Id }), Mark.extend({ groupId: Id })]))
    .min(1)
    .max(100_000),
});

/** Stores marks of persons and shared ones of groups; those that somebody else changed meanwhile are given back. */
export const POST: APIRoute = async ({ request, locals }) => {
  const body = await readBody(request, Body);
  if (body instanceof Response) return body;
  const { courseId, plan, scope } = locals.access;
  const refused = markingRefused(locals.access);
  if (refused) return refused;
  const at = now();
  const students = new Set(studentsAt(plan, at));
  const isThere = (mark: (typeof body.marks)[number]) => {
    const item = plan.items[mark.itemId];
    if (item?.points == null) return false;
    if ("personId" in mark) return students.has(mark.personId);
    const group = plan.groups[mark.groupId];
    // A shared mark goes to all of the group: within a scope only where all of it lies in that.
    const isOwn = scope === null || scope.own.has(mark.groupId);
    return item.split !== null && group?.layerId === item.split.layerId && isOwn;
  };
  if (!body.marks.every(isThere)) {
    return problem(404, "Not found", "There is no such column, student or group in this course. Nothing was stored.");
  }
  const copiesOf = (itemId: string) => plan.items[itemId]?.combines.map((one) => one.itemId) ?? [];
  const say = (lines: MarkLine[]) => sayMarks(plan, lines);
  return json(await recordMarks(courseId, body.marks as NewMark[], locals.account.id, at, copiesOf, say));
};
