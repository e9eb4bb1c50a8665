/** Dates as spreadsheets write them into text: 05/10/2026 09:00, 5.10.26 9:00 AM, 2026-10-05 09:00:00. */
import { isDay } from "../../clock/local-time.ts";

/** Whether the day or the month comes first where both are numbers. */
export type DayOrder = "day first" | "month first";

const slashed = /^(\d{1,2})([/.-])(\d{1,2})\2(\d{4}|\d{2})(?:,?\s+(.+))?$/;
const timed = /^(\d{1,2})[:.](\d{2})(?:[:.]\d{2}(?:[.,]\d+)?)?\s*([ap])?\.?m?\.?$/i;

/** The order that some dates of one file share, by those that can be read in one way alone; null where none tells. */
export function dayOrderOf(texts: Iterable<string>): DayOrder | null {
  const found = new Set<DayOrder>();
  for (const text of texts) {
    const parts = slashed.exec(text.trim());
    if (!parts) continue;
    // Whoever divides by points writes the day first.
    if (Number(parts[1]) > 12 || parts[2] === ".") found.add("day first");
    else if (Number(parts[3]) > 12) found.add("month first");
  }
  return found.size === 1 ? ([...found][0] as DayOrder) : null;
}

function timeOf(text: string): string | null {
  const found = timed.exec(text.trim());
  if (!found) return null;
  const half = found[3]?.toLowerCase();
  const hour = half ? (Number(found[1]) % 12) + (half === "p" ? 12 : 0) : Number(found[1]);
  return hour > 23 || Number(found[2]) > 59 ? null : `${String(hour).padStart(2, "0")}:${found[2]}`;
}

/** The text as it can be typed here, "2026-10-05 09:00"; unchanged where it is no date of a spreadsheet. */
export function asTyped(text: string, order: DayOrder | null): { text: string } | { wrong: string } {
  const trimmed = text.trim();
  // Midnight in front of nothing, and seconds, are only the spreadsheet's.
  const iso = /^(\d{4}-\d{2}-\d{2})[ T](\d{2}:\d{2})(?::\d{2}(?:\.\d+)?)?$/.exec(trimmed);
  if (iso) return { text: `${iso[1]} ${iso[2]}` };
  const parts = slashed.exec(trimmed);
  if (!parts) return { text };
  const [, one = "", , other = "", shortYear = "", time] = parts;
  const year = shortYear.length === 2 ? `20${shortYear}` : shortYear;
  const day = (dayNumber: string, month: string) => `${year}-${month.padStart(2, "0")}-${dayNumber.padStart(2, "0")}`;
  const [dayFirst, monthFirst] = [day(one, other), day(other, one)];
  const both = isDay(dayFirst) && isDay(monthFirst) && dayFirst !== monthFirst;
  if (both && order === null && dayOrderOf([trimmed]) === null)
    return { wrong: `"${trimmed}" may be ${dayFirst} or ${monthFirst}: write it as one of these.` };
  const chosen = (order ?? dayOrderOf([trimmed]) ?? "day first") === "day first" ? dayFirst : monthFirst;
  if (!isDay(chosen)) return { wrong: `There is no day ${trimmed}.` };
  if (!time) return { text: chosen };
  const clock = timeOf(time);
  return clock === null ? { wrong: `"${time}" is no time of day.` } : { text: `${chosen} ${clock}` };
}
