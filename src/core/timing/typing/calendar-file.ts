/** What a calendar file means for a section or a group that meets by itself: days without class, meetings that are known, added, or not in it. Section 6. */

import { instantOf, wallOf } from "../../clock/local-time.ts";
import type { NewCommand } from "../../commands.ts";
import type { ReadEntry } from "../../formats/icalendar/read.ts";
import type { Course } from "../../plan/types.ts";
import { cut } from "../../text/shorten.ts";
import { freeDays, type MeetingDays, meetingsOf } from "../meetings.ts";
import { changeDays, type MeetingOwner } from "../owners.ts";

export type CalendarRow =
  | { kind: "no class"; day: string; title: string; known: boolean }
  | { kind: "meeting"; start: string; end: string; place: string; title: string; known: boolean }
  /** A meeting that the pattern has and the file does not. */
  | { kind: "missing"; day: string; start: string; number: number };

/** Whether a row would change something if it were taken. */
export const changes = (row: CalendarRow): boolean => row.kind === "missing" || !row.known;

/** Every entry of a file as a row; where it has meetings, those of the pattern that it lacks are rows too. */
export function rowsOfCalendar(course: Course, days: MeetingDays, entries: ReadEntry[]): CalendarRow[] {
  const free = freeDays(course, days);
  const meetings = meetingsOf(course, days);
  const starts = new Set(meetings.map(({ start }) => start));
  const rows = entries.map((entry): CalendarRow => {
    if (entry.kind === "day")
      return { kind: "no class", day: entry.day, title: entry.title, known: free.has(entry.day) };
    const { start, end, place, title } = entry;
    return { kind: "meeting", start, end, place, title, known: starts.has(instantOf(start, course.timeZone)) };
  });
  const inFile = new Set(
    entries.flatMap((entry) => (entry.kind === "timed" ? [instantOf(entry.start, course.timeZone)] : [])),
  );
  if (inFile.size === 0) return rows;
  const away = new Set(entries.flatMap((entry) => (entry.kind === "day" ? [entry.day] : [])));
  const missing = meetings
    .filter(({ start, day }) => !inFile.has(start) && !away.has(day))
    .map(
      ({ start, day, number }): CalendarRow => ({
        kind: "missing",
        day,
        start: wallOf(start, course.timeZone),
        number,
      }),
    );
  return [...rows, ...missing];
}

/** The commands that take some rows. `forCourse`: days without class are the course's, not only the owner's. */
export function calendarCommands(
  course: Course,
  owner: MeetingOwner,
  rows: CalendarRow[],
  forCourse: boolean,
): NewCommand[] {
  const taken = rows.filter(changes);
  const days = new Map(
    taken.flatMap((row) => (row.kind === "no class" ? [[row.day, cut(row.title, 100)] as const] : [])),
  );
  const added = taken.flatMap((row) =>
    row.kind === "meeting" ? [{ start: row.start, end: row.end.slice(11), place: row.place }] : [],
  );
  const missing = taken.flatMap((row) => (row.kind === "missing" ? [row] : []));
  const own = [...(forCourse ? [] : days.keys()), ...missing.map(({ day }) => day)];
  const commands: NewCommand[] = [];
  if (forCourse && days.size > 0)
    commands.push({
      kind: "course.noClassDays",
      days: [...course.noClassDays, ...[...days].map(([day, title]) => ({ day, title }))],
    });
  if (own.length > 0 || added.length > 0)
    commands.push(
      changeDays(owner, {
        noClassDays: [...new Set([...owner.days.noClassDays, ...own])].sort(),
        added: [...owner.days.added, ...added],
      }),
    );
  return commands;
}
