/** Dates as the reader's own locale writes them: "Oct 5, 9:00 PM", "5. Okt.", "5.10.2026", "10月5日". Source: semantics.md section 6. */
import { readersLocale } from "../../text/locale.ts";

/** What a text says of a moment. `weekday` is 1 to 7, Monday first; null is what it does not say. */
export interface LocalDate {
  day: number;
  month: number;
  year: number | null;
  weekday: number | null;
  /** `HH:MM` */
  time: string | null;
}

/** A way in which a date is written: the text, what its brackets hold in order, and what the names in it stand for. */
interface Form {
  pattern: RegExp;
  parts: Intl.DateTimeFormatPartTypes[];
  names: Partial<Record<Intl.DateTimeFormatPartTypes, Map<string, number>>>;
}
type Style = Intl.DateTimeFormatOptions;

const isSpace = /[\s\u00a0\u202f]/;
/** Signs that no keyboard has, or that are not seen, and capitals: not what a date differs by. */
const plainly = (text: string, locale: string): string =>
  text
    .normalize("NFC")
    .toLocaleLowerCase(locale)
    .replaceAll(/[\u200e\u200f\u2066-\u2069]/g, "")
    .replaceAll(/[\s\u00a0\u202f]+/g, " ");

const escaped = (text: string): string => text.replaceAll(/[.*+?^${}()|[\]\\/-]/g, "\\$&");
const isNumeric = (value: string | undefined): boolean => value !== undefined && /^\d+$/.test(value);

/** What stands between two parts. Points and commas may be left out; between two numbers where a space parts them still. */
function between(text: string, isBetweenNumbers: boolean): string {
  const signs = [...text].map((sign) => {
    if (isSpace.test(sign)) return "\\s*";
    return /[.,،’']/.test(sign) && !isBetweenNumbers ? `${escaped(sign)}?` : escaped(sign);
  });
  return isBetweenNumbers && isSpace.test(text) ? `(?:${signs.join("")}|\\s+)` : signs.join("");
}

/** The names that a part has in a style, each with its number: twelve months, seven weekdays, or the halves of a day. */
function namesOf(format: Intl.DateTimeFormat, part: Intl.DateTimeFormatPartTypes, locale: string): Map<string, number> {
  const names = new Map<string, number>();
  const note = (at: number, number: number) => {
    const found = format.formatToParts(at).find(({ type }) => type === part)?.value;
    if (found) names.set(plainly(found, locale).replace(/\.$/, ""), number);
  };
  if (part === "month") for (let month = 1; month <= 12; month++) note(Date.UTC(2026, month - 1, 5), month);
  // The fifth of January 2026 is a Monday.
  if (part === "weekday") for (let day = 1; day <= 7; day++) note(Date.UTC(2026, 0, 4 + day), day);
  if (part === "dayPeriod") for (const half of [0, 12]) note(Date.UTC(2026, 0, 5, half + 9), half);
  return names;
}

const numbersOf: Partial<Record<Intl.DateTimeFormatPartTypes, string>> = {
  day: "(\\d{1,2})",
  month: "(\\d{1,2})",
  year: "(\\d{4}|\\d{2})",
  hour: "(\\d{1,2})",
  minute: "(\\d{2})",
};

function formOf(locale: string, style: Style): Form {
  const format = new Intl.DateTimeFormat(`${locale}-u-ca-gregory-nu-latn`, { timeZone: "UTC", ...style });
  const sample = format.formatToParts(Date.UTC(2026, 9, 5, 9, 5));
  const parts: Form["parts"] = [];
  const names: Form["names"] = {};
  const pieces = sample.map(({ type, value }, at) => {
    if (type === "literal") {
      const text = plainly(value, locale);
      return between(text, isNumeric(sample[at - 1]?.value) && isNumeric(sample[at + 1]?.value));
    }
    parts.push(type);
    if (isNumeric(value)) return numbersOf[type] ?? "(\\d+)";
    const named = namesOf(format, type, locale);
    names[type] = named;
    const longestFirst = [...named.keys()].sort((a, b) => b.length - a.length);
    return `(${longestFirst.map(escaped).join("|")})\\.?`;
  });
  // A point at the end of a number is often left out.
  return { pattern: new RegExp(`^\\s*${pieces.join("").replace(/\\\.$/, "\\.?")}\\s*$`), parts, names };
}

const weekdays: Style[] = [{}, { weekday: "short" }, { weekday: "long" }];
const months: Style[] = [{ month: "short" }, { month: "long" }, { month: "numeric" }];
const years: Style[] = [{}, { year: "numeric" }];
const clock = { hour: "numeric", minute: "2-digit" } as const;
const times: Style[] = [{}, { ...clock, hourCycle: "h12" }, { ...clock, hourCycle: "h23" }];
const styles = times.flatMap((time) =>
  years.flatMap((year) =>
    months.flatMap((month) => weekdays.map((weekday) => ({ ...weekday, day: "numeric", ...month, ...year, ...time }))),
  ),
) as Style[];

/** The forms of a locale, each made when it is first asked for. */
const formsOf = new Map<string, Form[]>();
function* formsIn(locale: string): Iterable<Form> {
  const made = formsOf.get(locale) ?? [];
  formsOf.set(locale, made);
  for (const [place, style] of styles.entries()) {
    made[place] ??= formOf(locale, style);
    yield made[place];
  }
}

/** The number that a part of a text stands for; null where it has no such part. */
function numberAt({ parts, names }: Form, found: RegExpExecArray, part: Intl.DateTimeFormatPartTypes): number | null {
  const at = parts.indexOf(part);
  const text = at < 0 ? undefined : found[at + 1];
  if (text === undefined) return null;
  return names[part]?.get(text) ?? Number(text);
}

/** A time of day; null where no clock shows it. */
function timeOf(hour: number, minute: number, half: number | null): string | null {
  if (minute > 59 || hour > 23 || (half !== null && (hour < 1 || hour > 12))) return null;
  const whole = half === null ? hour : (hour % 12) + half;
  return `${String(whole).padStart(2, "0")}:${String(minute).padStart(2, "0")}`;
}

/** What a text says in one form; null where it is not written so, or says what no calendar or clock shows. */
function readIn(form: Form, text: string): LocalDate | null {
  const found = form.pattern.exec(text);
  if (!found) return null;
  const number = (part: Intl.DateTimeFormatPartTypes) => numberAt(form, found, part);
  const [day, month, hour] = [number("day") ?? 0, number("month") ?? 0, number("hour")];
  const time = hour === null ? null : timeOf(hour, number("minute") ?? 0, number("dayPeriod"));
  if (month < 1 || month > 12 || (hour !== null && time === null)) return null;
  const year = number("year");
  return { day, month, year: year !== null && year < 100 ? 2000 + year : year, weekday: number("weekday"), time };
}

/** Reads a date, with its time where it has one; null where it is not written as the reader's locale writes it. */
export function readLocalDate(typed: string): LocalDate | null {
  const { locale } = readersLocale();
  const text = plainly(typed, locale);
  // Most of what is typed and stored is no date of this kind at all: a number, or 2026-10-05.
  if (!/\d/.test(text) || /^[\d\s]+$|^\d{4}-\d\d-\d\d/.test(text)) return null;
  for (const form of formsIn(locale)) {
    const read = readIn(form, text);
    if (read) return read;
  }
  return null;
}
