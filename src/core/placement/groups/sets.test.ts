import { describe, expect, test } from "vitest";
import { apply, type Command } from "../../commands.ts";
import { isMistake, parseFilter } from "../../gradebook/filter.ts";
import { matcher } from "../../gradebook/match.ts";
import { sheetOf } from "../../gradebook/sheet.ts";
import { isRefusal } from "../../plan/command.ts";
import { noProgress } from "../../plan/progress.ts";
import type { Plan } from "../../plan/types.ts";
import { reachAt } from "../../reach/reach.ts";
import { countBits } from "../../sets/bits.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, group, t0 } from "../../tests/fixture.ts";
import { membershipsAt, resolveField, toldOrigin } from "../../timing/resolving/resolve.ts";

const id = "11111111-1111-4111-8111-111111111111";
type Given = Command extends infer C ? (C extends Command ? Omit<C, "id"> : never) : never;
const step = (plan: Plan, command: Given) => apply(plan, { ...command, id } as Command, { now: t0 });
const must = (plan: Plan, command: Given): Plan => {
  const next = step(plan, command);
  if (isRefusal(next)) throw new Error(next.sentence);
  return next;
};
const code = (plan: Plan, command: Given) => {
  const next = step(plan, command);
  return isRefusal(next) ? next.code : null;
};
const target = { kind: "set" as const, id: "mixed" };
function course(): Plan {
  const plan = coursePlan();
  addSection(plan, "D1");
  addLayer(plan, "Banks", ["North", "South"]);
  addLayer(plan, "Kits", ["Alder", "Birch"]);
  addStudent(plan, "ada", ["D1"], ["North", "Birch"]);
  addStudent(plan, "ben", ["D1"], ["South", "Birch"]);
  addStudent(plan, "cy", ["D1"], ["South", "Alder"]);
  return must(plan, { kind: "set.save", set: { id: "mixed", name: "Mixed", groupIds: ["North", "Alder"] } });
}

describe("a named set stands wherever a group can", () => {
  test("as an audience, and minus", () => {
    const plan = course();
    addItem(plan, "map", { audience: { to: [target], minus: [] } });
    addItem(plan, "rest", { audience: { to: "everyone", minus: [target] } });
    const reach = reachAt(plan, noProgress, t0);
    const count = (item: string) => countBits(reach.sees(plan.items[item] as Plan["items"][string]));
    expect([count("map"), count("rest")]).toEqual([2, 1]);
  });
  test("with dates of its own, which students are told nothing about", () => {
    const plan = course();
    const item = addItem(plan, "lab", { dates: { due: "2026-11-27T17:00" } });
    const dated = must(plan, { kind: "override.set", itemIds: ["lab"], target, dates: { due: "2026-12-04T17:00" } });
    const due = (person: string) => resolveField(dated, item, membershipsAt(dated, person, t0), "due");
    expect(["ada", "ben", "cy"].map((person) => due(person).value)).toEqual([
      "2026-12-04T17:00",
      "2026-11-27T17:00",
      "2026-12-04T17:00",
    ]);
    expect(toldOrigin(dated, due("ada").origin)).toBeNull();
  });
  test("in the order of layers it ranks by the student's first group in it", () => {
    const plan = course();
    const item = addItem(plan, "lab", { dates: {} });
    plan.course = { ...plan.course, datePolicy: "layer order", layerOrder: ["Banks", "Kits"] };
    plan.overrides.s = { id: "s", itemId: "lab", target, dates: { due: "2026-12-01T09:00" } };
    plan.overrides.b = { id: "b", itemId: "lab", target: group("Birch"), dates: { due: "2026-12-09T09:00" } };
    plan.overrides.n = { id: "n", itemId: "lab", target: group("South"), dates: { due: "2026-12-05T09:00" } };
    const due = (person: string) => resolveField(plan, item, membershipsAt(plan, person, t0), "due").value;
    // Ada's set ranks with North, before Birch; Cy's with Alder, after South.
    expect([due("ada"), due("cy")]).toEqual(["2026-12-01T09:00", "2026-12-05T09:00"]);
  });
  test("as a filter", () => {
    const reach = reachAt(course(), noProgress, t0);
    const filter = parseFilter('set:"mixed" not group:North');
    if (isMistake(filter)) throw new Error(filter.says);
    expect(matcher(filter, sheetOf(reach)).rows()).toEqual(["cy"]);
  });
});

describe("keeping sets", () => {
  test("one name, groups that are there; a set that items name is not removed", () => {
    const plan = course();
    expect(code(plan, { kind: "set.save", set: { id: "b", name: "mixed", groupIds: [] } })).toBe("set.twin");
    expect(code(plan, { kind: "set.save", set: { id: "b", name: "B", groupIds: ["gone"] } })).toBe("group.gone");
    addItem(plan, "map", { condition: { kind: "anyOf", of: [{ kind: "in", targets: [target] }] } });
    expect(code(plan, { kind: "set.remove", setId: "mixed" })).toBe("set.aimed");
    expect(must(course(), { kind: "set.remove", setId: "mixed" }).sets).toEqual({});
  });
  test("merging, splitting and deleting groups leaves the set with whom it held", () => {
    const merged = must(course(), { kind: "group.merge", groupIds: ["South", "North"] });
    expect(merged.sets.mixed?.groupIds).toEqual(["South", "Alder"]);
    const parts = [{ groupId: "new", name: "North 2", personIds: ["ada"] }];
    expect(must(course(), { kind: "group.split", groupId: "North", parts }).sets.mixed?.groupIds).toEqual([
      "North",
      "new",
      "Alder",
    ]);
    expect(must(course(), { kind: "group.remove", groupId: "North" }).sets.mixed?.groupIds).toEqual(["Alder"]);
  });
});
