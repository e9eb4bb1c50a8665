import * as api from "../../../../api/gradebook.ts";
import { sheetOf } from "../../../../core/gradebook/sheet.ts";
import { othersFigures } from "../../../../core/gradebook/statistics.ts";
import { reachAt } from "../../../../core/reach/reach.ts";
import { now } from "../../../../server/clock.ts";
import { answering } from "../../../../server/http/answer.ts";
import { notFound } from "../../../../server/http/guard.ts";
import { courseProgress } from "../../../../server/store/progress.ts";

/** All students but those of a scope: the course may allow it, and an item that is not theirs to know of does not exist. */
export const GET = answering(api.readOtherStudents, async ({ query, locals }) => {
  const { courseId, scope, plan, whole } = locals.access;
  const item = query.item === undefined ? null : whole.items[query.item];
  const isHidden = item === undefined || (item !== null && (!plan.items[item.id] || item.points === null));
  if (scope === null || scope.personIds.size === 0 || !whole.course.mayCompareWithOthers || isHidden)
    return notFound(true);
  const { progress } = await courseProgress(courseId);
  const sheet = sheetOf(reachAt(whole, progress, now()));
  return { others: othersFigures(sheet, item, scope.personIds) };
});
