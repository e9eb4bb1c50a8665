/** Any file that a registrar may send, as tables: delimited text, a workbook, a roster archive, or a zip of those texts. */
import { sayNumber } from "../text/locale.ts";
import { isArchive, openArchive } from "./archive.ts";
import { looksLikeOneRoster, type ReadOn, readOneRoster } from "./oneroster/read.ts";

import { readTable } from "./text.ts";
import { type Progressed, refused, type TextTable, type Unreadable } from "./text-table.ts";
import { isWorkbook, readSheets } from "./workbooks/read.ts";

export type { Progressed };

export interface SourceFile {
  name: string;
  content: Uint8Array | string;
}

/** Bytes that one file may hold. */
export const fileLimit = 200_000_000;
/** Rows that one intake may hold. */
export const rowLimit = 200_000;

/**
 * What a file holds: tables that are taken in together (one, or a zip's several), or, of a workbook, sheets of
 * which one is chosen.
 */
export type Contents = { kind: "tables" | "sheets"; tables: TextTable[] } | Unreadable;

const isUnreadable = (value: object): value is Unreadable => "unreadable" in value;
const oneTable = (table: TextTable | Unreadable): Contents =>
  isUnreadable(table) ? table : { kind: "tables", tables: [table] };

interface ReadOptions {
  progressed?: Progressed;
  /** The day and the term that a roster is read for; left out where days do not matter. */
  on?: ReadOn;
}

export async function readFile({ name, content }: SourceFile, options: ReadOptions = {}): Promise<Contents> {
  if (content.length > fileLimit)
    return refused(name, `${name} is larger than 200 MB. Ask for a roster of this course alone, or split the file.`);
  const read =
    typeof content !== "string" && isArchive(content)
      ? await readArchive(name, content, options.on ?? null)
      : oneTable(readTable(name, content, { progressed: options.progressed }));
  if (isUnreadable(read)) return read;
  const rows = read.kind === "sheets" ? 0 : read.tables.reduce((sum, table) => sum + table.lines.length, 0);
  if (rows > rowLimit)
    return refused(name, `${name} holds ${sayNumber(rows)} rows; 200,000 can be taken in at once. Split the file.`);
  return read;
}

async function readArchive(name: string, bytes: Uint8Array, on: ReadOn | null): Promise<Contents> {
  const files = openArchive(name, bytes);
  if (isUnreadable(files)) return files;
  if (isWorkbook(files)) {
    const sheets = await readSheets(name, files);
    return isUnreadable(sheets) ? sheets : { kind: "sheets", tables: sheets };
  }
  if (looksLikeOneRoster(files)) return oneTable(readOneRoster(name, files, on));
  const texts = Object.entries(files).filter(([path]) => /\.(csv|tsv|txt)$/i.test(path) && !path.includes("__MACOSX"));
  if (texts.length === 0)
    return refused(name, `${name} holds no roster: neither a OneRoster export, nor a workbook, nor CSV files.`);
  const tables: TextTable[] = [];
  for (const [path, content] of texts) {
    const table = readTable(path.split("/").at(-1) as string, content);
    if (isUnreadable(table)) return { ...table, sentence: `In ${name}: ${table.sentence}` };
    tables.push(table);
  }
  return { kind: "tables", tables };
}
