/** Working time of a group: opens to due, in days and in meetings. Source: semantics.md section 6, looks over a plan. */

import { dayOf, daysBetween } from "../../clock/local-time.ts";
import type { Calendar } from "../anchors.ts";

export interface WorkingTime {
  /** Calendar days on the wall clock from the day it opens to the day it is due. */
  days: number;
  /** Meetings that begin in [opens, due). */
  meetings: number;
}

/** Null where it has no beginning or no end, or ends before it begins. */
export function workingTime(opens: number, due: number, calendar: Calendar, timeZone: string): WorkingTime | null {
  if (!Number.isFinite(opens) || !Number.isFinite(due) || due < opens) return null;
  return {
    days: daysBetween(dayOf(opens, timeZone), dayOf(due, timeZone)),
    meetings: calendar.meetings.filter(({ start }) => opens <= start && start < due).length,
  };
}

/** By how much of the longest the shortest falls short, in percent. */
export function unequalBy(times: WorkingTime[]): number {
  const days = times.map((one) => one.days);
  const most = Math.max(0, ...days);
  return most === 0 ? 0 : ((most - Math.min(...days)) / most) * 100;
}
