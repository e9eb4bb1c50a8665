import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { apply, type Command } from "../../commands.ts";
import { isRefusal } from "../../plan/command.ts";
import { lookup } from "../../plan/lookup.ts";
import type { Group, Plan } from "../../plan/types.ts";
import { addItem, addLayer, group, t0 } from "../../tests/fixture.ts";
import { course, type Given, id, members, refusal, run } from "../../tests/three-groups.ts";
import { countLayer } from "../membership.ts";
import { referencesToGroups } from "./group-references.ts";

describe("what is aimed at a group", () => {
  test("items by how, dates, allowances and rules are found", () => {
    const plan = course();
    plan.layers.Banks = {
      ...plan.layers.Banks,
      following: [{ sectionIds: [], attribute: null, groupId: "South" }],
    } as never;
    addItem(plan, "talk", { kind: "discussion", split: { layerId: "Banks", between: "sealed" } });
    expect(referencesToGroups(plan, ["South"])).toEqual({
      items: [
        { id: "later", title: "later", how: ["condition"] },
        { id: "log", title: "log", how: ["not for"] },
        { id: "map", title: "map", how: ["for"] },
      ],
      dates: [{ id: "log", title: "log" }],
      threads: [{ id: "talk", title: "talk" }],
      allowances: 1,
      rules: 1,
      sets: [],
    });
    expect(referencesToGroups(plan, ["East"])).toMatchObject({ items: [], dates: [], allowances: 0, rules: 0 });
  });
});

describe("merging", () => {
  test("people and aims go to the group that stays; its own dates win, field by field", () => {
    const merged = run(course(), { kind: "group.merge", groupIds: ["North", "South"] });
    expect(members(merged, "Banks")).toEqual({ North: ["ada", "ben", "cy", "di"], East: ["eve"] });
    expect(merged.items.map?.audience.to).toEqual([group("North")]);
    expect(merged.items.log?.audience.minus).toEqual([group("North")]);
    expect(merged.items.later?.condition).toMatchObject({ of: [{ targets: [group("North")] }] });
    expect(Object.values(merged.overrides).map(({ target, dates }) => [target.id, dates])).toEqual([
      ["North", { due: "2026-10-09T09:00", minutes: 30 }],
    ]);
    expect(Object.values(merged.allowances)).toMatchObject([{ target: group("North"), minutesFactor: "1.5" }]);
    expect(referencesToGroups(merged, ["South"])).toMatchObject({ items: [], dates: [], allowances: 0 });
  });
  test("who was in the group that went is still known for the time before", () => {
    const merged = run(course(), { kind: "group.merge", groupIds: ["North", "South"] });
    expect(members(merged, "Banks", t0 - 1)).toMatchObject({ South: ["cy", "di"] });
  });
  test("placement rules fill the group that stays, so that nobody falls out at the next intake", () => {
    const plan = course();
    plan.layers.Banks = {
      ...plan.layers.Banks,
      following: [{ sectionIds: ["D1"], attribute: null, groupId: "South" }],
    } as never;
    expect(run(plan, { kind: "group.merge", groupIds: ["North", "South"] }).layers.Banks?.following).toMatchObject([
      { groupId: "North" },
    ]);
  });
  test("more than the group holds, one group alone and groups of two layers are refused", () => {
    const plan = course();
    plan.groups.North = { ...plan.groups.North, max: 3 } as never;
    addLayer(plan, "Teams", ["T1"]);
    expect(refusal(plan, { kind: "group.merge", groupIds: ["North", "South"] })).toBe("placement.full");
    expect(refusal(plan, { kind: "group.merge", groupIds: ["North", "North"] })).toBe("group.gone");
    expect(refusal(plan, { kind: "group.merge", groupIds: ["East", "T1"] })).toBe("group.gone");
  });
});

describe("copies, names and order", () => {
  test("a copy of a layer has its groups and people, and nothing is aimed at it", () => {
    const copy = { kind: "layer.duplicate", layerId: "Banks", newLayerId: "copy", name: "Banks 2" } as const;
    const withPeople = run(course(), { ...copy, withPeople: true });
    expect(members(withPeople, "copy")).toEqual(members(course(), "Banks"));
    const copied = (lookup(withPeople).groupsOfLayer.get("copy") ?? []).map((one) => one.id);
    expect(referencesToGroups(withPeople, copied)).toMatchObject({ items: [], dates: [], allowances: 0 });
    expect(Object.values(members(run(course(), { ...copy, withPeople: false }), "copy")).flat()).toEqual([]);
    expect(refusal(course(), { ...copy, name: "banks", withPeople: false })).toBe("layer.twin");
  });
  test("a copy of a group takes people along only where they may be in two", () => {
    const copy = { kind: "group.duplicate", groupId: "South", newGroupId: "new", name: "South 2" } as const;
    expect(refusal(course(), { ...copy, withPeople: true })).toBe("group.people");
    const plan = course();
    plan.layers.Banks = { ...plan.layers.Banks, rule: "any number" } as never;
    expect(members(run(plan, { ...copy, withPeople: true }), "Banks")["South 2"]).toEqual(["cy", "di"]);
  });
  test("names change together: two may be exchanged, two alike are refused; a label of its own stays", () => {
    const plan = course();
    plan.groups.South = { ...plan.groups.South, label: "The south" } as never;
    const rename = (names: [string, string][]): Given => ({
      kind: "group.renameMany",
      layerId: "Banks",
      names: names.map(([groupId, name]) => ({ groupId, name })),
    });
    const swapped = run(
      plan,
      rename([
        ["North", "South"],
        ["South", "North"],
      ]),
    );
    expect([swapped.groups.North, swapped.groups.South]).toMatchObject([
      { name: "South", label: "South" },
      { name: "North", label: "The south" },
    ]);
    expect(refusal(plan, rename([["North", "EAST"]]))).toBe("group.twin");
  });
  test("of a private group nothing is carried into a label, though staff read it in the name", () => {
    const plan = course();
    addLayer(plan, "Support", ["Red"], { private: true });
    plan.groups.East = { ...plan.groups.East, scopeGroupId: "Red" } as Group;
    const names = [{ groupId: "East", name: "Red team 1" }];
    const after = run(plan, { kind: "group.renameMany", layerId: "Banks", names });
    expect(after.groups.East).toMatchObject({ name: "Red team 1", label: "East" });
  });
  test("groups stand in the order given, and those it does not name at the end", () => {
    const after = run(course(), { kind: "group.reorder", layerId: "Banks", groupIds: ["East", "North"] });
    expect((lookup(after).groupsOfLayer.get("Banks") ?? []).map(({ name }) => name)).toEqual([
      "East",
      "North",
      "South",
    ]);
  });
});

describe("archiving", () => {
  test("nobody can be placed in a group put away, and no rule can fill it", () => {
    const away = run(course(), { kind: "group.archive", groupIds: ["South"] });
    expect(refusal(away, { kind: "placement.place", groupId: "South", personIds: ["ada"] })).toBe("group.gone");
    const following = [{ sectionIds: ["D1"], attribute: null, groupId: "South" }];
    expect(refusal(away, { kind: "layer.change", layerId: "Banks", fields: { following } })).toBe("group.gone");
  });
  test("a group whose mark was given to another meanwhile comes back with one of its own; a name taken is refused", () => {
    const away = run(course(), { kind: "group.archive", groupIds: ["South", "East"] });
    const other = { ...(away.groups.South as Group), id: "new", name: "Source", label: "Source", archivedAt: null };
    const added = run(away, { kind: "group.add", group: other }, t0 + 1);
    const back: Given = { kind: "group.restore", groupIds: ["South", "East"] };
    const marks = Object.values(run(added, back, t0 + 2).groups).map(({ stripe }) => stripe.mark);
    expect(new Set(marks).size).toBe(4);
    const twin = run(away, { kind: "group.add", group: { ...other, name: "south" } }, t0 + 1);
    expect(refusal(twin, back)).toBe("group.twin");
  });
  test("a group put away holds nobody and is filled by nothing; brought back, whoever has no other place returns", () => {
    const away = run(course(), { kind: "group.archive", groupIds: ["South"] });
    expect(members(away, "Banks")).toEqual({ North: ["ada", "ben"], East: ["eve"] });
    expect(countLayer(away, "Banks", t0).unplaced).toEqual(["cy", "di"]);
    const later = run(away, { kind: "placement.place", groupId: "East", personIds: ["cy"] }, t0 + 5);
    const back = apply(
      later,
      { id: id.replace("1", "2"), kind: "group.restore", groupIds: ["South"] },
      { now: t0 + 9 },
    );
    expect(members(back as Plan, "Banks", t0 + 9)).toEqual({
      North: ["ada", "ben"],
      South: ["di"],
      East: ["eve", "cy"].sort(),
    });
  });
  test("a layer put away and brought back is as it was; a layer that splits an item stays", () => {
    const away = run(course(), { kind: "layer.archive", layerId: "Banks" });
    expect(lookup(away).layers).toEqual([]);
    const back = apply(away, { id: id.replace("1", "2"), kind: "layer.restore", layerId: "Banks" }, { now: t0 + 9 });
    expect(members(back as Plan, "Banks", t0 + 9)).toEqual(members(course(), "Banks"));
    const plan = course();
    addItem(plan, "talk", { kind: "discussion", split: { layerId: "Banks", between: "sealed" } });
    expect(refusal(plan, { kind: "layer.archive", layerId: "Banks" })).toBe("layer.aimed");
  });
});

test("two people swap their groups; two of one group cannot", () => {
  const swap = (personIds: [string, string]): Given => ({ kind: "placement.swap", layerId: "Banks", personIds });
  expect(members(run(course(), swap(["ada", "eve"])), "Banks")).toMatchObject({ North: ["ben", "eve"], East: ["ada"] });
  expect(refusal(course(), swap(["ada", "ben"]))).toBe("placement.swap");
});

test("under any sequence, an exactly-one layer holds nobody twice, and only archiving leaves anyone out", () => {
  const names = ["North", "South", "East", "P1", "P2"];
  const people = ["ada", "ben", "cy", "di", "eve"];
  const one = fc.constantFrom(...names);
  const step: fc.Arbitrary<Given> = fc.oneof(
    fc.tuple(one, one).map((groupIds) => ({ kind: "group.merge" as const, groupIds })),
    fc.tuple(one, fc.constantFrom("P1", "P2"), fc.subarray(people)).map(([groupId, part, personIds]) => ({
      kind: "group.split" as const,
      groupId,
      parts: [{ groupId: part, name: part, personIds }],
    })),
    fc.tuple(fc.constantFrom(...people), fc.constantFrom(...people)).map((personIds) => ({
      kind: "placement.swap" as const,
      layerId: "Banks",
      personIds,
    })),
  );
  fc.assert(
    fc.property(fc.array(step, { maxLength: 12 }), (steps) => {
      let plan = course();
      steps.forEach((command, at) => {
        const commandId = `11111111-1111-4111-8111-${String(at).padStart(12, "0")}`;
        const next = apply(plan, { ...command, id: commandId } as Command, { now: t0 + at });
        if (!isRefusal(next)) plan = next;
        const count = countLayer(plan, "Banks", t0 + at);
        expect([count.unplaced, count.inTwo, count.placed]).toEqual([[], [], 5]);
      });
    }),
    { numRuns: 150 },
  );
});
