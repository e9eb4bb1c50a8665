/** What the stand-in for the registrar knows: people, classes, and who is in which; kept in one JSON file. */
import { existsSync, readFileSync, renameSync, writeFileSync } from "node:fs";
import { familyNames, givenNames, plainAscii } from "../names.ts";
import { random } from "../random.ts";
import { makeScenario } from "../scenario.ts";
import { type SectionCode, sectionCodes, sectionFacts } from "../term.ts";

export interface User {
  sourcedId: string;
  username: string;
  email: string;
  givenName: string;
  familyName: string;
  year: string;
}
export interface Class {
  sourcedId: string;
  classCode: string;
  title: string;
  meets: string;
  /** The course that it is a class of. */
  courseId: string;
}
export interface Course {
  sourcedId: string;
  courseCode: string;
  title: string;
}
/** How the service answers: well, or in one of the ways in which such a service fails. */
export const moods = ["well", "down", "slow", "half an answer", "nonsense", "without end"] as const;
export interface Registrar {
  users: Record<string, User>;
  classes: Class[];
  courses: Course[];
  /** Ids of students by the id of their class. */
  students: Record<string, string[]>;
  /** Ids of teachers by the id of their class; nobody in WSH 240, whose staff are given their role by hand. */
  teachers?: Record<string, string[]>;
  mood: (typeof moods)[number];
}

/** A course that is not merged yet: the demo's coordinator teaches its classes. */
const hydraulics = {
  course: { sourcedId: "hyd310", courseCode: "HYD 310", title: "Field Hydraulics" },
  classes: [
    { code: "A", title: "Morning A", meets: "Mon Wed 09:00-10:15" },
    { code: "B", title: "Morning B", meets: "Tue Thu 09:00-10:15" },
    { code: "C", title: "Afternoon", meets: "Mon Wed 14:00-15:15" },
    { code: "E", title: "Evening", meets: "Thu 18:00-20:30" },
  ],
};

/** The classes of the demo course as they are now, those of a course that is not merged, and sixty more people. */
export function makeRegistrar(): Registrar {
  const { people } = makeScenario(Date.UTC(2026, 10, 25, 10), "6f0e3a52-4a53-4c5c-9a52-0f7f3a1d2b4c");
  const users: Registrar["users"] = {};
  const students: Registrar["students"] = Object.fromEntries(sectionCodes.map((code) => [classId(code), []]));
  for (const { person, section } of people.students) {
    const { sourcedId, username, email, givenName, familyName, attributes } = person;
    users[sourcedId] = {
      sourcedId,
      username: username ?? "",
      email: email ?? "",
      givenName,
      familyName,
      year: attributes.Year ?? "",
    };
    if (section) students[classId(section)]?.push(sourcedId);
  }
  const { pick } = random(77);
  const others: string[] = [];
  for (let number = 0; number < 60; number++) {
    const [givenName, familyName] = [pick(givenNames), pick(familyNames)];
    const sourcedId = `00${310_000 + number * 41}`;
    const username = `${plainAscii(givenName)}.${plainAscii(familyName)}.${number + 10}`;
    users[sourcedId] = { sourcedId, username, email: `${username}@tarnbeck.example`, givenName, familyName, year: "1" };
    others.push(sourcedId);
  }
  const classes: Class[] = sectionCodes.map((code) => ({
    sourcedId: classId(code),
    classCode: code,
    title: sectionFacts[code].title,
    meets: sectionFacts[code].meets,
    courseId: "wsh240",
  }));
  const teachers: Registrar["teachers"] = {};
  const coordinator = people.staff[0]?.person;
  if (coordinator) {
    const { sourcedId, username, email, givenName, familyName } = coordinator;
    users[sourcedId] = { sourcedId, username: username ?? "", email: email ?? "", givenName, familyName, year: "" };
  }
  for (const [place, { code, title, meets }] of hydraulics.classes.entries()) {
    const sourcedId = `hyd310-${code.toLowerCase()}`;
    classes.push({ sourcedId, classCode: code, title, meets, courseId: hydraulics.course.sourcedId });
    students[sourcedId] = others.filter((_, at) => at % hydraulics.classes.length === place);
    teachers[sourcedId] = coordinator ? [coordinator.sourcedId] : [];
  }
  const courses = [{ sourcedId: "wsh240", courseCode: "WSH 240", title: "Watershed Field Methods" }, hydraulics.course];
  return { users, classes, courses, students, teachers, mood: "well" };
}
const classId = (code: SectionCode) => `wsh240-${code.toLowerCase()}`;

/** The state in a file: read once, written whole at each change. */
export function keepRegistrar(file: string): { state: Registrar; save(): void } {
  const state: Registrar = existsSync(file) ? JSON.parse(readFileSync(file, "utf8")) : makeRegistrar();
  const save = () => {
    writeFileSync(`${file}.new`, JSON.stringify(state));
    renameSync(`${file}.new`, file);
  };
  if (!existsSync(file)) save();
  return { state, save };
}
