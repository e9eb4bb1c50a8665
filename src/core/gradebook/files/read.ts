/** Any file of marks: delimited text, a workbook, or a OneRoster archive with results. Source: semantics.md section 7. */
import { isArchive, openArchive } from "../../formats/archive.ts";
import { readTable } from "../../formats/text.ts";
import { refused, type Unreadable } from "../../formats/text-table.ts";
import { isWorkbook, readSheets } from "../../formats/workbooks/read.ts";
import type { Item } from "../../plan/types.ts";
import { looksLikeGradebook, readGradebookArchive } from "./oneroster.ts";
import { type ReadMarks, readMarksTables } from "./table.ts";

export async function readMarks(name: string, bytes: Uint8Array, columns: Item[]): Promise<ReadMarks | Unreadable> {
  if (!isArchive(bytes)) {
    const table = readTable(name, bytes);
    return "unreadable" in table ? table : readMarksTables([table], columns);
  }
  const files = openArchive(name, bytes);
  if ("unreadable" in files) return files as Unreadable;
  if (looksLikeGradebook(files)) return readGradebookArchive(name, files);
  if (!isWorkbook(files))
    return refused(
      name,
      `${name} holds no marks: it is neither a workbook nor a OneRoster archive with lineItems and results. Choose another file.`,
    );
  const sheets = await readSheets(name, files);
  return "unreadable" in sheets ? sheets : readMarksTables(sheets, columns);
}
