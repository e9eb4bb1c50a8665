/** Spreadsheet workbooks (Office Open XML): a table a sheet in, one sheet out. */
import type { Cell, Worksheet } from "exceljs";
import { openArchive, repackStored } from "./archive.ts";
import { headerAt, saysAbove } from "./leading.ts";
import { isBlank, refused, type TextTable, type Unreadable } from "./text.ts";

// The library is large; it is loaded when the first workbook is.
const library = async () => {
  const module = await import("exceljs");
  return module.default ?? module;
};

/** A number formatted as 0000000 is an id with leading zeros; a date is its day. */
function cellText({ value, numFmt, text }: Cell): string {
  if (value === null || value === undefined) return "";
  if (typeof value === "number")
    return /^0+$/.test(numFmt ?? "") ? String(value).padStart(numFmt.length, "0") : String(value);
  if (value instanceof Date) {
    const iso = value.toISOString();
    return iso.endsWith("T00:00:00.000Z") ? iso.slice(0, 10) : iso.slice(0, 16).replace("T", " ");
  }
  if (typeof value === "object" && "result" in value) {
    const { result } = value;
    return result === undefined || result === null || typeof result === "object" ? "" : String(result);
  }
  return text;
}

/** The sheet's name as part of a table's, where a workbook has more than one sheet. */
function tableOf(name: string, sheet: Worksheet): TextTable | null {
  const rows: string[][] = [];
  const lines: number[] = [];
  sheet.eachRow((row, line) => {
    const cells: string[] = [];
    row.eachCell({ includeEmpty: true }, (cell, column) => {
      cells[column - 1] = cellText(cell).trim();
    });
    for (let column = 0; column < cells.length; column++) cells[column] ??= "";
    if (isBlank(cells)) return;
    rows.push(cells);
    lines.push(line);
  });
  const at = headerAt(rows);
  const [header, above] = [rows[at], saysAbove(rows.slice(0, at))];
  if (!header || rows.length <= at + 1) return null;
  const table = { name, header, rows: rows.slice(at + 1), lines: lines.slice(at + 1), sheet: sheet.name };
  return above.length > 0 ? { ...table, notes: above } : table;
}

/** Every sheet that holds a header and rows, in the workbook's order. */
export async function readWorkbook(name: string, bytes: Uint8Array): Promise<TextTable[] | Unreadable> {
  const files = openArchive(name, bytes);
  if ("unreadable" in files) return files as Unreadable;
  const { Workbook } = await library();
  const workbook = new Workbook();
  try {
    // The sizes were looked at above; the library would trust them.
    await workbook.xlsx.load(repackStored(files).buffer as ArrayBuffer);
  } catch {
    return refused(name, `${name} could not be read as a workbook. Save it again as XLSX, or as CSV, and drop that.`);
  }
  const tables = workbook.worksheets.map((sheet) => tableOf(name, sheet)).filter((table) => table !== null);
  return tables.length > 0
    ? tables
    : refused(name, `No sheet of ${name} has a header with rows under it. Look into the file, and drop it again.`);
}

/** A workbook of one sheet. Every cell is text, so that ids keep their zeros and nothing runs as a formula. */
export async function writeWorkbook(sheetName: string, header: string[], rows: string[][]): Promise<Uint8Array> {
  const { Workbook } = await library();
  const workbook = new Workbook();
  const sheet = workbook.addWorksheet(sheetName, { views: [{ state: "frozen", ySplit: 1 }] });
  sheet.addRow(header).font = { bold: true };
  for (const cells of rows) sheet.addRow(cells);
  sheet.columns.forEach((column, at) => {
    column.numFmt = "@";
    column.width = Math.min(
      40,
      Math.max(header[at]?.length ?? 0, ...rows.slice(0, 200).map((row) => row[at]?.length ?? 0)) + 2,
    );
  });
  return new Uint8Array(await workbook.xlsx.writeBuffer());
}
