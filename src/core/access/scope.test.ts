/** What an instructor or support person may know: held to the whole course of the demo. Source: semantics.md section 9. */
import { describe, expect, test } from "vitest";
import { makeScenario } from "../../../demo/scenario.ts";
import { sheetOf } from "../gradebook/sheet.ts";
import { compareGroups } from "../gradebook/statistics.ts";
import { lookup } from "../plan/lookup.ts";
import { noProgress } from "../plan/progress.ts";
import type { Item, Plan, Role } from "../plan/types.ts";
import { reachAt } from "../reach/reach.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, t0 } from "../tests/fixture.ts";
import { planWithin } from "./plan-within.ts";
import { progressWithin, type Scope, scopeOf } from "./scope.ts";

const now = Date.parse("2026-11-25T10:00:00Z");
const { plan, activity } = makeScenario(now, "11111111-2222-4333-8444-555555555555");
const staff = (username: string) => Object.values(plan.people).find((person) => person.username === username)?.id ?? "";
const section = (code: string) => Object.values(plan.sections).find((one) => one.code === code)?.id ?? "";
const groupNamed = (name: string) => Object.values(plan.groups).find((one) => one.name === name)?.id ?? "";

/** A support person of one private group, placed in it. */
function withSupport(): { plan: Plan; staffId: string } {
  const staffId = staff("support.access");
  const groupId = groupNamed("Writing support");
  const row = { id: "given", groupId, personId: staffId, since: 0, until: null, held: true };
  return { plan: { ...plan, placements: { ...plan.placements, given: row } }, staffId };
}
function narrowed(whole: Plan, staffId: string): { within: Plan; scope: Scope } {
  const scope = scopeOf(whole, staffId, now);
  return { scope, within: planWithin(whole, staffId, scope, now) };
}
const everyone = [
  ["an instructor of one section", plan, staff("instructor.d1")],
  ["a support person of one private group", withSupport().plan, withSupport().staffId],
] as const;

describe.each(everyone)("%s", (_, whole, staffId) => {
  const { within, scope } = narrowed(whole, staffId);
  const progress = progressWithin(whole, activity, within, scope);
  const text = JSON.stringify([within, progress]);
  test("knows nobody outside the scope, by id, name or number", () => {
    expect(scope.personIds.size).toBeGreaterThan(0);
    const names = new Set(Object.values(within.people).map(({ familyName }) => familyName));
    for (const person of Object.values(whole.people)) {
      if (within.people[person.id]) continue;
      expect(text).not.toContain(person.id);
      expect(text).not.toContain(`"${person.sourcedId}"`);
      if (!names.has(person.familyName)) expect(JSON.stringify(within.people)).not.toContain(`"${person.familyName}"`);
    }
  });
  test("learns no code by which anybody comes into a group or the course", () => {
    const coded = Object.values(whole.groups).map((one, at) => [one.id, { ...one, code: `code-${at}` }]);
    const course = { ...whole.course, visitorCode: "code-visitor" };
    const text = JSON.stringify(narrowed({ ...whole, course, groups: Object.fromEntries(coded) }, staffId).within);
    expect(text).not.toMatch(/code-(\d|visitor)/);
    expect(text).toContain('"groups"');
  });
  test("knows no private group but those that were given, and no group without a student of theirs", () => {
    for (const group of Object.values(whole.groups)) {
      const isPrivate = whole.layers[group.layerId]?.private;
      if (scope.groupIds.has(group.id)) continue;
      const theirs = Object.values(whole.placements).some(
        (row) => row.groupId === group.id && scope.personIds.has(row.personId),
      );
      if (theirs && !isPrivate) continue;
      expect(text).not.toContain(group.id);
      if (isPrivate) expect(text).not.toContain(`"${group.name}"`);
    }
    expect(within.course.visitorCode).toBeNull();
  });
  test("every cell of theirs is what it is in the whole course", () => {
    const [all, narrow] = [sheetOf(reachAt(whole, activity, now)), sheetOf(reachAt(within, progress, now))];
    expect(narrow.reach.students).toEqual(all.reach.students.filter((id) => scope.personIds.has(id)));
    expect(narrow.columns.length).toBeGreaterThan(10);
    for (const item of narrow.columns)
      for (const personId of narrow.reach.students)
        expect([item.title, narrow.cell(item, personId)]).toEqual([
          item.title,
          all.cell(whole.items[item.id] as never, personId),
        ]);
  });
});

test("an instructor's sections give their students; a group that reaches beyond is not theirs as a whole", () => {
  const { scope, within } = narrowed(plan, staff("instructor.d1"));
  const enrolled = Object.values(plan.enrolments).filter(
    (row) => row.role === "student" && row.sectionId === section("D1") && row.until === null,
  );
  expect(scope.personIds).toEqual(new Set(enrolled.map(({ personId }) => personId)));
  expect(scope.own.has(groupNamed("Drone pilots"))).toBe(false);
  // Of the pilots only those of the section are known; too few are told nothing of.
  const sheet = sheetOf(reachAt(within, progressWithin(plan, activity, within, scope), now));
  const layerId = plan.groups[groupNamed("Drone pilots")]?.layerId ?? "";
  const [pilots] = compareGroups(sheet, {
    layerId,
    item: null,
    rows: sheet.reach.everyone,
    asOfHandIn: false,
    own: scope.own,
  });
  expect(pilots?.members).toBeLessThan(lookup(plan).placementsOfGroup.get(groupNamed("Drone pilots"))?.length ?? 0);
  expect(pilots?.tooFew).toBe((pilots?.members ?? 0) < 5);
});
test("whoever was given nothing knows nobody", () => {
  const { scope, within } = narrowed(plan, staff("support.access"));
  expect(scope.personIds.size).toBe(0);
  expect(Object.keys(within.people)).toEqual([staff("support.access")]);
});
test("dates that differ by a hidden group differ for its students alone, and an allowance too", () => {
  const groupId = groupNamed("Writing support");
  const item = Object.values(plan.items).find(({ title }) => title === "Final report");
  const target = { kind: "group" as const, id: groupId };
  const changed: Plan = {
    ...plan,
    overrides: {
      ...plan.overrides,
      hidden: { id: "hidden", itemId: item?.id ?? "", target, dates: { due: "2026-12-30T17:00" } },
    },
    allowances: {
      ...plan.allowances,
      more: { id: "more", target, minutesFactor: null, extraDays: 2, extraAttempts: null },
    },
  };
  const { within } = narrowed(changed, staff("instructor.d1"));
  const mine = Object.values(within.overrides).filter(({ itemId }) => itemId === item?.id);
  expect(mine.length).toBeGreaterThan(0);
  for (const one of mine.filter(
    ({ dates }) => String(dates.due).startsWith("2026-12-30") || String(dates.due).startsWith("2027-01"),
  ))
    expect(one.target.kind).toBe("person");
  expect(JSON.stringify(within)).not.toContain(groupId);
  expect(Object.values(within.allowances).every((one) => one.target.id !== groupId)).toBe(true);
});
test("an item for a known and a hidden group is theirs whichever of the two they are in", () => {
  const hidden = groupNamed("Writing support");
  const item = Object.values(plan.items).find(({ title }) => title === "Final report");
  const to = [groupNamed("Drone pilots"), hidden].map((id) => ({ kind: "group" as const, id }));
  const changed: Plan = {
    ...plan,
    items: { ...plan.items, [item?.id ?? ""]: { ...(item as Item), audience: { to, minus: [] } } },
  };
  const { within, scope } = narrowed(changed, staff("instructor.d1"));
  const [all, narrow] = [
    sheetOf(reachAt(changed, activity, now)),
    sheetOf(reachAt(within, progressWithin(changed, activity, within, scope), now)),
  ];
  const states = (sheet: typeof all, of: Plan) =>
    narrow.reach.students.map((id) => sheet.cell(of.items[item?.id ?? ""] as never, id)?.state);
  expect(states(narrow, within)).toEqual(states(all, changed));
  expect(new Set(states(narrow, within)).size).toBeGreaterThan(1);
});

describe("what is given, in a small course", () => {
  function small(): Plan {
    const plan = coursePlan();
    for (const code of ["D1", "EV"]) addSection(plan, code);
    addLayer(plan, "Teams", ["Upper", "Lower", "Empty"]);
    addStudent(plan, "ada", ["D1"], ["Upper"]);
    addStudent(plan, "ben", ["D1"], ["Lower"]);
    addStudent(plan, "eve", ["EV"], ["Lower"]);
    return plan;
  }
  const asStaff = (role: Role, sectionId: string | null, fields: object = {}) => {
    const plan = small();
    const row = { id: "given", personId: "tess", sectionId, role, since: 0, until: null, origin: "hand", home: false };
    plan.enrolments.given = { ...row, ...fields } as Plan["enrolments"][string];
    return scopeOf(plan, "tess", t0);
  };
  test("instructors and support are given the section that their enrolment names, while it holds; nobody else is", () => {
    for (const role of ["instructor", "support"] as const) {
      const { sectionIds, personIds, groupIds, own } = asStaff(role, "D1");
      expect([[...sectionIds], [...personIds].sort(), [...groupIds], [...own]]).toEqual([
        ["D1"],
        ["ada", "ben"],
        [],
        ["Upper"],
      ]);
    }
    for (const [role, sectionId, fields] of [
      ["coordinator", "D1", {}],
      ["visitor", "D1", {}],
      ["instructor", null, {}],
      ["instructor", "D1", { until: t0 }],
      ["instructor", "D1", { since: t0 + 1 }],
    ] as const) {
      const { sectionIds, personIds, own } = asStaff(role, sectionId, fields);
      expect([sectionIds.size, personIds.size, own.size]).toEqual([0, 0, 0]);
    }
  });
  test("what their students did in a copy that became part of an item of theirs is theirs to know, and nothing else is", () => {
    const whole = small();
    addItem(whole, "poster", {
      kind: "assignment",
      points: 10,
      combines: [{ itemId: "poster of 2025", groupIds: [] }],
    });
    const row = { id: "given", personId: "tess", sectionId: "D1", role: "instructor" as const, since: 0, until: null };
    whole.enrolments.given = { ...row, origin: "hand", home: false };
    const mark = (personId: string, itemId: string) => ({ personId, itemId, points: 5, excused: false, at: t0 });
    const marks = [mark("ada", "poster of 2025"), mark("eve", "poster of 2025"), mark("ada", "another course's")];
    const scope = scopeOf(whole, "tess", t0);
    const within = planWithin(whole, "tess", scope, t0);
    expect(progressWithin(whole, { ...noProgress, marks }, within, scope).marks).toEqual(marks.slice(0, 1));
  });
  test("a group that was given is theirs as a whole, whoever is in it, and also where nobody is", () => {
    const plan = small();
    for (const groupId of ["Lower", "Empty"])
      plan.placements[groupId] = { id: groupId, groupId, personId: "tess", since: 0, until: null, held: true };
    const { sectionIds, personIds, groupIds, own } = scopeOf(plan, "tess", t0);
    expect([sectionIds.size, [...personIds].sort(), [...groupIds].sort(), [...own].sort()]).toEqual([
      0,
      ["ben", "eve"],
      ["Empty", "Lower"],
      ["Empty", "Lower"],
    ]);
  });
});
