/**
 * The demo course: Tarnbeck Polytechnic (invented), WSH 240 Watershed Field Methods, merged from four sections.
 * The same seed and moment give the same course; ids come from `namespace`, which is random at load.
 */
import { v5 } from "uuid";
import { usualPage } from "../src/core/placement/groups/page.ts";
import { nextStripe } from "../src/core/placement/stripes.ts";
import { plainForming } from "../src/core/plan/forming.ts";
import {
  blankCourse,
  blankGroup,
  blankLayer,
  type Course,
  emptyPlan,
  type Group,
  type Layer,
  type Placement,
  type Plan,
} from "../src/core/plan/types.ts";
import { type Activity, makeActivity } from "./activity.ts";
import { makeOutline } from "./outline.ts";
import { makeEnrolments, makePeople, type People, type Student } from "./people.ts";
import { type DemoAttempt, makeAttempts } from "./quizzes.ts";
import { random } from "./random.ts";
import { makeTerm, sectionCodes, sectionFacts, type Term, timeZone } from "./term.ts";

export interface Scenario {
  plan: Plan;
  people: People;
  attempts: DemoAttempt[];
  term: Term;
  activity: Activity;
  /** A second course shell with nobody in it but its coordinator. */
  emptyCourse: Plan;
}

export function makeScenario(now: number, namespace: string): Scenario {
  const chance = random(240);
  const id = (name: string) => v5(name, namespace);
  const term = makeTerm(now);
  const people = makePeople(chance, id);
  const course: Course = {
    id: id("course"),
    code: "WSH 240",
    title: "Watershed Field Methods",
    term: "This term",
    termStart: term.start,
    termEnd: term.end,
    timeZone,
    ...blankCourse,
    mayWriteToStaff: true,
    mayCompareWithOthers: true,
    noClassDays: [
      { day: term.day(5, 1), title: "Bank holiday" },
      { day: term.day(7, 4), title: "Open day" },
    ],
  };
  const plan = emptyPlan(course);
  for (const code of sectionCodes) {
    const { title, pattern } = sectionFacts[code];
    const sectionId = id(`section ${code}`);
    plan.sections[sectionId] = {
      id: sectionId,
      code,
      title,
      studentTitle: title,
      pattern,
      noClassDays: [],
      moved: [],
      added: [],
    };
  }
  for (const { person } of [...people.students, ...people.staff]) plan.people[person.id] = person;
  for (const enrolment of makeEnrolments(people, term, id)) plan.enrolments[enrolment.id] = enrolment;
  addLayers(plan, people, term, id, chance);
  const { items, overrides } = makeOutline(term, id);
  for (const item of items) plan.items[item.id] = item;
  for (const override of overrides) plan.overrides[override.id] = override;
  addAllowances(plan, id);
  const activity = makeActivity(plan, chance, now, id);
  // Chance of its own, so that all else stays as it was.
  const attempts = makeAttempts(plan, activity, random(45), now, id);

  const coordinator = people.staff[0] as People["staff"][number];
  const emptyCourse = emptyPlan({
    ...course,
    id: id("empty course"),
    code: "WSH 241",
    title: "Watershed Field Methods, next intake",
    noClassDays: [],
  });
  const copy = { ...coordinator.person, id: id("coordinator of the empty course") };
  emptyCourse.people[copy.id] = copy;
  const enrolmentId = id("enrolment in the empty course");
  emptyCourse.enrolments[enrolmentId] = {
    id: enrolmentId,
    personId: copy.id,
    sectionId: null,
    role: "coordinator",
    since: term.instant(1, 1, "07:00"),
    until: null,
    origin: "hand",
    home: false,
  };
  return { plan, people, term, activity, attempts, emptyCourse };
}

function addLayers(
  plan: Plan,
  people: People,
  term: Term,
  id: (name: string) => string,
  chance: ReturnType<typeof random>,
): void {
  const layer = (name: string, rule: Layer["rule"], isPrivate = false): Layer => {
    const made: Layer = {
      id: id(`layer ${name}`),
      position: Object.keys(plan.layers).length,
      name,
      rule,
      ...blankLayer,
      private: isPrivate,
      keepApart: [],
    };
    plan.layers[made.id] = made;
    return made;
  };
  const group = (of: Layer, name: string, label = name, max: number | null = null): Group => {
    const others = Object.values(plan.groups).filter(({ layerId }) => layerId === of.id);
    const made: Group = {
      id: id(`group ${name}`),
      layerId: of.id,
      position: others.length,
      name,
      label,
      stripe: nextStripe(name, others),
      ...blankGroup,
      max,
    };
    plan.groups[made.id] = made;
    return made;
  };
  const place = ({ person }: Pick<Student, "person">, into: Group, since: number, until: number | null = null) => {
    const placement: Placement = {
      id: id(`placement ${person.sourcedId} ${into.name} ${since}`),
      groupId: into.id,
      personId: person.id,
      since,
      until,
      held: false,
    };
    plan.placements[placement.id] = placement;
  };
  const week = (number: number) => term.instant(number, 1, "07:30");
  const present = people.students.filter(({ section }) => section !== null);

  const sections = layer("Sections", "exactly one");
  const bySection = new Map(sectionCodes.map((code) => [code, group(sections, sectionFacts[code].title)]));
  sections.following = sectionCodes.map((code) => ({
    sectionIds: [id(`section ${code}`)],
    attribute: null,
    groupId: bySection.get(code)?.id ?? "",
  }));
  for (const student of people.students) {
    const { section, firstSection, cameInWeek } = student;
    if (firstSection && firstSection !== section)
      place(student, bySection.get(firstSection) as Group, week(cameInWeek), week(3));
    if (section)
      place(
        student,
        bySection.get(section) as Group,
        firstSection === section || !firstSection ? week(cameInWeek) : week(3),
      );
  }

  const teams = layer("River teams", "exactly one");
  teams.forming = {
    ...plainForming,
    scopeLayerId: sections.id,
    into: { by: "size", number: 5 },
    apart: [],
    soft: [{ kind: "spread number", column: "Entry score", weight: 1 }],
  };
  for (const code of sectionCodes) {
    // Fours and fives within a section; those who came in week 8 are in no team yet.
    const members = chance.shuffle(present.filter(({ section, cameInWeek }) => section === code && cameInWeek !== 8));
    const count = Math.ceil(members.length / 5);
    const made = Array.from({ length: count }, (_, index) =>
      group(teams, `${sectionFacts[code].title} team ${index + 1}`),
    );
    for (const team of made) {
      team.scopeGroupId = bySection.get(code)?.id ?? null;
      team.page = { has: [...usualPage.has], may: [...usualPage.may, "rename", "write", "meeting link"] };
    }
    for (const [index, student] of members.entries()) place(student, made[index % count] as Group, week(3));
    if (code === "D1") {
      // A pair that is kept apart, in one team all the same.
      const apart = [members[0], members[count]].map((student) => student?.person.id ?? "");
      teams.keepApart.push(apart);
      teams.forming.apart.push(apart);
    }
  }

  const kits = layer("Gauge kits", "at most one");
  const kitGroups = ["Kit alder", "Kit birch", "Kit cedar", "Kit damson", "Kit elm"].map((name) =>
    group(kits, name, name, 20),
  );
  for (const [index, student] of present.entries()) {
    if (chance.next() < 0.82) place(student, kitGroups[(index * 7) % kitGroups.length] as Group, week(3));
  }
  const pilots = group(layer("Drone pilots", "at most one"), "Drone pilots");
  for (const code of sectionCodes)
    for (const student of chance.shuffle(present.filter(({ section }) => section === code)).slice(0, 3))
      place(student, pilots, week(3));

  const access = layer("Access plans", "any number", true);
  const [extra, breaks] = [group(access, "Extra time"), group(access, "Rest breaks")];
  const planned = chance.shuffle(present);
  for (const student of planned.slice(0, 8)) place(student, extra, week(1));
  for (const student of planned.slice(6, 10)) place(student, breaks, week(1));
  const writing = group(layer("Writing support", "at most one", true), "Writing support");
  for (const student of planned.slice(20, 31)) place(student, writing, week(4));
  // One of the two support people has their group; the other was given nobody yet.
  for (const one of people.staff.filter(({ username }) => username === "support.writing")) {
    place(one, writing, week(4));
    plan.course.staffMay = { ...plan.course.staffMay, [one.person.id]: ["set allowances"] };
  }
}

function addAllowances(plan: Plan, id: (name: string) => string): void {
  const add = (name: string, fields: { minutesFactor?: string; extraDays?: number }) => {
    const allowanceId = id(`allowance ${name}`);
    const target = { kind: "group" as const, id: id(`group ${name}`) };
    plan.allowances[allowanceId] = {
      id: allowanceId,
      target,
      minutesFactor: null,
      extraDays: null,
      extraAttempts: null,
      ...fields,
    };
  };
  add("Extra time", { minutesFactor: "1.5" });
  add("Rest breaks", { extraDays: 2 });
}
