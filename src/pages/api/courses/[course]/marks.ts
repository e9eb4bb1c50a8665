import * as api from "../../../../api/gradebook.ts";
import { fullName, studentsAt } from "../../../../core/plan/lookup.ts";
import type { Plan } from "../../../../core/plan/types.ts";
import type { MarkLine } from "../../../../core/review/journal.ts";
import { now } from "../../../../server/clock.ts";
import { markingRefused, type NewMark, recordMarks } from "../../../../server/course/marking.ts";
import { answering } from "../../../../server/http/answer.ts";
import { problem } from "../../../../server/http/problem.ts";

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

export const POST = answering(api.giveMarks, async ({ body, locals }) => {
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
  return recordMarks({ courseId, by: locals.account.id, at, copiesOf, say }, body.marks as NewMark[]);
});
