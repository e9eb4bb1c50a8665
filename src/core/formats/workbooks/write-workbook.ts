/** A table as a workbook of one sheet, Office Open XML or OpenDocument. Its libraries are large: write.ts loads it when it is asked. */
import { XMLBuilder } from "fast-xml-parser";
import { strToU8, zipSync } from "fflate";
import { harmless } from "../text.ts";
import { type OutCell, type OutTable, textOf } from "./out-table.ts";
import { library } from "./xlsx.ts";

const hasTime = (day: string): boolean => day.length > 10;

const mostWidth = 40;
const widthOf = ({ header, rows }: OutTable, at: number): number =>
  Math.min(
    mostWidth,
    Math.max(header[at]?.length ?? 0, ...rows.slice(0, 200).map((row) => textOf(row[at] ?? "").length)) + 2,
  );

/** Numbers are numbers and days are days; every other cell is text, so that ids keep their zeros and nothing runs. */
export async function writeXlsx(table: OutTable): Promise<Uint8Array> {
  const { Workbook } = await library();
  const workbook = new Workbook();
  const sheet = workbook.addWorksheet(table.sheet, { views: [{ state: "frozen", ySplit: 1 }] });
  sheet.columns = table.header.map((_, at) => ({ width: widthOf(table, at), style: { numFmt: "@" } }));
  sheet.addRow(table.header.map(harmless)).font = { bold: true };
  for (const cells of table.rows) {
    const row = sheet.addRow(
      cells.map((cell) =>
        typeof cell === "string"
          ? harmless(cell)
          : typeof cell === "number"
            ? cell
            : new Date(`${cell.day.replace(" ", "T")}${hasTime(cell.day) ? ":00" : "T00:00:00"}Z`),
      ),
    );
    cells.forEach((cell, at) => {
      if (typeof cell === "number") row.getCell(at + 1).numFmt = "General";
      else if (typeof cell === "object")
        row.getCell(at + 1).numFmt = hasTime(cell.day) ? "yyyy-mm-dd hh:mm" : "yyyy-mm-dd";
    });
  }
  return new Uint8Array(await workbook.xlsx.writeBuffer());
}

const namespace = (name: string) =>
  `xmlns:${name}="urn:oasis:names:tc:opendocument:xmlns:${name === "number" ? "datastyle" : name}:1.0"`;
const namespaces = ["office", "table", "text", "style", "number"].map(namespace).join(" ");
const mimetype = "application/vnd.oasis.opendocument.spreadsheet";
const long = (part: string) => `<number:${part} number:style="long"/>`;
const date = ["year", "month", "day"].map(long).join("<number:text>-</number:text>");
const time = ["hours", "minutes"].map(long).join("<number:text>:</number:text>");
const dateStyles = `<office:automatic-styles>
<number:date-style style:name="days">${date}</number:date-style>
<number:date-style style:name="moments">${date}<number:text> </number:text>${time}</number:date-style>
<style:style style:name="day" style:family="table-cell" style:data-style-name="days"/>
<style:style style:name="moment" style:family="table-cell" style:data-style-name="moments"/>
</office:automatic-styles>`;
const builder = new XMLBuilder({ ignoreAttributes: false, attributeNamePrefix: "@", suppressEmptyNode: true });
const declaration = '<?xml version="1.0" encoding="UTF-8"?>';

function odsCell(cell: OutCell): object {
  const shown = { "text:p": typeof cell === "string" ? harmless(cell) : textOf(cell) };
  if (typeof cell === "number") return { "@office:value-type": "float", "@office:value": String(cell), ...shown };
  if (typeof cell === "string") return { "@office:value-type": "string", ...shown };
  const value = hasTime(cell.day) ? `${cell.day.replace(" ", "T")}:00` : cell.day;
  return {
    "@office:value-type": "date",
    "@office:date-value": value,
    "@table:style-name": hasTime(cell.day) ? "moment" : "day",
    ...shown,
  };
}

export function writeOds({ sheet, header, rows }: OutTable): Uint8Array {
  const row = (cells: OutCell[]) => ({ "table:table-cell": cells.map(odsCell) });
  const body = builder.build({
    "table:table": {
      "@table:name": sheet,
      "table:table-column": { "@table:number-columns-repeated": String(header.length) },
      "table:table-header-rows": { "table:table-row": row(header) },
      "table:table-row": rows.map(row),
    },
  });
  const content = `${declaration}
<office:document-content ${namespaces} office:version="1.3">${dateStyles}
<office:body><office:spreadsheet>${body}</office:spreadsheet></office:body></office:document-content>`;
  const manifest = `${declaration}
<manifest:manifest ${namespace("manifest")} manifest:version="1.3">
<manifest:file-entry manifest:full-path="/" manifest:version="1.3" manifest:media-type="${mimetype}"/>
<manifest:file-entry manifest:full-path="content.xml" manifest:media-type="text/xml"/>
</manifest:manifest>`;
  // The standard wants the type first, and not compressed.
  return zipSync(
    {
      mimetype: [strToU8(mimetype), { level: 0 }],
      "content.xml": strToU8(content),
      "META-INF/manifest.xml": strToU8(manifest),
    },
    { mtime: "2000-01-01T00:00:00Z" },
  );
}
