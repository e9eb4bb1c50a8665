/**
 * Everything that a student is shown and may do at a moment, as one value that can be compared: home, items with threads
 * and what may be written, groups and their pages, class list, calendar, marks, self-placement. The review is held to it.
 * Source: semantics.md section 8, touched.
 */

import { instantOf } from "../clock/local-time.ts";
import { studentMarks } from "../gradebook/student-marks.ts";
import { selfPlacementOf } from "../placement/self-placement.ts";
import { lookup } from "../plan/lookup.ts";
import type { Progress } from "../plan/progress.ts";
import type { Plan } from "../plan/types.ts";
import { studentEntries } from "../reach/calendars.ts";
import { progressAt } from "../reach/changes.ts";
import { groupView } from "../reach/group-page.ts";
import {
  indexKinds,
  type StudentPage,
  studentDue,
  studentGroups,
  studentIndex,
  studentItem,
  studentOutline,
  studentPage,
} from "../reach/student-page.ts";
import { shownClassList } from "../review/course-effects.ts";
import { shownTotal } from "../review/marks-effects.ts";
import { calendarsIn } from "../timing/anchors.ts";
import { deadlinesOfItem, instantsOfItem, termOf } from "../timing/instants.ts";
import { resolveDates } from "../timing/resolving/resolve.ts";

function shownMarks(page: StudentPage): unknown {
  const { marks, total } = studentMarks(page);
  return { marks, total: shownTotal(total) };
}

/** What a student has of the course at t; null where they are no student of it then. */
export function shownTo(plan: Plan, progress: Progress, personId: string, t: number): unknown {
  const page = studentPage(plan, progress, personId, t);
  if (!page) return null;
  const { code, title, term } = plan.course;
  const items = Object.values(plan.items).flatMap((item) => studentItem(page, item.id) ?? []);
  const words = items.map(({ id }) => {
    const item = plan.items[id];
    return item ? resolveDates(plan, item, page.reach.memberships(page.index)).accessWord.value : null;
  });
  return {
    course: { code, title, term, mayWriteToStaff: plan.course.mayWriteToStaff },
    outline: studentOutline(page),
    indexes: indexKinds.map((kind) => studentIndex(page, kind)),
    due: studentDue(page),
    items: items.map((item, at) => ({ ...item, accessWord: words[at] })),
    groups: studentGroups(page),
    pages: Object.keys(plan.groups).flatMap((groupId) => groupView(page, groupId) ?? []),
    classList: shownClassList(page),
    calendar: studentEntries(page),
    marks: shownMarks(page),
    selfPlacement: selfPlacementOf(plan, personId, t),
  };
}

/** The moments from t to the end of the term at which something of a plan may change for somebody by the clock, ascending. */
export function clockMoments(plan: Plan, t: number): number[] {
  const { until } = termOf(plan);
  const zone = plan.course.timeZone;
  const found = new Set<number>([t]);
  const calendars = calendarsIn(plan);
  for (const item of Object.values(plan.items))
    for (const at of [...instantsOfItem(plan, item, calendars), ...deadlinesOfItem(plan, item, calendars)])
      found.add(at);
  for (const row of [...Object.values(plan.placements), ...Object.values(plan.enrolments)])
    for (const at of [row.since, row.until]) if (at !== null) found.add(at);
  for (const { selfPlacement } of lookup(plan).layers)
    for (const wall of [selfPlacement?.opens, selfPlacement?.closes]) if (wall) found.add(instantOf(wall, zone));
  return [...found].filter((at) => at >= t && at < Math.max(until, t + 1)).sort((a, b) => a - b);
}

/** Whether a student has anything otherwise with a draft than without it, at t or, by the clock alone, later in the term. */
export function isTouched(before: Plan, after: Plan, progress: Progress, personId: string, t: number): boolean {
  const moments = new Set([...clockMoments(before, t), ...clockMoments(after, t)]);
  const sofar = progressAt(progress, t);
  return [...moments].some(
    (at) =>
      JSON.stringify(shownTo(before, sofar, personId, at)) !== JSON.stringify(shownTo(after, sofar, personId, at)),
  );
}
