/** Going from bar to bar, and what is said of one. */

import { sayInstant } from "../../../../core/clock/local-time.ts";
import { plural } from "../../../kit/words.ts";
import type { Bar, Row } from "./model.ts";

export const barsOf = (rows: Row[], keys: ReadonlySet<string>): Bar[] =>
  rows.flatMap(({ bars }) => bars.filter((bar) => keys.has(bar.key)));

export function placeOf(rows: Row[], key: string | null): { row: Row; bar: Bar; at: number } | null {
  for (const row of rows) {
    const at = row.bars.findIndex((bar) => bar.key === key);
    if (at >= 0) return { row, bar: row.bars[at] as Bar, at };
  }
  return null;
}

/** The bar that an arrow leads to: before and after in the row; the same item, or the nearest, in the next group. */
export function neighbour(rows: Row[], from: ReturnType<typeof placeOf>, key: string): { row: Row; bar: Bar } | null {
  const [firstRow] = rows.filter(({ bars }) => bars.length > 0);
  if (!from) return firstRow ? { row: firstRow, bar: firstRow.bars[0] as Bar } : null;
  const { row, bar, at } = from;
  if (key === "ArrowLeft" || key === "ArrowRight") {
    const next = row.bars[at + (key === "ArrowRight" ? 1 : -1)];
    return next ? { row, bar: next } : null;
  }
  const by = key === "ArrowDown" ? 1 : -1;
  for (let index = rows.indexOf(row) + by; index >= 0 && index < rows.length; index += by) {
    const next = rows[index] as Row;
    if (next.bars.length === 0) continue;
    const near = [...next.bars].sort((a, b) => Math.abs(a.from - bar.from) - Math.abs(b.from - bar.from))[0] as Bar;
    return { row: next, bar: next.bars.find(({ item }) => item.id === bar.item.id) ?? near };
  }
  return null;
}

export function sayBar({ item, group, moments, time, differ, wrong, short, clashes }: Bar, timeZone: string): string {
  const parts = (["opens", "due", "closes"] as const)
    .filter((field) => moments[field] !== null)
    .map((field) => `${field} ${sayInstant(moments[field] as number, timeZone)}`);
  if (time) parts.push(`${plural(time.days, "day")} and ${plural(time.meetings, "meeting")} to work`);
  if (differ > 0) parts.push(plural(differ, "has other dates", "have other dates"));
  if (wrong) parts.push("out of order");
  if (short) parts.push("much less time than another group");
  if (clashes) parts.push("another due on the same day");
  return `${item.title}, ${group.name}: ${parts.join(", ")}`;
}
