/** The registrar's files of the demo: `tsx demo/rosters.ts` writes them to demo/rosters/. */
import { mkdirSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import Papa from "papaparse";
import type { Student } from "./people.ts";
import { makeScenario } from "./scenario.ts";
import { type SectionCode, sectionCodes, sectionFacts } from "./term.ts";

const header = [
  "Student No",
  "Surname",
  "First name",
  "E-mail",
  "Login",
  "Section",
  "Section title",
  "Meets",
  "Year",
  "Entry score",
  "Class",
];

function line({ person }: Student, section: SectionCode): string[] {
  const { title, meets } = sectionFacts[section];
  const { sourcedId, familyName, givenName, email, username, attributes } = person;
  return [
    sourcedId,
    familyName,
    givenName,
    email ?? "",
    username ?? "",
    section,
    title,
    meets,
    attributes.Year ?? "",
    attributes["Entry score"] ?? "",
    attributes.Class ?? "",
  ];
}

const csv = (rows: string[][], columns = header) =>
  `${Papa.unparse({ fields: columns, data: rows }, { newline: "\r\n" })}\r\n`;

/** File name and content of every roster. */
export function rosterFiles(): Record<string, string> {
  const { people } = makeScenario(Date.UTC(2026, 10, 25, 10), "6f0e3a52-4a53-4c5c-9a52-0f7f3a1d2b4c");
  const first = people.students.filter(({ firstSection }) => firstSection !== null);
  const weekOne = first.map((student) => line(student, student.firstSection as SectionCode));
  const files: Record<string, string> = { "week-1-merged.csv": csv(weekOne) };
  const without = new Set(["Section", "Section title", "Meets"]);
  const keep = header.map((title) => !without.has(title));
  for (const code of sectionCodes) {
    const rows = weekOne.filter((row) => row[5] === code).map((row) => row.filter((_, column) => keep[column]));
    files[`week-1-${code}.csv`] = csv(
      rows,
      header.filter((title) => !without.has(title)),
    );
  }
  const now = people.students.filter(({ section, cameInWeek }) => section !== null && cameInWeek !== 8);
  const weekThree = now.map((student) => line(student, student.section as SectionCode));
  const repeated = weekThree[7] as string[];
  const noId = line(people.students[1] as Student, "D1").map((cell, column) =>
    column === 0 ? "" : column === 4 ? "unknown.person" : cell,
  );
  const badMail = [...(weekThree[50] as string[])];
  badMail[3] = "kovalenko at tarnbeck";
  weekThree[50] = badMail;
  files["week-3-merged.csv"] = csv([...weekThree, repeated, noId]);
  return files;
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const folder = join(dirname(fileURLToPath(import.meta.url)), "rosters");
  mkdirSync(folder, { recursive: true });
  for (const [name, content] of Object.entries(rosterFiles())) writeFileSync(join(folder, name), content);
}
