/**
 * Two courses that run already as one: people matched by the registrar's id, outlines side by side, layers kept apart, and
 * nobody sees more or less than before. Source: semantics.md sections 1, 3 and 4.
 */

import { freeName } from "../placement/groups/parts.ts";
import { derivedId, put } from "../plan/command.ts";
import type { Row } from "../plan/difference.ts";
import { foldersAbove, fullName, holdsAt, isStudentAt, lastPosition, lookup } from "../plan/lookup.ts";
import { mapReferences } from "../plan/references.ts";
import { withCourse } from "../plan/tables.ts";
import {
  blankItem,
  type Course,
  type Item,
  isStaffRole,
  type Plan,
  type TableName,
  type Target,
} from "../plan/types.ts";
import { calledRow, faultsIn } from "../plan/valid.ts";
import { fold } from "../text/caseless.ts";
import { isolated } from "../text/names.ts";
import { plural } from "../text/plural.ts";
import { cut } from "../text/shorten.ts";
import { sharedLogin } from "./over.ts";
import { carriedBeside } from "./part-of.ts";

export interface Joined {
  plan: Plan;
  /** The id in the one course of a row of the other, or of anything else that work stands in. */
  idOf(oldId: string): string;
  /** What becomes another than it was, each in a sentence. */
  says: string[];
}
interface Joining {
  into: Plan;
  from: Plan;
  at: number;
  /** Ids of people of the other course, as the one course has or gets them. */
  people: ReadonlyMap<string, string>;
  idOf(oldId: string): string;
  says: string[];
}

/** The other course within the one, or why that cannot be. `id` names the rows that come over. */
export function joinCourses(into: Plan, from: Plan, at: number, id: string): Joined | { wrong: string } {
  const wrong = whyNotJoin(into, from, at);
  if (wrong) return { wrong };
  const known = new Map(Object.values(into.people).map((person) => [person.sourcedId, person.id]));
  const people = new Map(
    Object.values(from.people).map((person) => [person.id, known.get(person.sourcedId) ?? derivedId(id, person.id)]),
  );
  const idOf = (oldId: string) => people.get(oldId) ?? derivedId(id, oldId);
  const joining: Joining = { into, from, at, people, idOf, says: [] };
  let plan = withPeople(joining);
  plan = withStructure(joining, plan);
  plan = withOutlines(joining, plan);
  plan = withCourse(plan, joinedSettings(joining));
  tellPeople(joining);
  const [fault] = faultsIn(plan);
  if (fault)
    return { wrong: `${calledRow(plan, fault)} cannot be so: ${fault.says}. Mend that in its own course first.` };
  return { plan, idOf, says: joining.says };
}

const namesOf = (plan: Plan, ids: string[]): string => {
  const names = ids.slice(0, 5).map((id) => fullName(plan.people[id] as Plan["people"][string]));
  return names.join("; ") + (ids.length > 5 ? ` and ${ids.length - 5} more` : "");
};
const isStaffAt = (plan: Plan, personId: string, at: number): boolean =>
  (lookup(plan).enrolmentsOfPerson.get(personId) ?? []).some((row) => isStaffRole(row.role) && holdsAt(row, at));

/** What two courses cannot differ in, or their people cannot be, within one. */
function whyNotJoin(into: Plan, from: Plan, at: number): string | null {
  if (into.course.timeZone !== from.course.timeZone)
    return `${from.course.code} goes by the clock of ${from.course.timeZone}, ${into.course.code} by that of ${into.course.timeZone}: its dates would mean other moments.`;
  const login = sharedLogin(into, Object.values(from.people));
  if (login) return login;
  const bySourcedId = new Map(Object.values(into.people).map((person) => [person.sourcedId, person]));
  for (const person of Object.values(from.people)) {
    const same = bySourcedId.get(person.sourcedId);
    const isBoth =
      same &&
      ((isStaffAt(into, same.id, at) && isStudentAt(from, person.id, at)) ||
        (isStudentAt(into, same.id, at) && isStaffAt(from, person.id, at)));
    if (isBoth)
      return `${isolated(fullName(person))} is a student in one of the courses and on the staff of the other: in one course that would show them what students do not see.`;
  }
  return null;
}

/** People, and what they are in the course. */
function withPeople({ into, from, at, people, idOf }: Joining): Plan {
  const born = Object.values(from.people).flatMap((person) => {
    const id = people.get(person.id) as string;
    return into.people[id] ? [] : [{ ...person, id }];
  });
  const { enrolmentsOfPerson } = lookup(into);
  const enrolments = Object.values(from.enrolments).flatMap((row) => {
    const personId = people.get(row.personId) as string;
    const others = enrolmentsOfPerson.get(personId) ?? [];
    // Who has a part in the whole of both has it once.
    const isThere =
      row.sectionId === null &&
      holdsAt(row, at) &&
      others.some((one) => one.sectionId === null && one.role === row.role && holdsAt(one, at));
    if (isThere) return [];
    const home = row.home && !others.some((one) => one.home);
    return [{ ...row, id: idOf(row.id), personId, sectionId: row.sectionId && idOf(row.sectionId), home }];
  });
  return put(put(into, "people", born), "enrolments", enrolments);
}

/** Sections, layers, groups, sets, placements, and what holds for some of them. */
function withStructure(joining: Joining, start: Plan): Plan {
  const { into, from } = joining;
  const others = Object.values(into.course.noClassDays).map(({ day }) => day);
  const missed = from.course.noClassDays.map(({ day }) => day).filter((day) => !others.includes(day));
  let plan = withRows(joining, start, "sections", (row, name) => ({
    code: name(row.code, 60, Object.values(into.sections), "code"),
    // Days without class of the other course stay its sections' own.
    noClassDays: [...new Set([...row.noClassDays, ...missed])],
  }));
  const lowest = Math.max(-1, ...Object.values(into.layers).map(({ position }) => position)) + 1;
  plan = withRows(joining, plan, "layers", (row, name) => ({
    name: name(row.name, 200, Object.values(into.layers), "name"),
    position: lowest + row.position,
  }));
  const codes = new Set(Object.values(into.groups).flatMap(({ code }) => (code ? [fold(code)] : [])));
  plan = withRows(joining, plan, "groups", ({ name, code }) => {
    if (!code || !codes.has(fold(code))) return {};
    joining.says.push(`The code ${code} of ${name} is another group's: it is taken away, make a new one.`);
    return { code: null };
  });
  plan = withRows(joining, plan, "sets", (row, name) => ({
    name: name(row.name, 200, Object.values(into.sets), "name"),
  }));
  plan = withRows(joining, plan, "placements", () => ({}));
  return withAllowances(joining, plan);
}

type FreeName = (name: string, longest: number, taken: object[], field: string) => string;

/** The rows of a table of the other course, each with what it has to have else; null: it stays behind. */
function withRows<Name extends TableName>(
  { from, idOf, says }: Joining,
  plan: Plan,
  table: Name,
  change: (row: Plan[Name][string], name: FreeName) => Partial<Plan[Name][string]> | null,
): Plan {
  const name: FreeName = (own, longest, taken, field) => {
    const names = taken.map((one) => String((one as Record<string, unknown>)[field]));
    if (!names.some((other) => fold(other) === fold(own))) return own;
    const free = freeNameOf(cut(own, longest - 44), from.course.code, names);
    says.push(`${own} is in both: that of ${from.course.code} is called ${free}.`);
    return free;
  };
  const rows = Object.values(from[table] as Record<string, Plan[Name][string]>).flatMap((row) => {
    const changed = change(row, name);
    if (!changed) return [];
    return [{ ...mapReferences(table, row as Row, ({ id }) => [idOf(id)]), ...changed, id: idOf((row as Row).id) }];
  });
  return put(plan, table, rows as unknown as Plan[Name][string][]);
}

const freeNameOf = (name: string, code: string, taken: string[]): string => {
  const wanted = `${name} (${code})`;
  return taken.some((other) => fold(other) === fold(wanted)) ? freeName(wanted, taken) : wanted;
};

/** An allowance holds in the whole course: of somebody who has one in each, that of the one course stays. */
function withAllowances(joining: Joining, plan: Plan): Plan {
  const { into, from, idOf, says } = joining;
  const has = new Set(Object.values(into.allowances).map(({ target }) => target.id));
  const both = Object.values(from.allowances).filter(({ target }) => has.has(idOf(target.id)));
  if (both.length > 0)
    says.push(
      `${plural(both.length, "person has an allowance", "people have an allowance")} in both courses (${namesOf(
        from,
        both.map(({ target }) => target.id),
      )}): that of ${into.course.code} stays. Look at it.`,
    );
  const twice = new Set(both.map(({ id }) => id));
  return withRows(joining, plan, "allowances", ({ id }) => (twice.has(id) ? null : {}));
}

/** Whoever a course is for, as an audience names them: its sections, and students and visitors without one. */
export function everybodyOf(plan: Plan, at: number): Target[] {
  const alone = Object.values(plan.enrolments).filter(
    (row) => row.sectionId === null && !isStaffRole(row.role) && holdsAt(row, at),
  );
  return [
    ...Object.keys(plan.sections).map((id): Target => ({ kind: "section", id })),
    ...[...new Set(alone.map(({ personId }) => personId))].map((id): Target => ({ kind: "person", id })),
  ];
}

/** The outlines side by side: the other's in a folder for its own people, and what was there for its own. */
function withOutlines(joining: Joining, start: Plan): Plan {
  const { into, from, at, idOf, says } = joining;
  const folder: Item = {
    ...blankItem,
    ...{ id: idOf(from.course.id), parentId: null, position: lastPosition(into, null) + 1, kind: "folder" },
    title: cut(`${from.course.code} ${from.course.title}`, 200),
    audience: { to: everybodyOf(from, at).map(({ kind, id }) => ({ kind, id: idOf(id) })), minus: [] },
  };
  const mine = everybodyOf(into, at);
  // What no sealing folder holds can be found by everybody: through a list of the course if nowhere else.
  const bare = Object.values(into.items).filter(
    (item) => item.audience.to === "everyone" && !foldersAbove(into, item).some(({ seals }) => seals),
  );
  if (bare.length > 0)
    says.push(
      `${plural(bare.length, "item")} of ${into.course.code} for everyone ${bare.length === 1 ? "is" : "are"} for its own sections from now on; those of ${from.course.code} stand in a folder for its own. Sections that are added later are in neither until you name them.`,
    );
  let plan = put(
    start,
    "items",
    bare.map((item) => ({ ...item, audience: { to: mine, minus: item.audience.minus } })),
  );
  plan = put(plan, "items", [folder]);
  plan = withRows(joining, plan, "items", (item) => ({
    ...carriedBeside(item as Row, idOf),
    parentId: item.parentId ? idOf(item.parentId) : folder.id,
    categoryId: item.categoryId && idOf(item.categoryId),
  }));
  plan = withRows(joining, plan, "entrances", ({ folderId }) => ({ folderId: folderId ? idOf(folderId) : folder.id }));
  return withRows(joining, plan, "overrides", () => ({}));
}

/** Settings hold for the whole course: where the two differ, what shows less. */
function joinedSettings({ into: { course }, from: { course: other }, idOf, says }: Joining): Partial<Course> {
  const { code } = other;
  const indexes = { ...course.indexes };
  for (const kind of Object.keys(indexes) as (keyof typeof indexes)[])
    if (course.indexes[kind] !== other.indexes[kind]) {
      indexes[kind] = false;
      says.push(`The list of all ${kind} is on in one of the courses alone: it is off now.`);
    }
  if (course.classList.to !== "nobody")
    says.push("The class list is shown to nobody now: it would name the students of both courses. Choose again.");
  if (course.datePolicy !== other.datePolicy)
    says.push(`Dates of several groups are settled by ${course.datePolicy} now; ${code} did otherwise. Look at them.`);
  if (other.meetingLayerId)
    says.push(
      `Groups of ${code} with meetings of their own: whose meetings count is as in ${course.code}. Look at it.`,
    );
  const names = course.grading.categories.map(({ name }) => name);
  const categories = other.grading.categories.map((one) => ({
    ...one,
    id: idOf(one.id),
    name: names.some((name) => fold(name) === fold(one.name)) ? freeNameOf(cut(one.name, 36), code, names) : one.name,
  }));
  if (categories.length > 0)
    says.push(
      `${plural(categories.length, "category", "categories")} of the gradebook of ${code} stand beside those of ${course.code}.`,
    );
  const same = ({ missingIsZero, scale }: Course["grading"]) => JSON.stringify({ missingIsZero, scale });
  if (same(course.grading) !== same(other.grading))
    says.push(
      `How totals are made is as in ${course.code} now: words for percentages, and what a missing mark counts.`,
    );
  if (other.visitorCode) says.push(`The visitors' code of ${code} is not carried.`);
  if (other.splitting) says.push(`How items are split is as in ${course.code} now.`);
  return {
    ...{ indexes, classList: { to: "nobody" as const } },
    layerOrder: [...course.layerOrder, ...other.layerOrder.filter((id) => id !== "sections").map(idOf)],
    tellingWords: [...new Set([...course.tellingWords, ...other.tellingWords])].slice(0, 300),
    grading: { ...course.grading, categories: [...course.grading.categories, ...categories] },
    staffMay: { ...mappedKeys(other.staffMay, idOf), ...course.staffMay },
  };
}
const mappedKeys = <V>(record: Record<string, V>, idOf: (id: string) => string): Record<string, V> =>
  Object.fromEntries(Object.entries(record).map(([id, value]) => [idOf(id), value]));

/** Who is in both, and who coordinates all of it now. */
function tellPeople({ into, from, at, people, says }: Joining): void {
  const students = Object.keys(from.people).filter((id) => isStudentAt(from, id, at));
  const both = students.filter((id) => isStudentAt(into, people.get(id) as string, at));
  says.unshift(`${plural(students.length, "student")} of ${from.course.code} come over with all that they did.`);
  if (both.length > 0)
    says.push(`${plural(both.length, "student is", "students are")} in both, and known once: ${namesOf(from, both)}.`);
  const more = Object.keys(from.people).filter(
    (id) =>
      (lookup(from).enrolmentsOfPerson.get(id) ?? []).some((row) => row.role === "coordinator" && holdsAt(row, at)) &&
      !isStaffAt(into, people.get(id) as string, at),
  );
  if (more.length > 0) says.push(`${namesOf(from, more)} will coordinate all of it.`);
  const left = Object.keys(from.acceptances).length;
  if (left > 0) says.push(`Findings of ${from.course.code} that were let stand are found again.`);
}
