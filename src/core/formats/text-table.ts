/** A table as it was read from a file or pasted, and why one could not be. */
import { type Cells, ListedCells } from "./cells.ts";

export interface TextTable {
  name: string;
  header: string[];
  /** The cells of each row, without the space around them. */
  rows: string[][];
  /** The line of the file that each row begins on. */
  lines: number[];
  /** The sheet that it stands on, where it comes from a workbook. */
  sheet?: string;
  /** What of the file was left out or taken otherwise than it stands, a sentence each. */
  notes?: string[];
  /** Of a list that holds only what changed: whom it names as gone, and from which section (empty: from all). */
  changesOnly?: { ended: { sourcedId: string; sectionCode: string }[] };
  /** The same cells where they stand in the text: `rows` are cut out of it when all are asked for. */
  cells?: Cells;
}

export const cellsOf = (table: TextTable): Cells => table.cells ?? new ListedCells(table.rows);
/** The first rows of a table. */
export const firstRows = (table: TextTable, count: number): string[][] =>
  table.cells
    ? table.lines.slice(0, count).map((_, row) => (table.cells as Cells).row(row))
    : table.rows.slice(0, count);
export interface Unreadable {
  unreadable: true;
  name: string;
  /** What is wrong with the file and what to do next. */
  sentence: string;
  /** Whether it is sound and holds a header alone: where no rows may be meant. */
  isBare?: boolean;
}
/** Told now and then while something long goes on: how much of the whole is done, 0 to 1. */
export type Progressed = (share: number) => void;

export const refused = (name: string, sentence: string): Unreadable => ({
  unreadable: true,
  name,
  sentence,
});
