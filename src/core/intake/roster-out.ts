/** The roster going out: the people of a filter as rows that come in again without a difference. Source: section 2. */
import type { RosterLine } from "../formats/oneroster/write.ts";
import { compareNames, compareText, fullName, holdsAt } from "../plan/lookup.ts";
import type { Enrolment, Person, Plan } from "../plan/types.ts";
import { fold } from "../text/caseless.ts";
import { writePattern } from "../timing/meetings.ts";

/** Which people of a course. Everything left out lets everyone through. */
export interface PeopleFilter {
  /** Words that name, id, login, section or an attribute must hold, each of them. */
  text: string;
  sectionId: string | null;
  role: "student" | "staff" | "everyone";
  /** Those whose enrolment ended as well. */
  left: boolean;
}
export interface Listed {
  person: Person;
  enrolment: Enrolment;
}

/** Enrolments that a filter lets through, by name then section. */
export function listPeople(plan: Plan, filter: PeopleFilter, t: number): Listed[] {
  const words = fold(filter.text).split(/\s+/).filter(Boolean);
  const found: Listed[] = [];
  for (const enrolment of Object.values(plan.enrolments)) {
    const person = plan.people[enrolment.personId];
    if (!person || enrolment.since > t || (!filter.left && !holdsAt(enrolment, t))) continue;
    if (filter.sectionId !== null && enrolment.sectionId !== filter.sectionId) continue;
    if (filter.role === "student" && enrolment.role !== "student") continue;
    if (filter.role === "staff" && (enrolment.role === "student" || enrolment.role === "visitor")) continue;
    if (words.length > 0) {
      const code = plan.sections[enrolment.sectionId ?? ""]?.code ?? "";
      const searched = fold(
        `${fullName(person)} ${person.sourcedId} ${person.username ?? ""} ${person.email ?? ""} ${code} ${Object.values(person.attributes).join(" ")}`,
      );
      if (!words.every((word) => searched.includes(word))) continue;
    }
    found.push({ person, enrolment });
  }
  const codeOf = ({ enrolment }: Listed) => plan.sections[enrolment.sectionId ?? ""]?.code ?? "";
  return found.sort(
    (a, b) =>
      compareNames(a.person, b.person) ||
      compareText(a.person.sourcedId, b.person.sourcedId) ||
      compareText(codeOf(a), codeOf(b)),
  );
}

const columns = [
  "Student id",
  "Family name",
  "Given name",
  "E-mail",
  "Username",
  "Section",
  "Section title",
  "Meets",
  "Role",
];

/** A header and its rows; attributes have a column each. Enrolments without a section cannot stand on a roster. */
export function rosterTable(plan: Plan, listed: Listed[]): { header: string[]; rows: string[][] } {
  const attributes = [...new Set(listed.flatMap(({ person }) => Object.keys(person.attributes)))].sort(compareText);
  return {
    header: [...columns, ...attributes],
    rows: listed.map(({ person, enrolment }) => {
      const section = plan.sections[enrolment.sectionId ?? ""];
      return [
        person.sourcedId,
        person.familyName,
        person.givenName,
        person.email ?? "",
        person.username ?? "",
        section?.code ?? "",
        section?.title ?? "",
        section ? writePattern(section.pattern) : "",
        enrolment.role,
        ...attributes.map((name) => person.attributes[name] ?? ""),
      ];
    }),
  };
}

/** Lines for a OneRoster archive: students and instructors of sections. */
export const rosterLines = (plan: Plan, listed: Listed[]): RosterLine[] =>
  listed
    .filter(
      ({ enrolment }) =>
        enrolment.sectionId !== null && (enrolment.role === "student" || enrolment.role === "instructor"),
    )
    .map(({ person, enrolment }) => {
      const section = plan.sections[enrolment.sectionId as string];
      return {
        sourcedId: person.sourcedId,
        username: person.username ?? "",
        email: person.email ?? "",
        givenName: person.givenName,
        familyName: person.familyName,
        sectionCode: section?.code ?? "",
        sectionTitle: section?.title ?? "",
        role: enrolment.role,
      };
    });

/** Whether it holds at t; for lists that show who left. */
export const isOpen = ({ enrolment }: Listed, t: number): boolean => holdsAt(enrolment, t);
