import { writeWorkbook } from "../../core/formats/spreadsheet.ts";
import { writeCsv } from "../../core/formats/text.ts";

/** Hands a file to the browser, to be saved where its person says. */
export function saveFile(name: string, type: string, content: BlobPart): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([content], { type }));
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}

/** A table as delimited text or as a workbook of one sheet. */
export async function saveTable(
  name: string,
  format: "csv" | "xlsx",
  { sheet, header, rows }: { sheet: string; header: string[]; rows: string[][] },
): Promise<void> {
  if (format === "csv") return saveFile(`${name}.csv`, "text/csv", writeCsv(header, rows));
  const type = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet";
  saveFile(`${name}.xlsx`, type, (await writeWorkbook(sheet, header, rows)) as BlobPart);
}
