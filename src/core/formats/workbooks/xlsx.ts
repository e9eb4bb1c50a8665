/** The sheets of an Office Open XML workbook (ECMA-376), each cell as the text that it is meant to be. */
import type { Cell, CellValue, Worksheet } from "exceljs";
import type { Unzipped } from "fflate";
import { strFromU8, strToU8 } from "fflate";
import { format, getFormatDateInfo, isPercentFormat } from "numfmt";
import { repackStored } from "../archive.ts";
import { mostColumns } from "../text.ts";
import { columnLetters, columnNumber, rounded, type SheetCells, TooLarge, tooWide } from "./sheet.ts";

// The library is large; it is loaded when the first workbook is.
export const library = async () => {
  const module = await import("exceljs");
  return module.default ?? module;
};

/** Zeros with letters or signs that belong to an id: 0000000, "S"0000, 000-000. */
const isIdFormat = (pattern: string): boolean =>
  /^(?:"[^"]*"|\\.|[0\-/ ])+$/.test(pattern) && pattern.includes("0") && pattern !== "0";

function numberText(value: number, pattern: string): string {
  if (isPercentFormat(pattern)) return `${rounded(value * 100)}%`;
  if (Number.isInteger(value) && isIdFormat(pattern)) return format(pattern, value);
  return String(rounded(value));
}

/** A day, a day with its time, a time of day, or hours that have passed. */
function dateText(value: Date, pattern: string): string {
  const { year, month, day, hours } = getFormatDateInfo(pattern);
  if (/\[[hms]+\]/i.test(pattern)) {
    // Days since the one that spreadsheets count from.
    return format(pattern, (value.getTime() - Date.UTC(1899, 11, 30)) / 86_400_000);
  }
  const iso = value.toISOString();
  if (hours && !year && !month && !day) return iso.slice(11, 16);
  return iso.endsWith("T00:00:00.000Z") ? iso.slice(0, 10) : iso.slice(0, 16).replace("T", " ");
}

/** The text of a cell, or why it has none that can be used. */
function textOf(value: CellValue, cell: Cell): { text: string } | { fault: string } {
  const pattern = cell.numFmt ?? "General";
  if (value === null || value === undefined) return { text: "" };
  if (typeof value === "number") return { text: numberText(value, pattern) };
  if (value instanceof Date) return { text: dateText(value, pattern) };
  if (typeof value !== "object") return { text: String(value) };
  if ("error" in value) return { fault: `an error of the spreadsheet (${value.error})` };
  if ("formula" in value || "sharedFormula" in value)
    return value.result === undefined || value.result === null
      ? { fault: "a formula without its value: open the workbook in a spreadsheet and save it again" }
      : textOf(value.result as CellValue, cell);
  return { text: cell.text };
}

function sheetOf(sheet: Worksheet): SheetCells {
  const found: SheetCells = {
    name: sheet.name,
    isHidden: sheet.state !== undefined && sheet.state !== "visible",
    rows: [],
    hiddenColumns: [],
    faults: [],
  };
  let widest = 0;
  sheet.eachRow((row, line) => {
    const cells: string[] = [];
    // Cells that are merely painted reach to the last of sixteen thousand columns.
    row.eachCell((cell, column) => {
      // What is joined stands in its first cell alone.
      const read = cell.isMerged && cell.master !== cell ? { text: "" } : textOf(cell.value, cell);
      cells[column - 1] = "text" in read ? read.text : "";
      if ("fault" in read) found.faults.push({ cell: `${columnLetters(column - 1)}${line}`, what: read.fault });
    });
    for (let column = 0; column < cells.length; column++) cells[column] ??= "";
    widest = Math.max(widest, cells.length);
    found.rows.push({ line, cells, isHidden: row.hidden === true });
  });
  for (let column = 0; column < widest; column++)
    if (sheet.getColumn(column + 1).hidden) found.hiddenColumns.push(columnLetters(column));
  return found;
}

/**
 * The same files with spellings that the library knows: "days are counted from 1904" in one of its four, and signs of a
 * number format in quotation marks, since it drops a backslash and would then take the M of an id for a month.
 */
function respelt(files: Unzipped): Unzipped {
  const change = (path: string, change: (text: string) => string): Unzipped => {
    const bytes = files[path];
    return bytes ? { [path]: strToU8(change(strFromU8(bytes))) } : {};
  };
  return {
    ...files,
    ...change("xl/workbook.xml", (text) =>
      text.replace(/(<(?:\w+:)?workbookPr\b[^>]*?)\bdate1904\s*=\s*(["'])(?:true|1)\2/, '$1date1904="1"'),
    ),
    ...change("xl/styles.xml", (text) =>
      text.replace(/formatCode=(?:"[^"]*"|'[^']*')/g, (code) => code.replace(/\\(&\w+;|.)/gs, "&quot;$1&quot;")),
    ),
  };
}

/** Cells with a value, and the column of each: "<c r="KO12" s="1"><v>". */
const filledCell = /<(?:\w+:)?c\s[^>]*?\br="([A-Z]{1,3})\d+"[^>/]*>/g;

/** Throws where a sheet reaches too far, before the library lays it out: to it a far corner is all that lies before it. */
function holdToCorner(files: Unzipped): void {
  for (const [path, bytes] of Object.entries(files)) {
    if (!/^xl\/worksheets\/[^/]+\.xml$/.test(path)) continue;
    if (bytes.length > mostBytes) throw new TooLarge("a sheet of more than 400 MB");
    const filled = new Set<string>();
    for (const [, letters = ""] of strFromU8(bytes).matchAll(filledCell)) filled.add(letters);
    const widest = Math.max(0, ...[...filled].map(columnNumber)) + 1;
    if (widest > mostColumns) throw tooWide(widest);
  }
}
/** Of a sheet's text: 200,000 rows of a roster have a third of it. */
const mostBytes = 400_000_000;

/** Every sheet; fails where the library cannot read the file, or with TooLarge. */
export async function readXlsx(files: Unzipped): Promise<SheetCells[]> {
  holdToCorner(files);
  const { Workbook } = await library();
  const workbook = new Workbook();
  // The sizes were looked at when the archive was opened; the library would trust them.
  await workbook.xlsx.load(repackStored(respelt(files)).buffer as ArrayBuffer);
  return workbook.worksheets.map(sheetOf);
}
