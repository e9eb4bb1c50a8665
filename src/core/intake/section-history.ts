/** How a section grew and shrank over the term. Source: semantics.md section 2. */

import { addDays, daysFrom, instantOf, mondayOf } from "../clock/local-time.ts";
import { holdsAt } from "../plan/lookup.ts";
import type { Enrolment, Plan } from "../plan/types.ts";

export interface SectionWeek {
  /** Its Monday, a calendar day. */
  monday: string;
  /** Students at the end of the week. */
  size: number;
  came: number;
  left: number;
}

/** Student enrolments by section; those without a section are left out. */
export function studentsBySection(plan: Plan): Map<string, Enrolment[]> {
  const found = new Map<string, Enrolment[]>();
  for (const row of Object.values(plan.enrolments)) {
    if (row.role !== "student" || row.sectionId === null) continue;
    const list = found.get(row.sectionId);
    if (list) list.push(row);
    else found.set(row.sectionId, [row]);
  }
  return found;
}

/** Every week of the term up to t. Whoever was there before the term began did not come in its first week. */
export function sectionWeeks({ course }: Plan, enrolments: Enrolment[], t: number): SectionWeek[] {
  const weeks: SectionWeek[] = [];
  for (const monday of daysFrom(mondayOf(course.termStart), course.termEnd, 7)) {
    const start = instantOf(`${monday}T00:00`, course.timeZone);
    const next = addDays(`${monday}T00:00`, 7).slice(0, 10);
    const end = Math.min(instantOf(`${next}T00:00`, course.timeZone), t + 1);
    if (start > t) break;
    weeks.push({
      monday,
      size: enrolments.filter((row) => holdsAt(row, end - 1)).length,
      came: enrolments.filter(({ since }) => since >= start && since < end).length,
      left: enrolments.filter(({ until }) => until !== null && until >= start && until < end).length,
    });
  }
  return weeks;
}
