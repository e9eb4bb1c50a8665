/**
 * Dates as people type them: "fri 5pm", "mon 5 oct 9:00", "+1w", "m6 start", "last meeting before 1 dec", "none"; and
 * moments written so that they read back the same. Source: semantics.md section 6.
 */

import { addDays, dayAfter, isDay, mondayOf, sayDate, weekdayOf } from "../../clock/local-time.ts";
import { type Anchor, type Course, type DateField, type ItemKind, Moment } from "../../plan/types.ts";
import { sayNumber } from "../../text/locale.ts";
import { isAnchor } from "../anchors.ts";
import { type GivenValue, isMomentField } from "../resolving/resolve.ts";
import { type LocalDate, readLocalDate } from "./local-dates.ts";

export interface TypedContext {
  course: Pick<Course, "termStart" | "termEnd">;
  /** The day from which "fri" and "tomorrow" are counted, `2026-10-05`. */
  today: string;
  /** What "+1w" is added to, and whose time of day stays where none is typed: what holds now; null where nothing does. */
  from: string | null;
  /** The time of day where neither is known: `09:00`. */
  usualTime: string;
}
/** The time of day that is meant where none is typed and none holds; an event does not begin at the end of a day. */
const usualTime = (field: DateField, kind: ItemKind | undefined): string =>
  kind === "event" ? "10:00" : field === "due" || field === "closes" ? "23:59" : "09:00";

interface Typing {
  course: Pick<Course, "termStart" | "termEnd">;
  /** The day on which one types. Outside the term its first day is counted from. */
  day: string;
  field: DateField;
  kind?: ItemKind | undefined;
  /** What holds by now, where something does. */
  from?: unknown;
}

/** How a date of a field is read where it is typed. */
export const typedContext = ({ course, day, field, kind, from }: Typing): TypedContext => ({
  course,
  today: day >= course.termStart && day <= course.termEnd ? day : course.termStart,
  from: typeof from === "string" && from.includes("T") ? from : null,
  usualTime: usualTime(field, kind),
});

/** A moment, "none", null for an empty text (unset); or what is wrong and what was expected. */
export type Typed = { value: Moment | "none" | null } | { wrong: string };

const weekdays = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];
/** 1 to 7 of a name or the beginning of one, from three letters; 0 where it is none. */
const weekdayNamed = (name: string): number =>
  name.length < 3 ? 0 : weekdays.findIndex((one) => one.toLowerCase().startsWith(name)) + 1;
const monthNames = "January February March April May June July August September October November December".split(" ");
const months = monthNames.map((name) => name.slice(0, 3).toLowerCase());
const numbers = ["zero", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten"];
const examples = 'Type a date such as "fri 5pm", "5 oct 9:00", "+1w", "m6 start", or "none".';
const wrong = (says: string): Typed => ({ wrong: says });

/** "5pm", "17:00", "9.30", "noon", "end of day": `HH:MM`; null where it is no time. */
function readTime(text: string): string | null {
  if (text === "noon") return "12:00";
  if (text === "midnight" || text === "end of day") return "23:59";
  const found = /^(\d{1,2})(?:[:.](\d{2}))?\s*(am|pm)?$/.exec(text);
  if (!found || (!found[2] && !found[3])) return null;
  let hour = Number(found[1]);
  if (found[3] && (hour < 1 || hour > 12)) return null;
  if (found[3]) hour = (hour % 12) + (found[3] === "pm" ? 12 : 0);
  const minute = Number(found[2] ?? 0);
  return hour > 23 || minute > 59 ? null : `${String(hour).padStart(2, "0")}:${String(minute).padStart(2, "0")}`;
}

const timeAtEnd =
  /(?:^|[\s,]+|t)(?:at\s+)?(noon|midnight|end of day|\d{1,2}[:.]\d{2}\s*(?:am|pm)?|\d{1,2}\s*(?:am|pm))$/;

/** A text without the time at its end, and that time. Null where there is one that no clock shows. */
function splitTime(text: string): { rest: string; time: string | null } | null {
  const found = timeAtEnd.exec(text);
  if (!found) return { rest: text, time: null };
  const time = readTime((found[1] as string).trim());
  return time === null ? null : { rest: text.slice(0, found.index).replace(/[\s,]+$/, ""), time };
}

/** The year in which a day of a month comes nearest to the term. */
function nearTerm(month: number, day: number, { termStart, termEnd }: TypedContext["course"]): string | null {
  const years = [Number(termStart.slice(0, 4)), Number(termEnd.slice(0, 4)), Number(termEnd.slice(0, 4)) + 1];
  const days = years.map((year) => `${year}-${String(month).padStart(2, "0")}-${String(day).padStart(2, "0")}`);
  const there = days.filter(isDay);
  return there.find((one) => one >= termStart && one <= termEnd) ?? there.find((one) => one >= termStart) ?? null;
}

/** A day in words; null where it is none, and what is wrong where it contradicts itself. */
function readDay(text: string, context: TypedContext): string | null | { wrong: string } {
  const { today, course } = context;
  if (text === "today") return today;
  if (text === "tomorrow") return dayAfter(today, 1);
  if (isDay(text)) return text;
  const local = readLocalDate(text);
  if (local && local.time === null) return dayNamed(local, context);
  const weekday = weekdayNamed(text);
  if (weekday > 0) return dayAfter(today, (weekday - weekdayOf(today) + 7) % 7);
  const inWeek = /^(?:week |wk |w)(\d{1,2}) ([a-z]{3,})$/.exec(text);
  if (inWeek) {
    const at = weekdayNamed(inWeek[2] as string);
    return at === 0 ? null : dayAfter(mondayOf(course.termStart), (Number(inWeek[1]) - 1) * 7 + at - 1);
  }
  const dated = /^(?:([a-z]{3,}),? )?(\d{1,2})(?:st|nd|rd|th)? ([a-z]{3,})(?:,? (\d{4}))?$/.exec(text);
  if (!dated) return null;
  const [, named, day, monthName = "", year] = dated;
  const month = months.indexOf(monthName.slice(0, 3)) + 1;
  if (month === 0) return null;
  const weekdaySaid = named === undefined ? null : weekdayNamed(named);
  if (weekdaySaid === 0) return { wrong: `"${named}" is no weekday.` };
  return dayNamed({ day: Number(day), month, year: year ? Number(year) : null, weekday: weekdaySaid }, context);
}

/** The day that a text names; or what is wrong with it. */
function dayNamed(
  { day, month, year, weekday }: Omit<LocalDate, "time">,
  { course }: TypedContext,
): string | { wrong: string } {
  const two = (number: number) => String(number).padStart(2, "0");
  const full = year ? `${year}-${two(month)}-${two(day)}` : nearTerm(month, day, course);
  if (!full || !isDay(full)) return { wrong: `There is no ${day} ${monthNames[month - 1]}.` };
  const is = weekdayOf(full);
  return weekday === null || weekday === is
    ? full
    : { wrong: `${sayDate(full)} is a ${weekdays[is - 1]}, not a ${weekdays[weekday - 1]}.` };
}

/** "+1w", "-2d", "+3 days": whole days. */
function readStep(text: string): number | null {
  const found = /^([+-])\s*(\d{1,3})\s*(d|days?|w|weeks?)$/.exec(text);
  if (!found) return null;
  return Number(`${found[1]}${found[2]}`) * ((found[3] as string).startsWith("w") ? 7 : 1);
}

const numberOf = (word: string): number => (numbers.indexOf(word) >= 0 ? numbers.indexOf(word) : Number(word));

/** "m6 start +2d 23:59", "2 days after the end of meeting 4", "last meeting before 1 dec end"; null where it names no meeting. */
function readAnchor(text: string, context: TypedContext): Anchor | null | { wrong: string } {
  const [main = "", otherwise] = text.split(/\s+(?:else|otherwise)\s+/);
  if (!/\bm\s?\d|\bmeeting\b/.test(main)) return null;
  let fallback: string | null = null;
  if (otherwise !== undefined) {
    const read = readMoment(otherwise, context);
    if ("wrong" in read) return read;
    if (typeof read.value !== "string" || read.value === "none")
      return { wrong: "What holds without such a meeting is a plain date." };
    fallback = read.value;
  }
  const split = splitTime(main);
  if (!split) return { wrong: "No clock shows that time." };
  let rest = ` ${split.rest.replaceAll(",", " ")} `;
  const take = (pattern: RegExp): RegExpExecArray | null => {
    const found = pattern.exec(rest);
    if (found) rest = `${rest.slice(0, found.index)} ${rest.slice(found.index + found[0].length)}`;
    return found;
  };
  const before = take(
    / (?:the )?last meeting before ((?:[a-z]{3,} )?\d{1,2} [a-z]{3,}(?: \d{4})?|\d{4}-\d{2}-\d{2})(?= )/,
  );
  const nth = before ? null : take(/ (?:m ?|(?:the )?meeting )(\d{1,4})(?= )/);
  let meeting: Anchor["meeting"];
  if (before) {
    const day = readDay(before[1] as string, context);
    if (typeof day !== "string") return day ?? { wrong: `"${before[1]}" is no day.` };
    meeting = { lastBefore: day };
  } else if (nth && Number(nth[1]) >= 1 && Number(nth[1]) <= 1000) meeting = Number(nth[1]);
  else return { wrong: 'Which meeting? Type "m6", or "last meeting before 1 dec".' };
  const away = take(/ ([a-z]+|\d{1,3}) (days?|weeks?) (after|before)(?= )/);
  const step = away ? null : take(/ ([+-]\s*\d{1,3}\s*(?:d|days?|w|weeks?))(?= )/);
  let days = 0;
  if (away)
    days =
      numberOf(away[1] as string) * ((away[2] as string).startsWith("w") ? 7 : 1) * (away[3] === "before" ? -1 : 1);
  else if (step) days = readStep(step[1] as string) ?? Number.NaN;
  const edge = take(/ (start|end)(?= )/)?.[1] === "end" ? "end" : "start";
  const left = rest.replaceAll(/\b(?:the|of|at)\b/g, "").trim();
  if (left !== "") return { wrong: `"${left}" is not understood. ${examples}` };
  if (!Number.isInteger(days) || Math.abs(days) > 365) return { wrong: "Days away are a whole number up to 365." };
  return { meeting, edge, days, time: split.time, fallback };
}

/** Reads a typed date. */
export function readMoment(typed: string, context: TypedContext): Typed {
  const text = typed.trim().toLowerCase().replaceAll(/\s+/g, " ");
  if (text === "") return { value: null };
  if (text === "none" || text === "no limit") return { value: "none" };
  const anchor = readAnchor(text, context);
  if (anchor) return "wrong" in anchor ? anchor : { value: anchor };
  const kept = context.from?.slice(11) ?? context.usualTime;
  // As it was typed: small letters are not the same in every language.
  const local = readLocalDate(typed);
  if (local) {
    const day = dayNamed(local, context);
    return typeof day === "string" ? { value: `${day}T${local.time ?? kept}` } : day;
  }
  const split = splitTime(text);
  if (!split) return wrong("No clock shows that time.");
  if (split.rest === "") return { value: `${context.from?.slice(0, 10) ?? context.today}T${split.time}` };
  const step = readStep(split.rest);
  if (step !== null) {
    const from = context.from ?? `${context.today}T${context.usualTime}`;
    const moved = addDays(from, step);
    return { value: split.time === null ? moved : `${moved.slice(0, 10)}T${split.time}` };
  }
  const day = readDay(split.rest, context);
  if (day === null) return wrong(`"${typed.trim()}" is not understood. ${examples}`);
  return typeof day === "string" ? { value: `${day}T${split.time ?? kept}` } : day;
}

/** A moment as it can be typed and read again. */
export function writeMoment(moment: Moment | "none" | null): string {
  if (moment === null) return "";
  if (!isAnchor(moment)) return moment.replace("T", " ");
  const { meeting, edge, days, time, fallback } = moment;
  const which = typeof meeting === "number" ? `m${meeting}` : `last meeting before ${meeting.lastBefore}`;
  const away = days === 0 ? "" : ` ${days > 0 ? "+" : "-"}${Math.abs(days)}d`;
  return `${which} ${edge}${away}${time === null ? "" : ` ${time}`}${fallback === null ? "" : ` else ${fallback.replace("T", " ")}`}`;
}

/** Reads what is typed for any field: a moment, a number of attempts or minutes, a password. */
export function readField(
  field: DateField,
  typed: string,
  context: TypedContext,
): { value: GivenValue | null } | { wrong: string } {
  const text = typed.trim();
  if (isMomentField(field)) return readMoment(typed, context);
  if (text === "") return { value: null };
  if (/^(none|no limit)$/i.test(text)) return { value: "none" };
  if (field === "accessWord")
    return text.length > 100 ? { wrong: "A password has at most 100 characters." } : { value: text };
  const most = field === "attempts" ? 1000 : 100_000;
  const number = Number(text);
  return /^\d+$/.test(text) && number >= 1 && number <= most
    ? { value: number }
    : {
        wrong: `${field === "attempts" ? "Attempts" : "Minutes"} are a whole number from 1 to ${sayNumber(most)}, or "none".`,
      };
}

/** A value of any field as it can be typed and read again. */
export const writeField = (given: GivenValue | null): string =>
  given !== null && Moment.safeParse(given).success ? writeMoment(given as Moment) : String(given ?? "");
