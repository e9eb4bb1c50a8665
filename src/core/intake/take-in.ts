/** What applying an intake makes of a plan: people, enrolments, sections, and the layers that follow. Source: semantics.md 2, 3. */
import { followAll } from "../placement/commands.ts";
import { sectionGroups } from "../placement/group-commands.ts";
import { derivedId, put } from "../plan/command.ts";
import { holdsAt, lookup } from "../plan/lookup.ts";
import {
  blankLayer,
  type Enrolment,
  type Layer,
  type MeetingSlot,
  type Person,
  type Plan,
  type Section,
} from "../plan/types.ts";
import { fold } from "../text/caseless.ts";
import { readPattern } from "../timing/meetings.ts";
import { lostZeros } from "./same-id.ts";
import { isUnusable, isUsed, type Judged, type Reconciled, type ReconcileOptions } from "./verdict.ts";

/** `own` are the rows of the section. */
function newSection(id: string, code: string, own: Judged[]): Section {
  const title = own.find(({ row }) => row.sectionTitle !== "")?.row.sectionTitle ?? code;
  return { id, code, title, studentTitle: title, pattern: usualPattern(own), noClassDays: [], moved: [], added: [] };
}

/** The meeting pattern that most rows of a section name. */
function usualPattern(rows: Judged[]): MeetingSlot[] {
  const counts = new Map<string, number>();
  for (const { row } of rows) if (row.meets) counts.set(row.meets, (counts.get(row.meets) ?? 0) + 1);
  const [usual] = [...counts].sort((a, b) => b[1] - a[1]);
  return usual ? (readPattern(usual[0]) ?? []) : [];
}

/**
 * The plan after an intake. `intakeId` names the rows that are born. With `sectionLayer` a layer with a group
 * for each section is made with it. `makeId` may make plainer ids for a plan that is only looked at.
 */
export function takeIn(
  plan: Plan,
  reconciled: Reconciled,
  intakeId: string,
  now: number,
  sectionLayer: string | null,
  samePeople: ReconcileOptions["samePeople"] = {},
  makeId: (intakeId: string, ...parts: string[]) => string = derivedId,
): Plan {
  const rows = reconciled.rows.filter(isUsed);
  const bySection = new Map<string, Judged[]>();
  for (const entry of rows) {
    const own = bySection.get(entry.row.sectionCode);
    if (own) own.push(entry);
    else bySection.set(entry.row.sectionCode, [entry]);
  }
  const rowsOf = (code: string) =>
    [...bySection].filter(([spelled]) => fold(spelled) === fold(code)).flatMap(([, own]) => own);
  const sections = reconciled.newSections.map((code) =>
    newSection(makeId(intakeId, "section", code), code, rowsOf(code)),
  );
  let next = put(plan, "sections", sections);
  const byCode = new Map(Object.values(next.sections).map((section) => [fold(section.code), section.id]));
  const bySourcedId = new Map(Object.values(plan.people).map((person) => [person.sourcedId, person]));
  const { enrolmentsOfPerson } = lookup(plan);
  const answers = new Map(Object.entries(samePeople));
  const spelled = new Map<string, string>();
  const sectionOf = (code: string): string => {
    const known = spelled.get(code) ?? (byCode.get(fold(code)) as string);
    spelled.set(code, known);
    return known;
  };
  const people = new Map<string, Person>();
  const enrolments: Enrolment[] = [];
  for (const { row, verdict, changes } of rows) {
    // Whoever was said to be the same person under a new id keeps the record, and gets the id.
    const named = answers.get(row.sourcedId) ?? row.sourcedId;
    const known = people.get(named) ?? bySourcedId.get(named);
    const person: Person = known ?? {
      id: makeId(intakeId, "person", named),
      sourcedId: named,
      username: null,
      email: null,
      givenName: "",
      familyName: "",
      attributes: {},
    };
    // A blank cell keeps what is stored.
    const updated: Person = {
      ...person,
      sourcedId:
        bySourcedId.has(named) && !lostZeros(row.sourcedId, person.sourcedId) ? row.sourcedId : person.sourcedId,
      username: row.username || person.username,
      email: row.email || person.email,
      givenName: row.givenName || person.givenName,
      familyName: row.familyName || person.familyName,
      attributes: { ...person.attributes, ...row.attributes },
    };
    // Someone new may be listed in two sections, each row saying a part.
    if (!bySourcedId.has(named) || changes.length > 0) people.set(named, updated);
    if (verdict === "moved") {
      for (const enrolment of enrolmentsOfPerson.get(person.id) ?? []) {
        if (enrolment.role === row.role && holdsAt(enrolment, now)) enrolments.push({ ...enrolment, until: now });
      }
    }
    if (verdict === "new" || verdict === "moved" || verdict === "returning") {
      const sectionId = sectionOf(row.sectionCode);
      const id = makeId(intakeId, "enrolment", named, sectionId);
      enrolments.push({
        id,
        personId: person.id,
        sectionId,
        role: row.role,
        since: now,
        until: null,
        origin: "roster",
        home: false,
      });
    }
  }
  for (const { enrolment } of reconciled.missing) enrolments.push({ ...enrolment, until: now });
  next = put(put(next, "people", [...people.values()]), "enrolments", enrolments);
  if (sectionLayer !== null) {
    const id = derivedId(intakeId, "layer");
    const { groups, following } = sectionGroups(next, id, (sectionId) => derivedId(intakeId, "group", sectionId));
    const position = Object.keys(next.layers).length;
    const layer: Layer = {
      id,
      position,
      name: sectionLayer,
      rule: "exactly one",
      ...blankLayer,
      following,
    };
    next = put(put(next, "layers", [layer]), "groups", groups);
  }
  return followAll(next, intakeId, { now });
}

/** Rows that cannot be used, with their reason: ready to mend and take in again. */
export const unusableRows = (reconciled: Reconciled): Judged[] => reconciled.rows.filter(isUnusable);
