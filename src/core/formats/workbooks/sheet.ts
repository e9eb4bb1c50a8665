/** A sheet of a workbook, whichever file it came from, as a table with what is to be said of it. */
import { sayNumber } from "../../text/locale.ts";
import { withoutGuard } from "../cells.ts";
import { headerAt, saysAbove } from "../leading.ts";
import { isBlank, mostColumns, mostLetters } from "../text.ts";
import type { TextTable } from "../text-table.ts";

export interface SheetCells {
  name: string;
  isHidden: boolean;
  /** A row a list of texts, as they are meant: an id with its zeros, a day as 2026-10-05. */
  rows: { line: number; cells: string[]; isHidden: boolean }[];
  /** Letters of the columns that are hidden. */
  hiddenColumns: string[];
  /** Cells that say nothing that can be used, and why: an error, a formula without its value. */
  faults: { cell: string; what: string }[];
}

/** More rows than any roster or list of marks has: such a sheet is another one than was meant. */
export const mostRows = 200_000;

/** A workbook of which a sheet has more than can be read. Its message goes on after "The file has". */
export class TooLarge extends Error {}
export const tooWide = (columns: number): TooLarge =>
  new TooLarge(`${sayNumber(columns)} columns; ${mostColumns} can be read`);
export const tooLong = (rows: number): TooLarge =>
  new TooLarge(`${sayNumber(rows)} rows; ${sayNumber(mostRows)} can be read`);

/** Throws where a sheet has more than can be read. */
export function holdToLimits({ rows }: SheetCells): void {
  if (rows.length > mostRows) throw tooLong(rows.length);
  for (const { cells, line } of rows) {
    if (cells.length > mostColumns) throw tooWide(cells.length);
    if (cells.some((cell) => cell.length > mostLetters))
      throw new TooLarge(`a cell of more than ${sayNumber(mostLetters)} letters, in row ${line}`);
  }
}

/** What arithmetic of binary fractions added behind the fifteenth digit is not meant. */
export const rounded = (value: number): number => Number(value.toPrecision(15));

/** The number of a column, counted from nought, by its letters. */
export const columnNumber = (letters: string): number =>
  [...letters].reduce((sum, letter) => sum * 26 + letter.charCodeAt(0) - 64, 0) - 1;

/** The letters of a column, counted from nought: 0 is A, 26 is AA. */
export function columnLetters(column: number): string {
  const rest = Math.floor(column / 26);
  return (rest > 0 ? columnLetters(rest - 1) : "") + String.fromCharCode(65 + (column % 26));
}

const mostNamed = 5;
const named = (all: readonly (string | number)[]): string =>
  all.length > mostNamed ? `${all.slice(0, mostNamed).join(", ")} and ${all.length - mostNamed} more` : all.join(", ");
const counted = (one: string, all: readonly (string | number)[]): string =>
  `${one}${all.length === 1 ? "" : "s"} ${named(all)}`;

function saysHidden(sheet: SheetCells, lines: number[]): string[] {
  const parts = [
    ...(sheet.isHidden ? [`the sheet ${sheet.name}`] : []),
    ...(lines.length > 0 ? [counted("row", lines)] : []),
    ...(sheet.hiddenColumns.length > 0 ? [counted("column", sheet.hiddenColumns)] : []),
  ];
  return parts.length > 0 ? [`Hidden in the workbook, and read all the same: ${parts.join("; ")}.`] : [];
}

/** What cells without a value are, one sentence a kind. */
function saysFaults({ faults }: SheetCells): string[] {
  const kinds = new Map<string, string[]>();
  for (const { cell, what } of faults) kinds.set(what, [...(kinds.get(what) ?? []), cell]);
  return [...kinds].map(([what, cells]) => `Taken as empty: ${counted("cell", cells)}, ${what}.`);
}

/** The table of a sheet; null where it has no header with rows under it. */
export function tableOf(bookName: string, sheet: SheetCells): TextTable | null {
  const rows = sheet.rows
    .map((row) => ({ ...row, cells: row.cells.map((cell) => withoutGuard(cell.normalize("NFC").trim())) }))
    .filter(({ cells }) => !isBlank(cells));
  const texts = rows.map(({ cells }) => cells);
  const at = headerAt(texts);
  const header = texts[at];
  if (!header || rows.length <= at + 1) return null;
  const notes = [
    ...saysAbove(texts.slice(0, at)),
    ...saysHidden(
      sheet,
      rows.flatMap(({ line, isHidden }) => (isHidden ? [line] : [])),
    ),
    ...saysFaults(sheet),
  ];
  const under = rows.slice(at + 1);
  return {
    name: bookName,
    header,
    rows: under.map(({ cells }) => cells),
    lines: under.map(({ line }) => line),
    sheet: sheet.name,
    ...(notes.length > 0 ? { notes } : {}),
  };
}
