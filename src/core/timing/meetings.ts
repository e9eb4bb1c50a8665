/** The class meetings of a section, counted from its pattern within the term. Source: semantics.md section 6. */

import { daysFrom, instantOf, weekdayOf } from "../clock/local-time.ts";
import type { Course, MeetingSlot, Section } from "../plan/types.ts";
import { cut } from "../text/shorten.ts";

export interface Meeting {
  /** 1 for the first meeting of the term. */
  number: number;
  day: string;
  /** Epoch milliseconds. */
  start: number;
  end: number;
  place: string;
  /** Where the pattern puts it, by which it is moved; null for one that was added. */
  slot: { day: string; start: string } | null;
  /** Whether it takes place elsewhere than the pattern says. */
  moved: boolean;
}

/** What the meetings of a section or a group are made of. */
export type MeetingDays = Pick<Section, "pattern" | "noClassDays" | "moved" | "added">;

/** The days on which a section or group has no class: the course's, and its own. */
export const freeDays = (course: Course, owner?: Pick<MeetingDays, "noClassDays">): Set<string> =>
  new Set([...course.noClassDays.map(({ day }) => day), ...(owner?.noClassDays ?? [])]);

/**
 * Every meeting of a pattern in the term, in the pattern's order, without the course's and the section's no-class
 * days. One that was moved by hand takes place, even on a no-class day, and keeps its number. One that was added is
 * counted among them by when it begins.
 */
export function meetingsOf(course: Course, { pattern, noClassDays, moved, added }: MeetingDays): Meeting[] {
  if (pattern.length === 0 && added.length === 0) return [];
  const { timeZone } = course;
  const free = new Set([...course.noClassDays.map(({ day }) => day), ...noClassDays]);
  const slots = [...pattern].sort((a, b) => a.weekday - b.weekday || a.start.localeCompare(b.start));
  const movedTo = new Map(moved.map(({ day, start, to }) => [`${day}T${start}`, to]));
  const found: (Omit<Meeting, "number"> & { counted: number })[] = [];
  for (const day of daysFrom(course.termStart, course.termEnd)) {
    const weekday = weekdayOf(day);
    for (const slot of slots) {
      if (slot.weekday !== weekday) continue;
      const to = movedTo.get(`${day}T${slot.start}`);
      if (!to && free.has(day)) continue;
      const planned = instantOf(`${day}T${slot.start}`, timeZone);
      const length = instantOf(`${day}T${slot.end}`, timeZone) - planned;
      const start = to ? instantOf(to, timeZone) : planned;
      found.push({
        day: to ? to.slice(0, 10) : day,
        start,
        end: start + length,
        place: slot.place,
        slot: { day, start: slot.start },
        moved: to !== undefined,
        counted: planned,
      });
    }
  }
  for (const { start, end, place } of added) {
    const [day, at] = [start.slice(0, 10), instantOf(start, timeZone)];
    const until = instantOf(`${day}T${end}`, timeZone);
    found.push({ day, start: at, end: Math.max(at, until), place, slot: null, moved: false, counted: at });
  }
  if (added.length > 0) found.sort((a, b) => a.counted - b.counted);
  return found.map(({ counted: _, ...meeting }, index) => ({ number: index + 1, ...meeting }));
}

const dayNames = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];

/** "Mon Wed Fri 09:00", or "no meetings". */
export function sayPattern(pattern: MeetingSlot[]): string {
  if (pattern.length === 0) return "no meetings";
  const times = new Map<string, string[]>();
  for (const slot of [...pattern].sort((a, b) => a.weekday - b.weekday)) {
    const days = times.get(slot.start) ?? [];
    days.push(dayNames[slot.weekday - 1] as string);
    times.set(slot.start, days);
  }
  return [...times].map(([start, days]) => `${days.join(" ")} ${start}`).join(", ");
}

/** A pattern as it can be typed and read again: "Mon Wed 09:00-10:15 Weir hut; Fri 14:00-15:00". */
export function writePattern(pattern: MeetingSlot[]): string {
  const parts = new Map<string, string[]>();
  for (const { weekday, start, end, place } of [...pattern].sort((a, b) => a.weekday - b.weekday)) {
    const key = `${start}-${end}${place ? ` ${place}` : ""}`;
    parts.set(key, [...(parts.get(key) ?? []), dayNames[weekday - 1] as string]);
  }
  return [...parts].map(([time, days]) => `${days.join(" ")} ${time}`).join("; ");
}

/**
 * A pattern from the words of a registrar, "Mon Wed Fri 09:00-10:15" or "TTh 13:30"; several are set apart by
 * semicolons, and what follows a time is the place. Null where no day and time can be read in some part. A missing
 * end is an hour after the start.
 */
export function readPattern(text: string): MeetingSlot[] | null {
  const slots: MeetingSlot[] = [];
  for (const part of text.split(/[;\n]/)) {
    if (part.trim() === "") continue;
    const read = readSlots(part);
    if (!read) return null;
    slots.push(...read);
  }
  return slots.length > 0 ? slots : null;
}

function readSlots(text: string): MeetingSlot[] | null {
  const time = /(\d{1,2})[:.](\d{2})(?:\s*[-–]\s*(\d{1,2})[:.](\d{2}))?/.exec(text);
  if (!time) return null;
  const [whole, hour = "", minute = "", endHour, endMinute] = time;
  if (Number(hour) > 23 || Number(minute) > 59 || Number(endHour ?? 0) > 23 || Number(endMinute ?? 0) > 59) return null;
  const start = `${hour.padStart(2, "0")}:${minute}`;
  const end = endHour
    ? `${endHour.padStart(2, "0")}:${endMinute}`
    : `${String(Math.min(23, Number(hour) + 1)).padStart(2, "0")}:${minute}`;
  const behind = text.slice(time.index + whole.length).replace(/^[\s,]+/, "");
  const place = cut(behind.trim(), 100);
  const days = text.slice(0, time.index);
  const weekdays = new Set<number>();
  for (const [, name = ""] of days.matchAll(/\b(mon|tue|wed|thu|fri|sat|sun)[a-z]*/gi)) {
    weekdays.add(dayNames.findIndex((day) => day.toLowerCase() === name.toLowerCase()) + 1);
  }
  // Letters run together, as registrars write them: MWF, TTh, TuTh.
  for (const [letters] of days.matchAll(/\b(?:Tu|Th|Sa|Su|[MTWRF])+\b/g)) {
    for (const [letter] of letters.matchAll(/Tu|Th|Sa|Su|[MTWRF]/g)) {
      weekdays.add({ M: 1, T: 2, Tu: 2, W: 3, Th: 4, R: 4, F: 5, Sa: 6, Su: 7 }[letter] as number);
    }
  }
  if (weekdays.size === 0) return null;
  return [...weekdays].sort().map((weekday) => ({ weekday, start, end, place }));
}
