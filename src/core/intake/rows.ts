/** Roster rows from a table and its column match. Source: semantics.md section 2. */
import type { TextTable } from "../formats/text.ts";
import type { Role } from "../plan/types.ts";
import { type ColumnField, type ColumnMatch, columnFields, isEmail } from "./columns.ts";
import { fold } from "./fold.ts";

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

const none: Record<string, string> = Object.freeze({});

/** "Okafor, Ngozi" or "Ngozi Okafor" as family and given name. */
export function splitName(name: string): { givenName: string; familyName: string } {
  const comma = name.indexOf(",");
  if (comma >= 0) return { familyName: name.slice(0, comma).trim(), givenName: name.slice(comma + 1).trim() };
  const trimmed = name.trim();
  const space = trimmed.search(/\s\S*$/);
  return {
    givenName: trimmed.slice(0, Math.max(0, space)).replace(/\s+/g, " ").trim(),
    familyName: trimmed.slice(space + 1),
  };
}

function readRole(text: string): Role | null {
  if (text === "") return "student";
  if (/^(student|learner)s?$/i.test(text)) return "student";
  return /^(instructor|teacher|lecturer)$/i.test(text) ? "instructor" : null;
}

type Named = "sourcedId" | "username" | "email" | "givenName" | "familyName" | "sectionCode";
const limits: [Named, number, ColumnField[]][] = [
  ["sourcedId", 100, ["id"]],
  ["username", 100, ["username"]],
  ["email", 200, ["email"]],
  ["givenName", 100, ["givenName", "fullName"]],
  ["familyName", 100, ["familyName", "fullName"]],
  ["sectionCode", 60, ["section"]],
];

/** Which cell is longer than what can be kept. */
function tooLong(row: RosterRow, at: Record<ColumnField, number>, titleOf: (column: number) => string): string | null {
  for (const [field, limit, columns] of limits) {
    if (row[field].length <= limit) continue;
    const column = columns.map((each) => at[each]).find((each) => each >= 0) ?? 0;
    return `${titleOf(column)}: longer than ${limit} characters`;
  }
  return null;
}

/** Names of the attributes that people of a course have. */
export function attributeNames(people: Record<string, { attributes: Record<string, string> }>): string[] {
  const names = new Set<string>();
  for (const id in people) for (const name in people[id]?.attributes) names.add(name);
  return [...names];
}

/** Rows of one table, its cells in NFC. `sectionCode` names the section of a file that has no section column. */
export function rosterRows(
  table: TextTable,
  match: ColumnMatch,
  sectionCode = "",
  known: readonly string[] = [],
): RosterRow[] {
  const { name: file } = table;
  // "year" and "Year" are one attribute: the name that the course has already stays.
  const named = new Map(known.map((name) => [fold(name), name]));
  const header = table.header.map((title, column) =>
    match[column] === "attribute" ? (named.get(fold(title)) ?? title) : title,
  );
  const at = Object.fromEntries(columnFields.map((field) => [field, match.indexOf(field)])) as Record<
    ColumnField,
    number
  >;
  const { id: idAt, username: usernameAt, email: emailAt, section: sectionAt, meets: meetsAt, role: roleAt } = at;
  const { givenName: givenNameAt, familyName: familyNameAt, fullName: fullNameAt, sectionTitle: titleAt } = at;
  const attributes = match.flatMap((field, column) => (field === "attribute" ? [column] : []));
  const titleOf = (column: number) => header[column] || `column ${column + 1}`;
  // Codes, titles and attributes come again and again, most often in the row before: one string then serves both.
  const before: string[] = [];
  const again = (cells: string[], column: number): string => {
    if (column < 0) return "";
    const cell = (cells[column] ?? "").trim();
    if (cell === before[column]) return before[column] as string;
    before[column] = cell;
    return cell;
  };
  const cellOf = (cells: string[], column: number) => (column < 0 ? "" : (cells[column] ?? "").trim());
  return table.rows.map(({ line, cells }) => {
    const name = fullNameAt < 0 ? null : splitName(cellOf(cells, fullNameAt));
    const given = cellOf(cells, roleAt);
    const role = readRole(given);
    const row: RosterRow = {
      file,
      line,
      sourcedId: cellOf(cells, idAt),
      username: cellOf(cells, usernameAt),
      email: cellOf(cells, emailAt),
      givenName: cellOf(cells, givenNameAt) || (name?.givenName ?? ""),
      familyName: cellOf(cells, familyNameAt) || (name?.familyName ?? ""),
      sectionCode: again(cells, sectionAt) || sectionCode,
      sectionTitle: again(cells, titleAt),
      meets: again(cells, meetsAt),
      role: role ?? "student",
      attributes: attributes.length === 0 ? none : attributesOf(cells, attributes, header, again),
      problem: null,
    };
    if (row.sourcedId === "") row.problem = `${titleOf(at.id)}: no id`;
    else if (row.email !== "" && !isEmail(row.email))
      row.problem = `${titleOf(at.email)}: "${row.email}" is not an e-mail address`;
    else if (role === null) row.problem = `${titleOf(at.role)}: "${given}" is not a role that a roster can give`;
    else if (row.sectionCode === "") row.problem = `${titleOf(Math.max(0, at.section))}: no section`;
    else if (cells.length > header.length && cells.slice(header.length).some((cell) => cell.trim() !== ""))
      row.problem = `column ${header.length + 1}: ${cells.length} cells under ${header.length} titles; is a quote missing?`;
    else if (
      row.sourcedId.length > 100 ||
      row.username.length > 100 ||
      row.email.length > 200 ||
      row.givenName.length > 100 ||
      row.familyName.length > 100 ||
      row.sectionCode.length > 60
    )
      row.problem = tooLong(row, at, titleOf);
    return row;
  });
}

function attributesOf(
  cells: string[],
  columns: number[],
  header: string[],
  cellOf: (cells: string[], column: number) => string,
): Record<string, string> {
  let found: Record<string, string> | null = null;
  for (const column of columns) {
    const cell = cellOf(cells, column);
    if (cell === "") continue;
    found ??= {};
    found[header[column] as string] = cell;
  }
  return found ?? none;
}
