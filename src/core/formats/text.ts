/** Bytes of a delimited file in, rows of cells out. Encodings, quotes and embedded newlines are taken as they come. */
import Papa from "papaparse";

export interface TextTable {
  name: string;
  header: string[];
  rows: { line: number; cells: string[] }[];
}
export interface Unreadable {
  unreadable: true;
  name: string;
  /** What is wrong with the file and what to do next. */
  sentence: string;
}

/** UTF-8 and UTF-16 by their marks, UTF-8 where it is valid, otherwise Windows-1252, as office programs write it. */
export function decode(bytes: Uint8Array): string {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return new TextDecoder("utf-16le").decode(bytes);
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return new TextDecoder("utf-16be").decode(bytes);
  try {
    return new TextDecoder("utf-8", { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder("windows-1252").decode(bytes);
  }
}

const refused = (name: string, sentence: string): Unreadable => ({
  unreadable: true,
  name,
  sentence,
});

/** A table from text: comma, semicolon, tab or bar, whichever the text uses. */
export function readTable(name: string, content: Uint8Array | string): TextTable | Unreadable {
  const text = typeof content === "string" ? content : decode(content);
  // Text files hold no NUL; pictures, archives and spreadsheets do.
  if (text.includes("\u0000") || text.startsWith("PK\u0003\u0004")) {
    return refused(name, `${name} is not a text file. Export the roster as CSV and drop that.`);
  }
  const plain = text.replace(/^\ufeff/, "");
  // The delimiter is guessed without the blank lines, which are kept below so that line numbers stay right.
  const { delimiter } = Papa.parse(plain, {
    preview: 20,
    skipEmptyLines: "greedy",
    delimitersToGuess: [",", "\t", ";", "|"],
  }).meta;
  const parsed = Papa.parse<string[]>(plain, { delimiter });
  let line = 1;
  let header: string[] | null = null;
  const rows: TextTable["rows"] = [];
  for (const cells of parsed.data) {
    const at = line;
    line += 1 + cells.reduce((sum, cell) => sum + (cell.includes("\n") ? cell.split("\n").length - 1 : 0), 0);
    if (cells.every((cell) => cell.trim() === "")) continue;
    if (!header) header = cells.map((cell) => cell.trim());
    else rows.push({ line: at, cells });
  }
  if (!header) return refused(name, `${name} is empty. Export the roster again and drop it here.`);
  if (rows.length === 0)
    return refused(name, `${name} has a header and no rows under it. Export the roster again and drop it here.`);
  return { name, header, rows };
}

/** Cells that a spreadsheet would run as a formula are made harmless with a leading apostrophe. */
const harmless = (cell: string) => (/^[=+\-@\t\r]/.test(cell) ? `'${cell}` : cell);

export const writeCsv = (header: string[], rows: string[][]): string =>
  `${Papa.unparse({ fields: header, data: rows.map((row) => row.map(harmless)) }, { newline: "\r\n" })}\r\n`;
