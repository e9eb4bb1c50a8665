/** The sheets of an OpenDocument workbook (ISO/IEC 26300), each cell as the text that it is meant to be. */
import { XMLParser } from "fast-xml-parser";
import { strFromU8, type Unzipped } from "fflate";
import { columnLetters, mostRows, rounded, type SheetCells, tooLong } from "./sheet.ts";

/** A node as the parser gives it: its name with its children, its attributes beside them. */
type Node = Record<string, unknown>;
const attributesKey = ":@";
const nameOf = (node: Node): string => Object.keys(node).find((key) => key !== attributesKey) ?? "";
const childrenOf = (node: Node): Node[] => {
  const children = node[nameOf(node)];
  return Array.isArray(children) ? children : [];
};
const attribute = (node: Node, name: string): string | undefined =>
  (node[attributesKey] as Record<string, string> | undefined)?.[`@${name}`];
const named = (nodes: Node[], name: string): Node[] => nodes.filter((node) => nameOf(node) === name);
const repeated = (node: Node, of: "rows" | "columns"): number =>
  Math.max(1, Number(attribute(node, `table:number-${of}-repeated`) ?? 1) || 1);
const isHidden = (node: Node): boolean => /^(collapse|filter)$/.test(attribute(node, "table:visibility") ?? "");

const parser = new XMLParser({
  preserveOrder: true,
  ignoreAttributes: false,
  attributeNamePrefix: "@",
  parseTagValue: false,
  parseAttributeValue: false,
  trimValues: false,
});

/** The words of a paragraph, of its spans and links; notes beside a cell are none of it. */
function wordsOf(nodes: Node[]): string {
  return nodes
    .map((node) => {
      const name = nameOf(node);
      if (name === "#text") return String(node[name]);
      if (name === "text:s") return " ".repeat(Number(attribute(node, "text:c") ?? 1) || 1);
      if (name === "text:tab") return "\t";
      if (name === "text:line-break") return "\n";
      return wordsOf(childrenOf(node));
    })
    .join("");
}

/** Hours and minutes out of PT09H30M00S; more than a day goes on counting hours. */
function timeText(duration: string): string {
  const found = /^P(?:(\d+)D)?T(?:(\d+)H)?(?:(\d+)M)?/.exec(duration);
  if (!found) return duration;
  const hours = Number(found[1] ?? 0) * 24 + Number(found[2] ?? 0);
  return `${String(hours).padStart(2, "0")}:${String(Number(found[3] ?? 0)).padStart(2, "0")}`;
}

/** A number as it is shown where that is an id with its zeros or letters, otherwise all of its digits. */
function numberText(value: string, shown: string): string {
  const digits = shown.replace(/\D/g, "");
  const isId = /^\d+$/.test(value) && Number(digits) === Number(value) && !/[.,'\u00a0\u202f]/.test(shown);
  return isId && shown !== "" ? shown : String(rounded(Number(value)));
}

/** Why a cell holds nothing that can be used; null where it does. */
function faultOf(cell: Node, type: string | undefined, shown: string): string | null {
  const isFormula = attribute(cell, "table:formula") !== undefined;
  if (attribute(cell, "calcext:value-type") === "error" || (isFormula && /^(#\S+[!?A]|Err:\d+)$/.test(shown)))
    return `an error of the spreadsheet (${shown})`;
  return isFormula && type === undefined
    ? "a formula without its value: open the workbook in a spreadsheet and save it again"
    : null;
}

function cellText(cell: Node): { text: string } | { fault: string } {
  const shown = named(childrenOf(cell), "text:p")
    .map((paragraph) => wordsOf(childrenOf(paragraph)))
    .join("\n");
  const type = attribute(cell, "office:value-type");
  const fault = faultOf(cell, type, shown);
  if (fault) return { fault };
  return { text: valueText(cell, type, shown) };
}

function valueText(cell: Node, type: string | undefined, shown: string): string {
  const value = attribute(cell, "office:value");
  if (type === "percentage" && value !== undefined) return `${rounded(Number(value) * 100)}%`;
  if ((type === "float" || type === "currency") && value !== undefined) return numberText(value, shown);
  if (type === "date") {
    const [day, time] = (attribute(cell, "office:date-value") ?? shown).split("T") as [string, string | undefined];
    return time && !time.startsWith("00:00:00") ? `${day} ${time.slice(0, 5)}` : day;
  }
  if (type === "time") return timeText(attribute(cell, "office:time-value") ?? shown);
  if (type === "boolean") return attribute(cell, "office:boolean-value") ?? shown;
  return shown;
}

/** The most columns and rows that are looked at: a sheet says of its empty end that it is repeated a million times. */
const mostColumns = 1000;
const containers =
  /^table:(table-header-rows|table-rows|table-row-group|table-header-columns|table-columns|table-column-group)$/;
/** Rows or columns of a table, those within groups among them. */
const partsOf = (nodes: Node[], name: string): Node[] =>
  nodes.flatMap((node) =>
    nameOf(node) === name ? [node] : containers.test(nameOf(node)) ? partsOf(childrenOf(node), name) : [],
  );

function cellsOf(row: Node, line: number, found: SheetCells): string[] {
  const cells: string[] = [];
  for (const cell of childrenOf(row)) {
    const name = nameOf(cell);
    if (name !== "table:table-cell" && name !== "table:covered-table-cell") continue;
    // What is joined stands in its first cell alone.
    const read = name === "table:table-cell" ? cellText(cell) : { text: "" };
    const count = Math.min(repeated(cell, "columns"), mostColumns - cells.length);
    for (let again = 0; again < count; again++) {
      if ("fault" in read) found.faults.push({ cell: `${columnLetters(cells.length)}${line}`, what: read.fault });
      cells.push("text" in read ? read.text : "");
    }
  }
  while (cells.at(-1) === "") cells.pop();
  return cells;
}

function hiddenColumnsOf(table: Node): string[] {
  const hidden: string[] = [];
  let column = 0;
  for (const node of partsOf(childrenOf(table), "table:table-column")) {
    const count = repeated(node, "columns");
    const until = Math.min(column + count, mostColumns);
    if (isHidden(node)) for (let at = column; at < until; at++) hidden.push(columnLetters(at));
    column += count;
  }
  return hidden;
}

function sheetOf(table: Node, hiddenStyles: ReadonlySet<string>): SheetCells {
  const found: SheetCells = {
    name: attribute(table, "table:name") ?? "Sheet",
    isHidden: hiddenStyles.has(attribute(table, "table:style-name") ?? ""),
    rows: [],
    hiddenColumns: hiddenColumnsOf(table),
    faults: [],
  };
  let line = 1;
  for (const row of partsOf(childrenOf(table), "table:table-row")) {
    const count = repeated(row, "rows");
    const cells = cellsOf(row, line, found);
    if (cells.length > 0 && line + count > mostRows) throw tooLong(line + count - 1);
    if (cells.length > 0)
      for (let again = 0; again < count; again++)
        found.rows.push({ line: line + again, cells, isHidden: isHidden(row) });
    line += count;
  }
  const widest = found.rows.reduce((most, { cells }) => Math.max(most, cells.length), 0);
  for (const row of found.rows) while (row.cells.length < widest) row.cells.push("");
  // The columns behind the last one that is filled are often hidden all together.
  const filled = new Set(Array.from({ length: widest }, (_, at) => columnLetters(at)));
  found.hiddenColumns = found.hiddenColumns.filter((letters) => filled.has(letters));
  return found;
}

/** Every sheet; fails where the content is no XML. */
export function readOds(files: Unzipped): SheetCells[] {
  const root = parser.parse(strFromU8(files["content.xml"] as Uint8Array)) as Node[];
  const content = childrenOf(named(root, "office:document-content")[0] ?? {});
  const styles = named(content, "office:automatic-styles").flatMap(childrenOf);
  const hiddenStyles = new Set(
    styles.flatMap((style) =>
      named(childrenOf(style), "style:table-properties").some((one) => attribute(one, "table:display") === "false")
        ? [attribute(style, "style:name") ?? ""]
        : [],
    ),
  );
  const body = named(content, "office:body").flatMap(childrenOf);
  const book = named(body, "office:spreadsheet").flatMap(childrenOf);
  return named(book, "table:table").map((table) => sheetOf(table, hiddenStyles));
}
