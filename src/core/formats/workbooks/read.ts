/** Workbooks (Office Open XML and OpenDocument): a table a sheet. */
import { strFromU8, type Unzipped } from "fflate";
import { openArchive } from "../archive.ts";
import { refused, type TextTable, type Unreadable } from "../text-table.ts";
import { holdToLimits, type SheetCells, TooLarge, tableOf } from "./sheet.ts";

const isXlsx = (files: Unzipped): boolean => files["xl/workbook.xml"] !== undefined;
const isOds = (files: Unzipped): boolean =>
  files["content.xml"] !== undefined &&
  (!files.mimetype || strFromU8(files.mimetype).trim() === "application/vnd.oasis.opendocument.spreadsheet");
export const isWorkbook = (files: Unzipped): boolean => isXlsx(files) || isOds(files);

const sayTooLarge = (name: string, { message }: TooLarge): string =>
  `${name} has ${message}. Is it the file that was meant? Save the part that is needed as a workbook of its own, and drop that.`;

/** What reads its sheets; null where that could not be loaded. It is large, and comes with the first workbook. */
async function readerOf(files: Unzipped): Promise<((files: Unzipped) => SheetCells[] | Promise<SheetCells[]>) | null> {
  try {
    if (!isXlsx(files)) return (await import("./ods.ts")).readOds;
    const { library, readXlsx } = await import("./xlsx.ts");
    await library();
    return readXlsx;
  } catch {
    return null;
  }
}

/** Every sheet of an opened archive that holds a header and rows, in the workbook's order, hidden ones last. */
export async function readSheets(name: string, files: Unzipped): Promise<TextTable[] | Unreadable> {
  const again = `${name} could not be read as a workbook. Save it again as XLSX or ODS, or as CSV, and drop that.`;
  const reader = await readerOf(files);
  if (!reader)
    return refused(
      name,
      `What reads workbooks could not be fetched, so ${name} was not looked at. Check the connection, and drop it again.`,
    );
  let sheets: SheetCells[];
  try {
    sheets = await reader(files);
    for (const sheet of sheets) holdToLimits(sheet);
  } catch (error) {
    return refused(name, error instanceof TooLarge ? sayTooLarge(name, error) : again);
  }
  const shown = [...sheets.filter(({ isHidden }) => !isHidden), ...sheets.filter(({ isHidden }) => isHidden)];
  const tables = shown.map((sheet) => tableOf(name, sheet)).filter((table) => table !== null);
  return tables.length > 0
    ? tables
    : refused(name, `No sheet of ${name} has a header with rows under it. Look into the file, and drop it again.`);
}

export async function readWorkbook(name: string, bytes: Uint8Array): Promise<TextTable[] | Unreadable> {
  const files = openArchive(name, bytes);
  return "unreadable" in files ? (files as Unreadable) : readSheets(name, files);
}
