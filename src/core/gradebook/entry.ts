/** Marks as they are typed, pasted or read from a file, judged before anything changes. Source: semantics.md section 7. */

import type { Mark } from "../plan/progress.ts";
import type { Item } from "../plan/types.ts";
import { decimalSign, sayPoints } from "../text/locale.ts";
import { type DecimalSign, decimalSignOf, readNumber } from "../text/numbers.ts";
import type { Sheet } from "./sheet.ts";

/** A person's own mark: points, or an excuse; null: none. */
export type Given = { points: number | null; excused: boolean } | null;

export const sameMark = (a: Given, b: Given): boolean =>
  (a?.points ?? null) === (b?.points ?? null) && (a?.excused ?? false) === (b?.excused ?? false);

/** The own mark in a cell: a shared one is its group's. */
export const ownMark = (mark: Mark | undefined): Given =>
  mark && mark.shared === undefined ? { points: mark.points, excused: mark.excused } : null;

/** "14.5", "x", or nothing. */
export const sayMark = (mark: Given): string =>
  mark?.excused ? "x" : mark?.points == null ? "" : sayPoints(mark.points);

const mostPoints = 1_000_000;

interface MarkReading {
  /** The points that there are, of which per cent are taken; null: none are known. */
  possible?: number | null;
  /** The decimal sign of the file, where it is known. */
  decimal?: DecimalSign | null;
  /** Whether the reader types it: a comma before three digits is then what it is in their locale. */
  isTyped?: boolean;
}

/** What a comma before three digits means is asked of whoever types it: they know how they write numbers. */
function numberIn(text: string, { decimal = null, isTyped = false }: MarkReading): number | "either" | null {
  const read = readNumber(text, decimal);
  return read === "either" && isTyped && decimalSign() === "," ? readNumber(text, ",") : read;
}

/**
 * What somebody typed: points with a point or a comma, per cent of the points that there are, x (or the word excused),
 * "none" to take a mark away. Nothing typed is null. Points go to a thousandth.
 */
export function readMark(
  text: string,
  { possible = null, decimal = null, isTyped = false }: MarkReading = {},
): { mark: Given } | { wrong: string } | null {
  const typed = text.trim().toLowerCase();
  if (typed === "") return null;
  if (typed === "none") return { mark: null };
  if (/^(x|excused|exempt)$/.test(typed)) return { mark: { points: null, excused: true } };
  const percent = /^(.*\d.*?)\s*%$/.exec(typed)?.[1];
  const number = numberIn(percent ?? typed, { decimal, isTyped });
  if (number === "either")
    return {
      wrong: `"${text.trim()}" may be ${typed.replace(",", ".")} or ${typed.replace(",", "")}. Write it without the comma.`,
    };
  if (percent !== undefined && number !== null && possible === null)
    return { wrong: `"${text.trim()}" is a share of points, and how many there are is not known. Write points.` };
  const points =
    number === null ? Number.NaN : percent === undefined ? number : Math.round((possible ?? 0) * number * 10) / 1000;
  if (Number.isFinite(points) && points <= mostPoints && Math.abs(points * 1000 - Math.round(points * 1000)) < 1e-6)
    return { mark: { points, excused: false } };
  return {
    wrong: `"${text.trim()}" is not a mark. Write points such as 14.5, 85 %, x to excuse, or none to take a mark away.`,
  };
}

/** Whether a mark gives more points than there are, which is asked about before it is stored. */
export const exceeds = (item: Item, mark: Given): boolean =>
  mark?.points != null && item.points !== null && mark.points > item.points;
export const sayExceeds = (item: Item, mark: Given): string =>
  `${sayMark(mark)} is more than the ${sayPoints(item.points ?? 0)} points that there are`;

export const verdicts = [
  "changed",
  "more than there are",
  "same",
  "not a mark",
  "not theirs",
  "unknown student",
  "outside scope",
  "unknown column",
  "twice",
] as const;
export type MarkVerdict = (typeof verdicts)[number];

export interface JudgedMark {
  verdict: MarkVerdict;
  /** Where it stands: "line 4", "row 2, column 3". */
  where: string;
  text: string;
  /** What is wrong, or what it would do. */
  says: string;
  personId: string | null;
  itemId: string | null;
  before: Given;
  after: Given;
}

interface JudgeOptions {
  /** Where it stands: "line 4". */
  where: string;
  /** The decimal sign of the file, where it is known. */
  decimal?: DecimalSign | null;
  /** Whether the reader types it: a comma before three digits is then what it is in their locale. */
  isTyped?: boolean;
}

/** One text for a cell, judged; an empty one leaves the mark as it is. */
export function judgeMark(
  sheet: Sheet,
  item: Item,
  personId: string,
  text: string,
  { where, decimal = null }: JudgeOptions,
): JudgedMark {
  const cell = sheet.cell(item, personId);
  const before = ownMark(cell?.mark);
  const base = { where, text, personId, itemId: item.id, before, after: before };
  const read = readMark(text, { possible: item.points, decimal });
  if (read && "wrong" in read) return { ...base, verdict: "not a mark", says: read.wrong };
  // What a shared mark says already needs no mark of one's own.
  const shown: Given = cell?.mark ? { points: cell.mark.points, excused: cell.mark.excused } : null;
  if (!read || sameMark(read.mark, before) || (read.mark !== null && sameMark(read.mark, shown)))
    return { ...base, verdict: "same", says: "stays as it is" };
  if (!cell || cell.state === "not theirs")
    return { ...base, verdict: "not theirs", says: `${item.title} was not assigned to them` };
  const isMore = exceeds(item, read.mark);
  return {
    ...base,
    after: read.mark,
    verdict: isMore ? "more than there are" : "changed",
    says: isMore
      ? sayExceeds(item, read.mark)
      : `${sayMark(before) || "no mark"} becomes ${sayMark(read.mark) || "no mark"}`,
  };
}

/** A block from a spreadsheet: rows of cells; a newline at the end makes no row. */
export const readBlock = (text: string): string[][] =>
  text
    .replace(/\r\n?/g, "\n")
    .replace(/\n$/, "")
    .split("\n")
    .map((line) => line.split("\t"));

/** A block put on the grid with its corner at a cell; what reaches past the grid is told, and one value fills a range. */
export function judgeBlock(
  sheet: Sheet,
  block: string[][],
  rows: string[],
  columns: Item[],
  corner: { row: number; column: number },
): JudgedMark[] {
  const decimal = decimalSignOf(block.flat());
  return block.flatMap((cells, down) =>
    cells.map((text, across): JudgedMark => {
      const where = `row ${down + 1}, column ${across + 1} of the block`;
      const [personId, item] = [rows[corner.row + down], columns[corner.column + across]];
      if (personId && item) return judgeMark(sheet, item, personId, text, { where, decimal });
      const none = { where, text, personId: personId ?? null, itemId: item?.id ?? null, before: null, after: null };
      return personId
        ? { ...none, verdict: "unknown column", says: "reaches past the last column" }
        : { ...none, verdict: "unknown student", says: "reaches past the last student" };
    }),
  );
}

/** How many there are of each verdict. */
export function countVerdicts(judged: JudgedMark[]): Record<MarkVerdict, number> {
  const counts = Object.fromEntries(verdicts.map((verdict) => [verdict, 0])) as Record<MarkVerdict, number>;
  for (const { verdict } of judged) counts[verdict]++;
  return counts;
}
