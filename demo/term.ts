/** The demo's term, laid so that a given moment falls in its ninth week. */

import { dayAfter, dayOf, instantOf, mondayOf } from "../src/core/clock/local-time.ts";
import type { MeetingSlot } from "../src/core/plan/types.ts";

export const timeZone = "Europe/Dublin";
export const sectionCodes = ["D1", "D2", "EV", "DL"] as const;
export type SectionCode = (typeof sectionCodes)[number];

export interface Term {
  start: string;
  end: string;
  /** Weeks count from 1, weekdays from Monday = 1. */
  day(week: number, weekday: number): string;
  wall(week: number, weekday: number, time: string): string;
  instant(week: number, weekday: number, time: string): number;
}

export function makeTerm(now: number): Term {
  const start = dayAfter(mondayOf(dayOf(now, timeZone)), -56);
  const day = (week: number, weekday: number) => dayAfter(start, (week - 1) * 7 + weekday - 1);
  const wall = (week: number, weekday: number, time: string) => `${day(week, weekday)}T${time}`;
  return {
    start,
    end: day(14, 5),
    day,
    wall,
    instant: (...at) => instantOf(wall(...at), timeZone),
  };
}

const slot = (weekday: number, start: string, end: string, place: string): MeetingSlot => ({
  weekday,
  start,
  end,
  place,
});
export const sectionFacts: Record<SectionCode, { title: string; meets: string; pattern: MeetingSlot[] }> = {
  D1: {
    title: "Day 1",
    meets: "Mon Wed Fri 09:00-10:15",
    pattern: [1, 3, 5].map((weekday) => slot(weekday, "09:00", "10:15", "Weir Hall 2")),
  },
  D2: {
    title: "Day 2",
    meets: "Tue Thu 13:30-15:20",
    pattern: [2, 4].map((weekday) => slot(weekday, "13:30", "15:20", "Weir Hall 1")),
  },
  EV: {
    title: "Evening",
    meets: "Wed 18:00-21:00",
    pattern: [slot(3, "18:00", "21:00", "Sluice Room")],
  },
  DL: { title: "Distance", meets: "", pattern: [] },
};
