/** Bytes of a delimited file in, rows of cells out. Encodings, quotes and embedded newlines are taken as they come. */

import Papa, { type ParseResult } from "papaparse";
import { sayNumber } from "../text/locale.ts";
import { type CutCells, cutCells, withoutGuard } from "./cells.ts";
import { decode } from "./encoding.ts";
import { headerAt, saysAbove, withoutInvisible, withoutSeparatorLine, withoutTextMark } from "./leading.ts";
import { cellsOf, type Progressed, refused, type TextTable, type Unreadable } from "./text-table.ts";

export const isBlank = (cells: string[]): boolean => {
  for (const cell of cells) if (cell !== "") return false;
  return true;
};

export interface ReadTableOptions {
  progressed?: Progressed | undefined;
  /** Written by a program for programs: an apostrophe before a sign of a formula is part of the text. */
  isInterchange?: boolean;
}

/** A table from text: comma, semicolon, tab or bar, whichever the text uses. Cells are NFC. */
export function readTable(
  name: string,
  content: Uint8Array | string,
  { progressed, isInterchange = false }: ReadTableOptions = {},
): TextTable | Unreadable {
  const { text, notes: guessed } = typeof content === "string" ? { text: content, notes: [] } : decode(content);
  // Text files hold no NUL; pictures and older spreadsheets do.
  if (text.includes("\u0000") || text.startsWith("PK\u0003\u0004"))
    return refused(name, `${name} is not a text file. Export the roster as CSV or XLSX and drop that.`);
  const { text: seen, notes: taken } = withoutInvisible(text.charCodeAt(0) === 0xfeff ? text.slice(1) : text);
  const { text: unmarked, delimiter: said } = withoutSeparatorLine(seen);
  const notes = [...guessed, ...taken];
  // Only combining characters and what lies beyond them is ever composed.
  const composed = /[\u0300-\uffff]/.test(unmarked) ? unmarked.normalize("NFC") : unmarked;
  // Files that were put together have several kinds of line end: a parser takes the first for all, and loses rows. Here
  // each line ends in one line feed; what stands before it is cut off with the space around a cell.
  const plain = /\r(?!\r*\n)/.test(composed) ? composed.replace(/\r*\n|\r/g, "\n") : composed;
  if (isOverWide(plain)) return refused(name, saysTooWide(name, null));
  // The delimiter is guessed without the blank lines, which are kept below so that line numbers stay right. Were line ends
  // mixed, the guess would take lines together and count the signs within them.
  const guess = Papa.parse(plain.slice(0, 100_000).replace(/\r*\n/g, "\n"), {
    preview: 20,
    newline: "\n",
    skipEmptyLines: "greedy",
    delimitersToGuess: [",", "\t", ";", "|"],
  }).meta;
  const delimiter = said ?? guess.delimiter;
  const cut = cutCells(plain, { delimiter, progressed, isGuarded: !isInterchange });
  if (cut) return whole(cutTable(name, cut.cells, cut.lines), notes);
  const even = plain.includes("\r") ? plain.replace(/\r*\n/g, "\n") : plain;
  const chunks: string[][][] = [];
  let openQuote = false;
  // The types know chunks of streams only; the parser gives them of a text as well.
  const chunked: object = {
    delimiter,
    newline: "\n",
    // Pieces as large as may be, since each costs something, and small enough to tell how far it is.
    chunkSize: 16_000_000,
    chunk({ data, errors, meta }: ParseResult<string[]>) {
      chunks.push(data);
      openQuote ||= errors.some(({ code }) => code === "MissingQuotes");
      progressed?.(Math.min(1, meta.cursor / even.length));
    },
  };
  Papa.parse(even, chunked);
  const records = chunks.length === 1 ? (chunks[0] as string[][]) : chunks.flat();
  const embedded = countLines(even) > records.length;
  const guarded = !isInterchange && plain.includes("'") && /'[=+\-@\t\r]/.test(plain);
  let line = 1;
  const isMarked = plain.includes('="');
  const rows: string[][] = [];
  const lines: number[] = [];
  for (const cells of records) {
    const at = line++;
    if (embedded) for (const cell of cells) if (cell.includes("\n")) line += cell.split("\n").length - 1;
    for (let column = 0; column < cells.length; column++) {
      const trimmed = (cells[column] as string).trim();
      const cell = isMarked ? withoutTextMark(trimmed) : trimmed;
      cells[column] = guarded ? withoutGuard(cell) : cell;
    }
    if (isBlank(cells)) continue;
    rows.push(cells);
    lines.push(at);
  }
  if (openQuote) {
    const last = lines.at(-1) ?? 1;
    return refused(
      name,
      `${name}, line ${last}: a quotation mark is opened and never closed, so the rest cannot be told apart. Close it, and drop the file again.`,
    );
  }
  const header = headerAt(rows);
  notes.push(...saysAbove(rows.slice(0, header)));
  return whole(
    { name, header: rows[header] ?? [], rows: rows.slice(header + 1), lines: lines.slice(header + 1) },
    notes,
  );
}

/** A text of which the rows under the header are cut out when they are asked for. */
function cutTable(name: string, cells: CutCells, lines: number[]): TextTable {
  const first = Array.from({ length: Math.min(cells.count, 10) }, (_, row) => cells.row(row));
  const at = headerAt(first);
  const [header, under] = [first[at] ?? [], cells.from(Math.min(at + 1, cells.count))];
  let rows: string[][] | null = null;
  return {
    name,
    header,
    get rows() {
      rows ??= lines.slice(at + 1).map((_, row) => under.row(row));
      return rows;
    },
    lines: lines.slice(at + 1),
    cells: under,
    notes: saysAbove(first.slice(0, at)),
  };
}

/** More columns, or letters in a cell, than any roster or list of marks has: such a file is another one than was meant. */
export const mostColumns = 300;
export const mostLetters = 32_767;
const saysTooWide = (name: string, columns: number | null) =>
  `${name} has ${columns === null ? "far too many" : columns} columns; ${mostColumns} can be read. Is it the file that was meant? Export the columns that are needed, and drop that.`;

/** Whether the beginning of a text has lines of so many cells that it is not even worth dividing. */
function isOverWide(text: string): boolean {
  const start = text.slice(0, 1_000_000);
  for (let from = 0; from < start.length; ) {
    const end = start.indexOf("\n", from);
    const line = start.slice(from, end < 0 ? undefined : end);
    if (line.length > 10_000 && (line.match(/[,;\t|]/g)?.length ?? 0) > 10 * mostColumns && !line.includes('"'))
      return true;
    if (end < 0) break;
    from = end + 1;
  }
  return false;
}

/**
 * The row that is far wider than the header, where there is one: two rows without a line end between them, of which the
 * second would be lost. Gives the row's place and how many cells it fills.
 */
function farWider(table: TextTable): { row: number; width: number } | null {
  const cells = cellsOf(table);
  const limit = Math.max(3, 2 * table.header.length - 1);
  for (let row = 0; row < table.lines.length; row++) {
    let width = cells.width(row);
    while (width >= limit && cells.isEmpty(row, width - 1)) width--;
    if (width >= limit) return { row, width };
  }
  return null;
}

/** Why a table cannot be what was meant, though it could be read. */
function whyNotMeant(table: TextTable): string | null {
  const { name, header, lines } = table;
  if (header.length > mostColumns) return saysTooWide(name, header.length);
  if (cellsOf(table).longest > mostLetters)
    return `${name} has a cell of more than ${sayNumber(mostLetters)} letters. Is a quotation mark missing? Look at the file, and drop it again.`;
  const wide = header.length < 2 ? null : farWider(table);
  return wide
    ? `${name}, line ${lines[wide.row]}: ${wide.width} cells stand under a header of ${header.length}. Are two lines joined there? Divide them, or take out what stands beyond the header, and drop the file again.`
    : null;
}

/** The table, if it has a header and rows, with what is to be said of the file. */
function whole(table: TextTable, notes: string[]): TextTable | Unreadable {
  const { name, header, lines } = table;
  const trouble = whyNotMeant(table);
  if (trouble !== null) return refused(name, trouble);
  if (header.length === 0) return refused(name, `${name} is empty. Export the roster again and drop it here.`);
  if (lines.length === 0)
    return {
      ...refused(name, `${name} has a header and no rows under it. Export the roster again and drop it here.`),
      isBare: true,
    };
  // The rows of a long text are cut out when they are asked for: the table itself is kept.
  const all = [...notes, ...(table.notes ?? [])];
  if (all.length > 0) table.notes = all;
  else delete table.notes;
  return table;
}

function countLines(text: string): number {
  let lines = 1;
  for (let at = text.indexOf("\n"); at >= 0; at = text.indexOf("\n", at + 1)) lines++;
  return lines;
}

/** Cells that a spreadsheet would run as a formula are made harmless with a leading apostrophe. */
export const harmless = (cell: string): string => (/^'*[=+\-@\t\r]/.test(cell) ? `'${cell}` : cell);

/** `isInterchange`: read by programs alone, which would take a guard against formulas for part of the text. */
export function writeCsv(header: string[], rows: string[][], { isInterchange = false } = {}): string {
  const guard = (cells: string[]) => (isInterchange ? cells : cells.map(harmless));
  return `${Papa.unparse({ fields: guard(header), data: rows.map(guard) }, { newline: "\r\n" })}\r\n`;
}
