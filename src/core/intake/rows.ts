/** Roster rows from a table and its column match. Source: semantics.md section 2. */
import type { Cells } from "../formats/cells.ts";
import { cellsOf, type TextTable } from "../formats/text-table.ts";
import type { Person, Role } from "../plan/types.ts";
import { fold } from "../text/caseless.ts";
import { type ColumnField, type ColumnMatch, columnFields, isEmail } from "./columns.ts";

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
  /** Whether it says nothing of the person that is not so already: a quicker answer, where the row has one. */
  saysOnly?(person: Person): boolean;
}

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

const shortestLimit = Math.min(...limits.map(([, limit]) => limit));

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

/** What the rows of one table share: their cells, where each field stands, and what the attributes are called. */
interface Reading {
  file: string;
  cells: Cells;
  lines: readonly number[];
  /** The column of each field; -1 where there is none. */
  at: Record<ColumnField, number>;
  sectionCode: string;
  attributes: { column: number; title: string }[];
}

/**
 * A row as a view on its cells: 100,000 rows need no second copy of what they say. `plainRow` makes one that can be
 * sent away.
 */
class TableRow implements RosterRow {
  constructor(
    private readonly reading: Reading,
    private readonly number: number,
    readonly role: Role,
    public problem: string | null,
  ) {}
  private cell(column: number): string {
    return this.reading.cells.cell(this.number, column);
  }
  get file(): string {
    return this.reading.file;
  }
  get line(): number {
    return this.reading.lines[this.number] as number;
  }
  get sourcedId(): string {
    return this.cell(this.reading.at.id);
  }
  get username(): string {
    return this.cell(this.reading.at.username);
  }
  get email(): string {
    return this.cell(this.reading.at.email);
  }
  get givenName(): string {
    const own = this.cell(this.reading.at.givenName);
    return own || this.reading.at.fullName < 0 ? own : splitName(this.cell(this.reading.at.fullName)).givenName;
  }
  get familyName(): string {
    const own = this.cell(this.reading.at.familyName);
    return own || this.reading.at.fullName < 0 ? own : splitName(this.cell(this.reading.at.fullName)).familyName;
  }
  get sectionCode(): string {
    return this.cell(this.reading.at.section) || this.reading.sectionCode;
  }
  get sectionTitle(): string {
    return this.cell(this.reading.at.sectionTitle);
  }
  get meets(): string {
    return this.cell(this.reading.at.meets);
  }
  get attributes(): Record<string, string> {
    const found: Record<string, string> = {};
    for (const { column, title } of this.reading.attributes) {
      const cell = this.cell(column);
      if (cell !== "") found[title] = cell;
    }
    return found;
  }
  private saysNothingBut(column: number, stored: string | null | undefined): boolean {
    const { cells } = this.reading;
    return column < 0 || cells.holds(this.number, column, stored ?? "") || cells.isEmpty(this.number, column);
  }
  saysOnly(person: Person): boolean {
    const { at, attributes } = this.reading;
    if (!this.saysNothingBut(at.username, person.username) || !this.saysNothingBut(at.email, person.email))
      return false;
    if (at.fullName < 0) {
      if (!this.saysNothingBut(at.givenName, person.givenName)) return false;
      if (!this.saysNothingBut(at.familyName, person.familyName)) return false;
    } else if (
      (this.givenName !== "" && this.givenName !== person.givenName) ||
      (this.familyName !== "" && this.familyName !== person.familyName)
    )
      return false;
    for (const { column, title } of attributes)
      if (!this.saysNothingBut(column, person.attributes[title])) return false;
    return true;
  }
}

/** A row that owns what it says, as it is sent to the page and to the server. */
export const plainRow = (row: RosterRow): RosterRow => ({
  file: row.file,
  line: row.line,
  sourcedId: row.sourcedId,
  username: row.username,
  email: row.email,
  givenName: row.givenName,
  familyName: row.familyName,
  sectionCode: row.sectionCode,
  sectionTitle: row.sectionTitle,
  meets: row.meets,
  role: row.role,
  attributes: row.attributes,
  problem: row.problem,
});

/** Why a row cannot be taken in whatever table it came from; null where it can. */
function whyNotTaken(row: RosterRow): string | null {
  if (row.sourcedId === "") return "id: empty";
  if (row.sectionCode === "") return "section: empty";
  if (row.email !== "" && !isEmail(row.email)) return `e-mail: "${row.email}" is not an e-mail address`;
  const [long] = limits.filter(([field, limit]) => row[field].length > limit);
  return long ? `${long[0]}: longer than ${long[1]} characters` : null;
}

/** Rows as somebody sent them, who may say of each that it is sound: those that are not are unreadable. */
export const heldToLimits = (rows: readonly RosterRow[]): RosterRow[] =>
  rows.map((row) => {
    const problem = row.problem === null ? whyNotTaken(row) : null;
    return problem === null ? row : { ...plainRow(row), problem };
  });

/** Rows of one table, its cells in NFC. `sectionCode` names the section of a file that has no section column. */
export function rosterRows(
  table: TextTable,
  match: ColumnMatch,
  sectionCode = "",
  known: readonly string[] = [],
): RosterRow[] {
  const { header } = table;
  // "year" and "Year" are one attribute: the name that the course has already stays.
  const named = new Map(known.map((name) => [fold(name), name]));
  const at = Object.fromEntries(columnFields.map((field) => [field, match.indexOf(field)])) as Reading["at"];
  const attributes = header.flatMap((title, column) =>
    match[column] === "attribute" ? [{ column, title: named.get(fold(title)) ?? title }] : [],
  );
  const cells = cellsOf(table);
  const reading: Reading = { file: table.name, cells, lines: table.lines, at, sectionCode, attributes };
  const titleOf = (column: number) => header[column] || `column ${column + 1}`;
  const isOverlong = cells.longest > shortestLimit;
  const beyond = (number: number): boolean =>
    cells
      .row(number)
      .slice(header.length)
      .some((cell) => cell !== "");
  /** Why a row cannot be taken as it is; null where it can. */
  const problemOf = (row: TableRow, number: number, given: string, isRole: boolean): string | null => {
    const { email } = row;
    const width = cells.width(number);
    if (cells.isEmpty(number, at.id)) return `${titleOf(at.id)}: no id`;
    if (email !== "" && !isEmail(email)) return `${titleOf(at.email)}: "${email}" is not an e-mail address`;
    if (!isRole) return `${titleOf(at.role)}: "${given}" is not a role that a roster can give`;
    if (sectionCode === "" && cells.isEmpty(number, at.section))
      return `${titleOf(Math.max(0, at.section))}: no section`;
    if (width > header.length && beyond(number))
      return `column ${header.length + 1}: ${width} cells under ${header.length} titles; is a quote missing?`;
    return isOverlong ? tooLong(row, at, titleOf) : null;
  };
  return table.lines.map((_, number) => {
    const given = at.role < 0 ? "" : cells.cell(number, at.role);
    const role = readRole(given);
    const row = new TableRow(reading, number, role ?? "student", null);
    row.problem = problemOf(row, number, given, role !== null);
    return row;
  });
}
