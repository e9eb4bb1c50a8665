/** Days without class as they are typed: a line each, a day or a range, and what they are called. */

import type { z } from "zod";
import { dayAfter, daysBetween, isDay } from "../../clock/local-time.ts";
import type { NoClassDay as Schema } from "../../plan/course.ts";
import { cut } from "../../text/shorten.ts";

type NoClassDay = z.infer<typeof Schema>;

/** A range longer than this is a slip of the keyboard. */
const longestRange = 60;
/** "2026-12-24", "2026-12-24 to 2027-01-02", and whatever follows as a title. */
const line = /^(\d{4}-\d{2}-\d{2})(?:\s*(?:to|-|–)\s*(\d{4}-\d{2}-\d{2}))?(?:[\s,:]+(.*))?$/;

/** The days of one line and their title, or what is wrong with it. */
function readLine(written: string): { from: string; length: number; title: string } | { wrong: string } {
  const [, from = "", to = from, title = ""] = line.exec(written) ?? [];
  if (!isDay(from) || !isDay(to)) return { wrong: "write a day such as 2026-12-24, or 2026-12-24 to 2027-01-02." };
  const length = daysBetween(from, to) + 1;
  if (length < 1) return { wrong: "the range ends before it begins." };
  if (length > longestRange) return { wrong: `the range is longer than ${longestRange} days.` };
  return { from, length, title: cut(title.trim(), 100) };
}

/**
 * Reads days without class. Empty lines count for nothing; a day named twice keeps its first title.
 * Gives the days in order, or a sentence that names the line that cannot be read.
 */
export function readNoClassDays(text: string): { days: NoClassDay[] } | { wrong: string } {
  const days = new Map<string, string>();
  for (const [at, written] of text.split(/\r\n|[\n\r]/).entries()) {
    if (written.trim() === "") continue;
    const read = readLine(written.trim());
    if ("wrong" in read) return { wrong: `Line ${at + 1}, "${written.trim()}": ${read.wrong}` };
    for (let day = 0; day < read.length; day++) {
      const one = dayAfter(read.from, day);
      if (!days.has(one)) days.set(one, read.title);
    }
  }
  if (days.size > 200) return { wrong: "There are more than 200 days without class." };
  return { days: [...days].sort(([a], [b]) => (a < b ? -1 : 1)).map(([day, title]) => ({ day, title })) };
}

/** The same days as they would be typed: neighbours of one title as a range. */
export function writeNoClassDays(days: NoClassDay[]): string {
  const ranges: { from: string; to: string; title: string }[] = [];
  for (const { day, title } of days) {
    const last = ranges.at(-1);
    if (last && last.title === title && dayAfter(last.to, 1) === day) last.to = day;
    else ranges.push({ from: day, to: day, title });
  }
  return ranges
    .map(({ from, to, title }) => `${from === to ? from : `${from} to ${to}`}${title && ` ${title}`}`)
    .join("\n");
}
