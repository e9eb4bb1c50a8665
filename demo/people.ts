/** The people of the demo: who is in which section, when they came and went. */
import type { Enrolment, Person, Role } from "../src/core/plan/types.ts";
import { familyNames, givenNames, plainAscii } from "./names.ts";
import type { Random } from "./random.ts";
import { type SectionCode, sectionCodes, type Term } from "./term.ts";

export interface Student {
  person: Person;
  /** Where the student is now; null for one who left. */
  section: SectionCode | null;
  /** Where the first week's roster lists the student; null for one who came later. */
  firstSection: SectionCode | null;
  cameInWeek: 1 | 3 | 8;
}
export interface People {
  students: Student[];
  staff: { person: Person; role: Role; sections: SectionCode[]; username: string }[];
  /** Enrolled in D1 and, before that, in EV: nobody has chosen the home section. */
  doubleEnrolled: Student;
}

const sizes: Record<SectionCode, number> = { D1: 34, D2: 31, EV: 22, DL: 17 };

export function makePeople(random: Random, id: (name: string) => string): People {
  const names = new Set<string>();
  const taken = new Set<string>();
  let number = 0;
  const make = (attributes: Record<string, string>, username?: string): Person => {
    let given: string;
    let family: string;
    do {
      given = random.pick(givenNames);
      family = random.pick(familyNames);
    } while (names.has(given) || names.has(family) ? names.has(`${given} ${family}`) || random.next() < 0.7 : false);
    names.add(given).add(family).add(`${given} ${family}`);
    number++;
    let login = username ?? `${plainAscii(given)}.${plainAscii(family)}`;
    while (taken.has(login)) login += "2";
    taken.add(login);
    const sourcedId = `00${240_000 + number * 37}`;
    return {
      id: id(`person ${sourcedId}`),
      sourcedId,
      username: login,
      email: `${login}@tarnbeck.example`,
      givenName: given,
      familyName: family,
      attributes,
    };
  };

  const students: Student[] = [];
  const attributes = (section: SectionCode, place: number): Record<string, string> => {
    const year = random.pick(["2", "2", "3"]);
    const score = String(Math.round(Math.min(99, Math.max(41, random.around(68, 12)))));
    // D2 holds two classes with meeting times of their own: the registrar did not divide it.
    const own: Record<string, string> =
      section === "D2" ? { Class: place % 9 < 5 ? "Tue Thu 13:30" : "Tue Thu 16:00" } : {};
    return { Year: year, "Entry score": score, ...own };
  };
  for (const section of sectionCodes) {
    for (let place = 0; place < sizes[section]; place++) {
      const known =
        section === "D1" && place === 4
          ? "student.day"
          : section === "EV" && place === 2
            ? "student.evening"
            : undefined;
      students.push({
        person: make(attributes(section, place), known),
        section,
        firstSection: section,
        cameInWeek: 1,
      });
    }
  }
  const inSection = (code: SectionCode) => students.filter(({ section }) => section === code);
  for (const late of [inSection("D2")[30], inSection("DL")[16]])
    if (late) Object.assign(late, { firstSection: null, cameInWeek: 3 });
  for (const late of [inSection("D1")[33], inSection("EV")[21]])
    if (late) Object.assign(late, { firstSection: null, cameInWeek: 8 });
  const switcher = inSection("EV")[20];
  if (switcher) switcher.firstSection = "D2";
  for (const section of ["D1", "D2", "DL"] as const) {
    students.push({
      person: make(attributes(section, 0)),
      section: null,
      firstSection: section,
      cameInWeek: 1,
    });
  }

  const staff = (username: string, role: Role, sections: SectionCode[]) => ({
    person: make({}, username),
    role,
    sections,
    username,
  });
  return {
    students,
    staff: [
      staff("coordinator", "coordinator", []),
      staff("instructor.d1", "instructor", ["D1"]),
      staff("instructor.d2", "instructor", ["D2"]),
      staff("instructor.ev", "instructor", ["EV"]),
      staff("instructor.dl", "instructor", ["DL"]),
      staff("support.access", "support", []),
      staff("support.writing", "support", []),
    ],
    doubleEnrolled: inSection("D1")[11] as Student,
  };
}

export function makeEnrolments(people: People, term: Term, id: (name: string) => string): Enrolment[] {
  const enrolments: Enrolment[] = [];
  const add = (
    person: Person,
    section: SectionCode | null,
    since: number,
    until: number | null,
    role: Role = "student",
  ) =>
    enrolments.push({
      id: id(`enrolment ${person.sourcedId} ${section} ${since}`),
      personId: person.id,
      sectionId: section && id(`section ${section}`),
      role,
      since,
      until,
      origin: role === "student" ? "roster" : "hand",
      home: false,
    });
  const week = (number: number) => term.instant(number, 1, "07:30");
  for (const { person, section, firstSection, cameInWeek } of people.students) {
    const came = week(cameInWeek);
    if (firstSection === section) add(person, section, came, null);
    else if (section === null) add(person, firstSection, came, week(3));
    else if (firstSection === null) add(person, section, came, null);
    else {
      add(person, firstSection, came, week(3));
      add(person, section, week(3), null);
    }
  }
  const double = people.doubleEnrolled.person;
  const first = enrolments.find(({ personId }) => personId === double.id);
  if (first) first.since = week(2);
  add(double, "EV", week(1), null);
  for (const { person, role, sections } of people.staff) {
    if (sections.length === 0) add(person, null, week(1) - 7 * 86_400_000, null, role);
    for (const section of sections) add(person, section, week(1) - 7 * 86_400_000, null, role);
  }
  return enrolments;
}
