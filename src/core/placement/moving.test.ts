import fc from "fast-check";
import { expect, test } from "vitest";
import { apply } from "../commands.ts";
import { isRefusal } from "../plan/command.ts";
import type { Group, Layer, Plan } from "../plan/types.ts";
import { addLayer, addSection, addStudent, coursePlan, t0 } from "../tests/fixture.ts";
import { evenParts, namesFor, partsBy, sectionOf } from "./groups/parts.ts";
import { studentsOf } from "./membership.ts";
import { effectOfMove } from "./moving.ts";

function course(fields: Partial<Plan["layers"][string]> = {}): Plan {
  const plan = coursePlan();
  for (const code of ["D1", "EV"]) addSection(plan, code);
  addLayer(plan, "Banks", ["North", "South"], fields);
  addStudent(plan, "ada", ["D1"], ["North"]);
  addStudent(plan, "ben", ["D1"], ["North"]);
  addStudent(plan, "cy", ["EV"], ["South"]);
  addStudent(plan, "di", ["EV"]);
  return plan;
}
const effect = (plan: Plan, groupId: string | null, personIds: string[], copies = false) =>
  effectOfMove(
    plan,
    plan.layers.Banks as Plan["layers"][string],
    groupId,
    personIds.map((personId) => ({
      personId,
      groupId: Object.values(plan.placements).find((row) => row.personId === personId)?.groupId ?? null,
    })),
    t0,
    copies,
  );

test("sizes before and after count students once, and staff never", () => {
  const plan = course();
  plan.enrolments.t = { ...Object.values(plan.enrolments)[0], id: "t", personId: "tutor", role: "instructor" } as never;
  expect(effect(plan, "South", ["ada", "cy", "tutor"])).toEqual({ before: 1, after: 2, breaks: [] });
});

test("a capacity, a smallest size and being left without a group are broken by name", () => {
  const plan = course();
  plan.groups.South = { ...plan.groups.South, max: 2 } as never;
  plan.groups.North = { ...plan.groups.North, min: 2 } as never;
  expect(effect(plan, "South", ["ada", "di"]).breaks).toEqual(["South holds 2 at most", "North needs 2 at least"]);
  expect(effect(plan, "South", ["ada"], true).breaks).toEqual([]);
  expect(effect(plan, null, ["ada", "ben"]).breaks).toEqual(["2 students would be unplaced", "North needs 2 at least"]);
});

test("who is kept apart, or together, is named", () => {
  const forming = { apart: [], together: [["ada", "ben"]] };
  const plan = course({ keepApart: [["ada", "cy"]], forming: forming as never });
  expect(effect(plan, "South", ["ada"]).breaks).toEqual([
    "Test, ada and Test, cy are kept apart",
    "Test, ada and Test, ben are kept together",
  ]);
  expect(effect(plan, "South", ["ben", "di"]).breaks).toEqual(["Test, ben and Test, ada are kept together"]);
});

test("people of another scope, and those whom the rules would place elsewhere, are counted", () => {
  const plan = course();
  addLayer(plan, "Teams", ["T1"]);
  plan.groups.T1 = { ...plan.groups.T1, scopeGroupId: "North" } as never;
  const places = ["ada", "cy"].map((personId) => ({ personId, groupId: null }));
  expect(effectOfMove(plan, plan.layers.Teams as never, "T1", places, t0).breaks).toEqual(["1 not in North"]);
  const following = [{ sectionIds: ["EV"], attribute: null, groupId: "South" }];
  expect(effect(course({ following }), "South", ["ada", "di"]).breaks).toEqual(["1 held against the rules"]);
});

test("names by a pattern begin anew in each scope, and pass over those of groups left as they are", () => {
  const plan = course();
  addLayer(plan, "Teams", ["a", "b", "c", "d", "North team 1"]);
  for (const [id, scopeGroupId] of [
    ["a", "North"],
    ["b", "North"],
    ["c", "South"],
    ["d", null],
  ] as const)
    plan.groups[id] = { ...plan.groups[id], scopeGroupId } as never;
  const names = (value: Parameters<typeof namesFor>[2]) =>
    namesFor(plan, ["a", "b", "c", "d"], value).map(({ name }) => name);
  expect(names({ kind: "pattern", pattern: "{scope} team {n}" })).toEqual([
    "North team 1 2",
    "North team 2",
    "South team 1",
    "team 1",
  ]);
  expect(names({ kind: "topics", topics: ["Silt", "Moss"] })).toEqual([
    "Silt North",
    "Moss North",
    "Silt South",
    "Silt",
  ]);
});

test("parts differ by at most one, hold everyone once, and can go by section", () => {
  const people = ["ada", "ben", "cy", "di", "eve"];
  const parts = evenParts(people, 3);
  expect(parts.map(({ length }) => length)).toEqual([2, 2, 1]);
  expect(parts.flat().sort()).toEqual(people);
  const plan = course();
  expect([...partsBy(["cy", "ada", "di"], (id) => sectionOf(plan, id, t0))]).toEqual([
    ["D1", ["ada"]],
    ["EV", ["cy", "di"]],
  ]);
});

test("on any layer, the size foretold is the size after the move, and a full group is foretold where it is refused", () => {
  const people = ["ada", "ben", "cy", "di"];
  const some = fc.subarray(people, { minLength: 1 });
  const drawn = fc.record({
    rule: fc.constantFrom<Layer["rule"]>("exactly one", "at most one", "any number"),
    max: fc.constantFrom(null, 1, 2, 3),
    to: fc.constantFrom("North", "South"),
    some,
  });
  fc.assert(
    fc.property(drawn, ({ rule, max, to, some: moving }) => {
      const plan = course({ rule });
      plan.groups[to] = { ...plan.groups[to], max } as Group;
      const foretold = effect(plan, to, moving);
      const id = "11111111-1111-4111-8111-111111111111";
      const next = apply(plan, { kind: "placement.place", id, groupId: to, personIds: moving }, { now: t0 });
      expect(foretold.breaks.some((says) => says.includes("at most"))).toBe(isRefusal(next));
      if (!isRefusal(next)) expect(studentsOf(next, to, t0)).toHaveLength(foretold.after);
    }),
  );
});
