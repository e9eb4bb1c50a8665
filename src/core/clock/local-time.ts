/** Wall-clock times in the course's time zone, and the instants they are. Source: semantics.md section 6. */
import { fromAbsolute, parseDate, parseDateTime, toZoned } from "@internationalized/date";

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

const formats = new Map<string, Intl.DateTimeFormat>();
function format(timeZone: string, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = timeZone + JSON.stringify(options);
  let made = formats.get(key);
  if (!made) {
    made = new Intl.DateTimeFormat("en-GB", { timeZone, ...options });
    formats.set(key, made);
  }
  return made;
}

/** "Mon 5 Oct, 09:00" */
export const sayInstant: (instant: number, timeZone: string) => string = remembered((instant, timeZone) => {
  const part = Object.fromEntries(
    format(timeZone, {
      weekday: "short",
      day: "numeric",
      month: "short",
      hour: "2-digit",
      minute: "2-digit",
      hourCycle: "h23",
    })
      .formatToParts(instant)
      .map(({ type, value }) => [type, value]),
  );
  return `${part.weekday} ${part.day} ${part.month}, ${part.hour}:${part.minute}`;
});

/** "Mon 5 Oct, 09:00" of a wall-clock time, exactly as typed. */
export const sayWall = (wall: string): string => sayInstant(Date.parse(`${wall}:00Z`), "UTC");

/** "Mon 5 Oct" */
export const sayDay = (day: string): string =>
  sayInstant(Date.parse(`${day}T00:00:00Z`), "UTC").split(",")[0] as string;
