/** A table on its way out, before its format is chosen. */

/** What stands in a cell: a text, a number, or a day, or a day and its time, as local time ("2026-10-05 09:00"). */
export type OutCell = string | number | { day: string };
export interface OutTable {
  sheet: string;
  header: string[];
  rows: OutCell[][];
}

export const textOf = (cell: OutCell): string => (typeof cell === "object" ? cell.day : String(cell));
/** Rows of cells as texts. */
export const plainRows = (rows: readonly OutCell[][]): string[][] => rows.map((row) => row.map(textOf));
