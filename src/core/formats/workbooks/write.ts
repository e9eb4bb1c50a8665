/** A table as a workbook of one sheet (Office Open XML or OpenDocument), or as delimited text. */
import { writeCsv } from "../text.ts";
import { type OutTable, plainRows } from "./out-table.ts";

export const tableFormats = ["csv", "xlsx", "ods"] as const;
export type TableFormat = (typeof tableFormats)[number];

export interface WriteOptions {
  /** A byte order mark, by which spreadsheets know that a CSV file is UTF-8. */
  byteOrderMark?: boolean;
}

/** The bytes of a table in a format; cells that a spreadsheet would run carry an apostrophe in each of them. */
export async function writeTable(
  format: TableFormat,
  table: OutTable,
  options: WriteOptions = {},
): Promise<Uint8Array> {
  if (format === "csv") {
    const text = writeCsv(table.header, plainRows(table.rows));
    return new TextEncoder().encode(options.byteOrderMark ? `\ufeff${text}` : text);
  }
  const { writeOds, writeXlsx } = await import("./write-workbook.ts");
  return format === "xlsx" ? writeXlsx(table) : writeOds(table);
}
