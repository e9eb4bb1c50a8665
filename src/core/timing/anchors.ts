/**
 * Meeting anchors: "two days after meeting 4" as each student's own moment, through the group of the meeting layer
 * that has a pattern, otherwise through the home section. Source: semantics.md section 6.
 */

import { addDays, instantOf, sayDay, sayWall, wallOf } from "../clock/local-time.ts";
import { onceOfTwo } from "../memo.ts";
import { meetsItself } from "../plan/groups.ts";
import { homeEnrolment, lookup } from "../plan/lookup.ts";
import type { Anchor, Group, Moment, Plan, Section } from "../plan/types.ts";
import { type Meeting, meetingsOf } from "./meetings.ts";

/** Whose meetings a student goes by: a key that students alike share, and the meetings in the pattern's order. */
export interface Calendar {
  key: string;
  meetings: Meeting[];
}

const none: Calendar = { key: "none", meetings: [] };

const calendarIn = onceOfTwo(
  (row: Section | Group, course: Plan["course"]): Calendar => ({
    key: row.id,
    meetings: meetingsOf(course, row),
  }),
);

/** The calendar of a section, or of a group that has a pattern of its own; put together once a row and course. */
export const calendarOfRow = (plan: Plan, row: Section | Group): Calendar => calendarIn(row, plan.course);

/** The groups of the meeting layer that have meetings of their own, in order. */
export function meetingGroups(plan: Plan): Group[] {
  const layerId = plan.course.meetingLayerId;
  return layerId === null ? [] : (lookup(plan).groupsOfLayer.get(layerId) ?? []).filter(meetsItself);
}

/** The calendar of one student at t, from the groups they are in. */
export function calendarOf(plan: Plan, personId: string, groupIds: ReadonlySet<string>, t: number): Calendar {
  const group = meetingGroups(plan).find(({ id }) => groupIds.has(id));
  if (group) return calendarOfRow(plan, group);
  const home = homeEnrolment(plan, personId, t)?.sectionId;
  const section = home ? plan.sections[home] : undefined;
  return section ? calendarOfRow(plan, section) : none;
}

/** Every calendar that somebody may go by: of groups that meet, and of sections. */
export const calendarsIn = (plan: Plan): Calendar[] =>
  [...meetingGroups(plan), ...Object.values(plan.sections)].map((row) => calendarOfRow(plan, row));

export const isAnchor = (moment: unknown): moment is Anchor => typeof moment === "object" && moment !== null;

function meetingOf({ meeting }: Anchor, { meetings }: Calendar): Meeting | null {
  if (typeof meeting === "number") return meetings.find(({ number }) => number === meeting) ?? null;
  let last: Meeting | null = null;
  // By the actual day, strictly before: a meeting moved by hand counts where it takes place.
  for (const one of meetings) if (one.day < meeting.lastBefore && (!last || one.start > last.start)) last = one;
  return last;
}

/** The wall-clock time of a moment by a calendar; null where there is no such meeting and no fallback. Nothing is clamped. */
export function wallByCalendar(moment: Moment, calendar: Calendar, timeZone: string): string | null {
  if (!isAnchor(moment)) return moment;
  const meeting = meetingOf(moment, calendar);
  if (!meeting) return moment.fallback;
  const at = wallOf(moment.edge === "start" ? meeting.start : meeting.end, timeZone);
  const moved = addDays(at, moment.days);
  return moment.time === null ? moved : `${moved.slice(0, 10)}T${moment.time}`;
}

/** The instant of a moment by a calendar, epoch milliseconds; null where it has no date. */
export function instantByCalendar(moment: Moment, calendar: Calendar, timeZone: string): number | null {
  const wall = wallByCalendar(moment, calendar, timeZone);
  return wall === null ? null : instantOf(wall, timeZone);
}

/** "start of meeting 6", "2 days after the end of the last meeting before Tue 1 Dec, 23:59", "Mon 5 Oct, 09:00". */
export function sayMoment(moment: Moment): string {
  if (!isAnchor(moment)) return sayWall(moment);
  const { meeting, edge, days, time } = moment;
  const which =
    typeof meeting === "number" ? `meeting ${meeting}` : `the last meeting before ${sayDay(meeting.lastBefore)}`;
  const away =
    days === 0
      ? ""
      : `${Math.abs(days)} ${Math.abs(days) === 1 ? "day" : "days"} ${days > 0 ? "after" : "before"} the `;
  return `${away}${edge} of ${which}${time === null ? "" : `, ${time}`}`;
}
