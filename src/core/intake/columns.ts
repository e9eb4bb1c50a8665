/** Which column of a roster is what: by its header, then by what its cells look like. Source: semantics.md section 2. */
import { z } from "zod";
import { firstRows, type TextTable } from "../formats/text-table.ts";
import { readPattern } from "../timing/meetings.ts";

export const columnFields = [
  "id",
  "username",
  "email",
  "givenName",
  "familyName",
  "fullName",
  "section",
  "sectionTitle",
  "meets",
  "role",
  "attribute",
  "ignore",
] as const;
export type ColumnField = (typeof columnFields)[number];
export const ColumnMatch = z.array(z.enum(columnFields));
/** One field a column, in the order of the header. */
export type ColumnMatch = z.infer<typeof ColumnMatch>;

export const columnLabels: Record<ColumnField, string> = {
  id: "Registrar's id",
  username: "Username",
  email: "E-mail",
  givenName: "Given name",
  familyName: "Family name",
  fullName: "Full name",
  section: "Section code",
  sectionTitle: "Section title",
  meets: "Meeting pattern",
  role: "Role",
  attribute: "Keep as it is",
  ignore: "Leave out",
};

const byHeader: [ColumnField, RegExp][] = [
  ["email", /e-?mail/],
  ["username", /^(user ?name|login|account|network id)$/],
  ["sectionTitle", /^(section|course|class) ?(title|name)$/],
  ["meets", /meet|schedule|timetable|days/],
  ["section", /^(section|class|period|cohort|group)( ?(code|id|no|number))?$|^crn$/],
  ["givenName", /^(given|first|fore)[ -]?names?$/],
  ["familyName", /^(family|last|sur)[ -]?names?$/],
  ["id", /^((student|person|registrar'?s?|registration|sourced) ?)?(id|no|number)$|matric/],
  ["fullName", /^(student|person|full)?[ -]?name$/],
  ["role", /^role$/],
];

const mostly = (cells: string[], test: (cell: string) => boolean) => {
  const filled = cells.filter((cell) => cell !== "");
  return filled.length > 0 && filled.filter(test).length >= filled.length * 0.8;
};

/**
 * The match of every column. A field that can stand only once goes to the first column that fits it.
 * `codes` are the sections that the course has: a column that holds them is the section.
 */
export function matchColumns(table: TextTable, codes: string[] = []): ColumnMatch {
  const taken = new Set<ColumnField>();
  const sample = firstRows(table, 200);
  const cellsOf = (column: number) => sample.map((cells) => cells[column] ?? "");
  // "Class" may be a section, a meeting time, or an empty column of another office's.
  const isSection = (column: number) => {
    const cells = cellsOf(column);
    return (
      cells.filter((cell) => cell !== "").length * 2 >= cells.length &&
      !mostly(cells, (cell) => readPattern(cell) !== null)
    );
  };
  const match: ColumnField[] = table.header.map((title, column) => {
    const plain = title.toLowerCase().replace(/[_.]/g, " ").replace(/\s+/g, " ").trim();
    for (const [field, pattern] of byHeader) {
      if (!taken.has(field) && pattern.test(plain) && (field !== "section" || isSection(column))) {
        taken.add(field);
        return field;
      }
    }
    return plain === "" ? "ignore" : "attribute";
  });
  const claim = (field: ColumnField, fits: (cells: string[]) => boolean) => {
    if (taken.has(field)) return;
    const column = match.findIndex((current, index) => current === "attribute" && fits(cellsOf(index)));
    if (column >= 0) {
      match[column] = field;
      taken.add(field);
    }
  };
  claim("email", (cells) => mostly(cells, isEmail));
  claim(
    "id",
    (cells) =>
      mostly(cells, (cell) => /^[A-Za-z]{0,3}\d{5,12}$/.test(cell)) && new Set(cells).size > cells.length * 0.9,
  );
  if (!taken.has("familyName"))
    claim("fullName", (cells) => mostly(cells, (cell) => /^\p{L}[\p{L}' -]+,\s*\p{L}/u.test(cell)));
  claim("meets", (cells) => mostly(cells, (cell) => readPattern(cell) !== null));
  const known = new Set(codes.map((code) => code.toLowerCase()));
  claim("section", (cells) => mostly(cells, (cell) => known.has(cell.toLowerCase())));
  // A code with a letter that comes again and again: in a short list anything does, and a bare number is a year.
  claim("section", (cells) => {
    const kinds = new Set(cells).size;
    return (
      cells.length >= 10 &&
      kinds > 1 &&
      kinds <= cells.length / 5 &&
      mostly(cells, (cell) => /^(?=.*[A-Z])[A-Z0-9-]{1,12}$/i.test(cell))
    );
  });
  return match;
}

export const isEmail = (text: string): boolean => /^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(text);

/** What a header is remembered by: its titles, without case and space. */
export const headerKey = (header: string[]): string =>
  header.map((title) => title.toLowerCase().replace(/\s+/g, " ").trim()).join("\t");

/** What a match still lacks before rows can be read, or null. */
export function matchProblem(match: ColumnMatch, sectionGiven: boolean): string | null {
  const once: ColumnField[] = [
    "id",
    "username",
    "email",
    "givenName",
    "familyName",
    "fullName",
    "section",
    "role",
    "meets",
    "sectionTitle",
  ];
  const twice = once.find((field) => match.filter((other) => other === field).length > 1);
  if (twice) return `Two columns are matched as "${columnLabels[twice]}". Choose one of them.`;
  if (!match.includes("id")) return "No column holds the registrar's id. Say which one does.";
  if (!match.includes("section") && !sectionGiven)
    return "No column holds the section. Say which one does, or name the section of this file.";
  return null;
}
