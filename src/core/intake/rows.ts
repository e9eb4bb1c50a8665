/** Roster rows from a table and its column match. Source: semantics.md section 2. */
import type { TextTable } from "../formats/text.ts";
import type { Role } from "../plan/types.ts";
import { type ColumnMatch, isEmail } from "./columns.ts";

export interface RosterRow {
  file: string;
  line: number;
  /** Text, leading zeros kept; empty where the cell is. */
  sourcedId: string;
  username: string;
  email: string;
  givenName: string;
  familyName: string;
  sectionCode: string;
  sectionTitle: string;
  meets: string;
  role: Role;
  attributes: Record<string, string>;
  /** Why the row cannot be read, naming the column; null where it can. */
  problem: string | null;
}

/** "Okafor, Ngozi" or "Ngozi Okafor" as family and given name. */
export function splitName(name: string): { givenName: string; familyName: string } {
  const [before = "", after] = name.split(/,(.*)/s);
  if (after !== undefined) return { familyName: before.trim(), givenName: after.trim() };
  const words = name.trim().split(/\s+/);
  return { givenName: words.slice(0, -1).join(" "), familyName: words.at(-1) ?? "" };
}

function readRole(text: string): Role | null {
  if (text === "" || /^(student|learner)s?$/i.test(text)) return "student";
  return /^(instructor|teacher|lecturer)$/i.test(text) ? "instructor" : null;
}

/** Rows of one table. `sectionCode` names the section of a file that has no section column. */
export function rosterRows(table: TextTable, match: ColumnMatch, sectionCode = ""): RosterRow[] {
  return table.rows.map(({ line, cells }) => {
    const row: RosterRow = {
      file: table.name,
      line,
      sourcedId: "",
      username: "",
      email: "",
      givenName: "",
      familyName: "",
      sectionCode,
      sectionTitle: "",
      meets: "",
      role: "student",
      attributes: {},
      problem: null,
    };
    const problem = (column: number, why: string) => {
      row.problem ??= `${table.header[column] || `column ${column + 1}`}: ${why}`;
    };
    match.forEach((field, column) => {
      const cell = (cells[column] ?? "").normalize("NFC").trim();
      if (field === "ignore") return;
      if (field === "attribute") {
        if (cell !== "") row.attributes[table.header[column] as string] = cell;
      } else if (field === "fullName") {
        Object.assign(row, splitName(cell));
      } else if (field === "id") {
        row.sourcedId = cell;
      } else if (field === "section") {
        row.sectionCode = cell || sectionCode;
      } else if (field === "role") {
        const role = readRole(cell);
        if (role) row.role = role;
        else problem(column, `"${cell}" is not a role that a roster can give`);
      } else {
        row[field] = cell;
        if (field === "email" && cell !== "" && !isEmail(cell)) problem(column, `"${cell}" is not an e-mail address`);
      }
    });
    const idColumn = match.indexOf("id");
    if (row.sourcedId === "") problem(idColumn, "no id");
    else if (row.sourcedId.length > 100) problem(idColumn, "longer than 100 characters");
    if (row.sectionCode === "") problem(match.indexOf("section"), "no section");
    const extra = cells.slice(table.header.length).filter((cell) => cell.trim() !== "").length;
    if (extra > 0)
      problem(table.header.length, `${cells.length} cells under ${table.header.length} titles; is a quote missing?`);
    return row;
  });
}
