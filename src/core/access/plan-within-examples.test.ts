/** What of a small course staff know where a private group of it is not theirs, example by example. Source: semantics.md section 9. */
import { expect, test } from "vitest";
import type { Plan, Target } from "../plan/types.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, group, person, t0 } from "../tests/fixture.ts";
import { planWithin } from "./plan-within.ts";
import { scopeOf } from "./scope.ts";

/** Two students of the section that was given, each in a private group, and one of another section. */
function smallCourse(): Plan {
  const plan = coursePlan();
  for (const code of ["D1", "EV"]) addSection(plan, code);
  addLayer(plan, "Access plans", ["Extra", "Quiet"], { private: true, rule: "any number" });
  addLayer(plan, "Teams", ["Upper", "Lower"]);
  addStudent(plan, "ada", ["D1"], ["Extra", "Upper"]);
  addStudent(plan, "ben", ["D1"], ["Quiet", "Upper"]);
  addStudent(plan, "eve", ["EV"], ["Extra", "Lower"]);
  const name = {
    username: "uma",
    email: "uma@x.example",
    givenName: "Uma",
    familyName: "Staff",
    attributes: { Room: "4" },
  };
  for (const id of ["tess", "uma"]) plan.people[id] = { id, sourcedId: `00${id}`, ...name };
  const row = { id: "given", personId: "tess", sectionId: "D1", since: 0, until: null, home: false };
  plan.enrolments.given = { ...row, role: "instructor", origin: "hand" };
  addItem(plan, "quiz", { kind: "quiz", owners: ["uma"] });
  addItem(plan, "lab", { kind: "assignment" });
  return plan;
}
const smallWithin = (plan: Plan) => planWithin(plan, "tess", scopeOf(plan, "tess", t0), t0);
const override = (id: string, itemId: string, target: Target, dates: object): Plan["overrides"][string] =>
  ({ id, itemId, target, dates }) as Plan["overrides"][string];

test("what a hidden group and one's own override say of an item stands in one row, and theirs comes first", () => {
  const plan = smallCourse();
  const all = [
    override("by group", "quiz", group("Extra"), { attempts: 3, minutes: 40 }),
    override("ada's", "quiz", person("ada"), { minutes: 20 }),
    override("ben's", "quiz", person("ben"), { minutes: 10 }),
    override("of another", "lab", person("ada"), { attempts: 5 }),
    override("eve's", "lab", person("eve"), { attempts: 9 }),
  ];
  plan.overrides = Object.fromEntries(all.map((one) => [one.id, one]));
  expect(Object.values(smallWithin(plan).overrides)).toEqual([
    override("ada's", "quiz", person("ada"), { attempts: 3, minutes: 20 }),
    override("ben's", "quiz", person("ben"), { minutes: 10 }),
    override("of another", "lab", person("ada"), { attempts: 5 }),
  ]);
  // Without one of their own they get a row that names them, and nothing of the group.
  const { "ada's": _, ...others } = plan.overrides;
  const mine = Object.values(smallWithin({ ...plan, overrides: others }).overrides).filter(
    ({ itemId, target }) => itemId === "quiz" && target.id === "ada",
  );
  expect(mine.map(({ target, dates }) => [target, dates])).toEqual([[person("ada"), { attempts: 3, minutes: 40 }]]);
});

test("an allowance of a hidden group is said of its students alone, one by one", () => {
  const plan = smallCourse();
  plan.allowances.more = {
    id: "more",
    target: group("Extra"),
    minutesFactor: "1.5",
    extraDays: null,
    extraAttempts: null,
  };
  const within = Object.values(smallWithin(plan).allowances);
  expect(within.map(({ target, minutesFactor }) => [target, minutesFactor])).toEqual([[person("ada"), "1.5"]]);
});

test("the page of a hidden group is not theirs to know of, though it is for everyone; of owners only the name is said", () => {
  const plan = smallCourse();
  addItem(plan, "page of Extra", { pageOf: "Extra" });
  addItem(plan, "page of Upper", { pageOf: "Upper" });
  const within = smallWithin(plan);
  expect(Object.keys(within.items).sort()).toEqual(["lab", "page of Upper", "quiz"]);
  expect(within.people.uma).toEqual({
    ...{ id: "uma", sourcedId: "staff", username: null, email: null, givenName: "Uma", familyName: "Staff" },
    attributes: {},
  });
  expect(within.people.eve).toBeUndefined();
});

test("a group formed within a hidden one says nothing of it, and within a known one says so", () => {
  const plan = smallCourse();
  const upper = plan.groups.Upper as Plan["groups"][string];
  const formedIn = (scopeGroupId: string | null) =>
    smallWithin({ ...plan, groups: { ...plan.groups, Upper: { ...upper, scopeGroupId } } }).groups.Upper?.scopeGroupId;
  expect([formedIn("Extra"), formedIn("Upper"), formedIn(null)]).toEqual([null, "Upper", null]);
});

test("a set is named where all its groups are known; of any other, and of sections of others, only their students are", () => {
  const plan = smallCourse();
  addSection(plan, "WE");
  addStudent(plan, "wes", ["WE"], ["Upper"]);
  plan.sets.open = { id: "open", name: "Upper teams", groupIds: ["Upper"] };
  plan.sets.mixed = { id: "mixed", name: "Extra and upper", groupIds: ["Extra", "Upper"] };
  plan.sets.quiet = { id: "quiet", name: "The quiet", groupIds: ["Quiet"] };
  const set = (id: string): Target => ({ kind: "set", id });
  const section = (id: string): Target => ({ kind: "section", id });
  addItem(plan, "poster", {
    audience: { to: [set("open"), set("quiet"), section("WE")], minus: [set("mixed"), section("D1")] },
    variants: [{ targets: [set("quiet"), set("open")], condition: null }],
  });
  const { poster } = smallWithin(plan).items;
  const named = (targets: Target[]) => targets.map(({ kind, id }) => `${kind} ${id}`).sort();
  expect(poster?.audience.to === "everyone" ? [] : named(poster?.audience.to ?? [])).toEqual([
    "person ben",
    "set open",
  ]);
  expect(named(poster?.audience.minus ?? [])).toEqual(["person ada", "person ben", "section D1"]);
  expect(named(poster?.variants[0]?.targets ?? [])).toEqual(["person ben", "set open"]);
});

test("an override of an item that is not theirs to know of says nothing, though it names a student of theirs", () => {
  const plan = smallCourse();
  addItem(plan, "evening", { audience: { to: [{ kind: "section", id: "EV" }], minus: [] } });
  const all = [
    override("ada's", "evening", person("ada"), { attempts: 9 }),
    override("by group", "evening", group("Extra"), { minutes: 40 }),
  ];
  plan.overrides = Object.fromEntries(all.map((one) => [one.id, one]));
  const within = smallWithin(plan);
  expect([within.items.evening, Object.keys(within.overrides)]).toEqual([undefined, []]);
});

test("whoever reads knows all of themselves, though they own an item; nobody is kept apart to their knowledge", () => {
  const plan = smallCourse();
  addItem(plan, "own", { owners: ["tess", "uma"] });
  const within = smallWithin(plan);
  expect([within.people.tess?.sourcedId, within.people.uma?.sourcedId]).toEqual(["00tess", "staff"]);
  for (const layer of Object.values(within.layers)) expect([layer.keepApart, layer.following]).toEqual([[], null]);
});
