/** Wall-clock times in the course's time zone, and the instants they are. Source: semantics.md section 6. */

import { fromAbsolute, parseDate, parseDateTime, startOfWeek, toZoned } from "@internationalized/date";
import { intlTag, perLocale, plainLocale } from "../text/locale.ts";
import { isolated } from "../text/names.ts";

/**
 * A question of two plain values, answered once. Courses hold a few thousand distinct times; the bound only guards a
 * long-lived server.
 */
function remembered<A extends string | number, B extends string | number, Answer>(
  ask: (a: A, b: B) => Answer,
): (a: A, b: B) => Answer {
  const kept = new Map<B, Map<A, Answer>>();
  return (a, b) => {
    let answers = kept.get(b);
    if (!answers || answers.size > 100_000) {
      answers = new Map();
      kept.set(b, answers);
      if (kept.size > 2000) kept.clear();
    }
    let answer = answers.get(a);
    if (answer === undefined) {
      answer = ask(a, b);
      answers.set(a, answer);
    }
    return answer;
  };
}

/**
 * The instant (epoch milliseconds) of a wall-clock time. Times that a clock change skips move forward by the
 * gap; doubled ones mean the earlier.
 */
export const instantOf: (wall: string, timeZone: string) => number = remembered((wall, timeZone) =>
  toZoned(parseDateTime(wall), timeZone, "compatible").toDate().getTime(),
);

/** The wall-clock time of an instant, to the minute. */
export const wallOf: (instant: number, timeZone: string) => string = remembered((instant, timeZone) =>
  fromAbsolute(instant, timeZone).toString().slice(0, 16),
);

export const dayOf = (instant: number, timeZone: string): string => wallOf(instant, timeZone).slice(0, 10);

/** A wall-clock time moved by whole calendar days: the time of day stays. */
export const addDays: (wall: string, days: number) => string = remembered((wall, days) =>
  parseDateTime(wall).add({ days }).toString().slice(0, 16),
);

export const dayAfter = (day: string, days: number): string => parseDate(day).add({ days }).toString();

/** Monday is 1, Sunday is 7. */
export const weekdayOf = (day: string): number => parseDate(day).toDate("UTC").getUTCDay() || 7;

/** Whole days from one day to another. */
export const daysBetween = (from: string, to: string): number => parseDate(to).compare(parseDate(from));

/** The Monday of the week that holds the day. */
export const mondayOf = (day: string): string => dayAfter(day, 1 - weekdayOf(day));

/** A term is at most two years, so that whatever goes through its days comes to an end. */
export const longestTerm = 731;
/** Each day from one to another, both included, or every so many days; none beyond the longest term. */
export function daysFrom(first: string, last: string, step = 1): string[] {
  const count = Math.ceil(Math.min(longestTerm, daysBetween(first, last) + 1) / step);
  return Array.from({ length: Math.max(0, count) }, (_, at) => dayAfter(first, at * step));
}

/** Whether a text is a day that exists (`2026-02-30` is not). */
export function isDay(text: string): boolean {
  try {
    return parseDate(text).toString() === text;
  } catch {
    return false;
  }
}

/** Whether there is a time zone of that name. */
export function isTimeZone(name: string): boolean {
  try {
    new Intl.DateTimeFormat("en-GB", { timeZone: name });
    return true;
  } catch {
    return false;
  }
}

/** Moments in words, of one locale. */
interface Words {
  instant(instant: number, timeZone: string): string;
  /** Of a day alone: with its weekday, without it, the weekday alone; and a time of day. */
  parts(instant: number, part: keyof typeof partsOfWords): string;
}
const day = { day: "numeric", month: "short" } as const;
const time = { hour: "numeric", minute: "2-digit" } as const;
const weekday = { weekday: "short" } as const;
const partsOfWords = {
  day: { ...weekday, ...day },
  date: day,
  full: { ...day, year: "numeric" },
  weekday,
  time,
} as const;

const british = { ...time, hour: "2-digit" } as const;
const words = perLocale((setting): Words => {
  const [tag, isPlain] = [intlTag(setting), setting.locale === plainLocale.locale];
  const clock = isPlain ? british : time;
  const made = new Map<string, Intl.DateTimeFormat>();
  const format = (timeZone: string, options: Intl.DateTimeFormatOptions, at: number): string => {
    const key = timeZone + JSON.stringify(options);
    const one = made.get(key) ?? new Intl.DateTimeFormat(tag, { timeZone, ...options });
    made.set(key, one);
    // A comma after the weekday, and spaces that no keyboard has, differ between versions of Intl.
    const text = one.format(at).replaceAll(/[\u00a0\u202f]/g, " ");
    return isolated(isPlain ? text.replace(/^([A-Z][a-z]{2}),/, "$1") : text);
  };
  const options = { weekday: "short", ...day, ...clock } as const;
  return {
    instant: remembered((instant, timeZone) => format(timeZone, options, instant)),
    parts: remembered((instant, part) => format("UTC", part === "time" ? clock : partsOfWords[part], instant)),
  };
});

/** "Mon 5 Oct, 09:00" */
export const sayInstant = (instant: number, timeZone: string): string => words().instant(instant, timeZone);

/** "Mon 5 Oct, 09:00" of a wall-clock time, exactly as typed. */
export const sayWall = (wall: string): string => sayInstant(Date.parse(`${wall}:00Z`), "UTC");

const midnight = (day: string): number => Date.parse(`${day}T00:00:00Z`);
/** "Mon 5 Oct" */
export const sayDay = (day: string): string => words().parts(midnight(day), "day");
/** "5 Oct" */
export const sayDate = (day: string): string => words().parts(midnight(day), "date");
/** "5 Oct 2026" */
export const sayFullDate = (day: string): string => words().parts(midnight(day), "full");
/** "Mon" */
export const sayWeekday = (day: string): string => words().parts(midnight(day), "weekday");
/** "09:00" of a time of day as it is stored, `09:00`. */
export const sayTime = (time: string): string => words().parts(Date.parse(`2000-01-01T${time}:00Z`), "time");

const weekStarts = perLocale(
  ({ locale }) =>
    (day: string) =>
      startOfWeek(parseDate(day), locale).toString(),
);
/** The first day of the reader's week that holds the day. */
export const weekStart = (day: string): string => weekStarts()(day);
