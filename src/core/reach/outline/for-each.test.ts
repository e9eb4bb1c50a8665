/** One for each group of a layer: made or copied for every group at once. */
import { describe, expect, test } from "vitest";
import { apply, Command, type NewCommand, sayCommand } from "../../commands.ts";
import { isRefusal } from "../../plan/command.ts";
import { lookup } from "../../plan/lookup.ts";
import { noProgress } from "../../plan/progress.ts";
import type { Item, Plan } from "../../plan/types.ts";
import { listBits } from "../../sets/bits.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, t0 } from "../../tests/fixture.ts";
import { reachAt } from "../reach.ts";
import { usualPattern } from "./for-each.ts";

const commandId = "7b2b8a52-4a53-4c5c-9a52-0f7f3a1d2b4c";
const run = (plan: Plan, command: NewCommand) => apply(plan, Command.parse({ ...command, id: commandId }), { now: t0 });
const done = (plan: Plan, command: NewCommand): Plan => {
  const next = run(plan, command);
  if (isRefusal(next)) throw new Error(next.sentence);
  return next;
};
const refusal = (plan: Plan, command: NewCommand) => {
  const next = run(plan, command);
  return isRefusal(next) ? next.code : "taken";
};

/** Ada in North, Ben in South, Cas in neither; Slow is private. */
function course(): Plan {
  const plan = coursePlan();
  addSection(plan, "D1");
  addLayer(plan, "Banks", ["North", "South"]);
  addLayer(plan, "Pace", ["Slow"], { private: true });
  addLayer(plan, "Empty", []);
  addStudent(plan, "ada", ["D1"], ["North"]);
  addStudent(plan, "ben", ["D1"], ["South"]);
  addStudent(plan, "cas", ["D1"]);
  addStudent(plan, "dot", ["D1"], ["Slow"]);
  return plan;
}
const layer = (plan: Plan, name: string) => lookup(plan).layers.find((one) => one.name === name)?.id as string;
const titles = (plan: Plan, parentId: string | null = null) =>
  (lookup(plan).children.get(parentId) ?? []).map(({ title }) => title);
/** The titles of all that somebody sees. */
const seen = (plan: Plan, personId: string) => {
  const reach = reachAt(plan, noProgress, t0);
  const index = reach.students.indexOf(personId);
  return Object.values(plan.items)
    .filter((item) => listBits(reach.sees(item)).includes(index))
    .map(({ title }) => title)
    .sort();
};

describe("a new item for each group", () => {
  const add = (plan: Plan, title: string, name = "Banks"): NewCommand => ({
    kind: "item.addForEach",
    item: { ...addItem(structuredClone(plan), "kit", { kind: "folder", title }), id: "kit" } as Item,
    layerId: layer(plan, name),
  });
  test("is named by the pattern, for its group alone, and one change", () => {
    const plan = course();
    const command = add(plan, "{group} folder {n}");
    const after = done(plan, command);
    expect(titles(after)).toEqual(["North folder 1", "South folder 2"]);
    expect(["ada", "ben", "cas"].map((one) => seen(after, one))).toEqual([["North folder 1"], ["South folder 2"], []]);
    expect(sayCommand(plan, Command.parse({ ...command, id: commandId }))).toBe(
      "New folder {group} folder {n} for each group of Banks",
    );
    expect(done(plan, command)).toEqual(after);
  });
  test("a pattern is proposed that names the group where that may be told", () => {
    const plan = course();
    expect(usualPattern(plan, layer(plan, "Banks"), ["Kit"])).toBe("{group} Kit");
    expect(usualPattern(plan, layer(plan, "Pace"), ["Kit"])).toBe("Kit");
    expect(usualPattern(plan, layer(plan, "Banks"), ["Kit", "Map"])).toBe("{group}");
    expect(usualPattern(plan, layer(plan, "Banks"), [])).toBe("{group}");
  });
  test("says why it cannot be: an unknown blank, a private name, a layer without groups or gone", () => {
    const plan = course();
    expect(refusal(plan, add(plan, "{team} folder"))).toBe("pattern.blank");
    expect(refusal(plan, add(plan, "{group} folder", "Pace"))).toBe("pattern.private");
    expect(refusal(plan, add(plan, "Your folder", "Pace"))).toBe("taken");
    expect(refusal(plan, add(plan, "{group}", "Empty"))).toBe("layer.empty");
    expect(refusal(plan, { ...add(plan, "{group}"), layerId: "none" } as NewCommand)).toBe("layer.gone");
  });
});

describe("what is there becomes one for each group", () => {
  test("a folder with its contents: each group has its own, and the first keeps what was done", () => {
    const plan = course();
    const folder = addItem(plan, "Folder", { kind: "folder", title: "Materials" });
    const page = addItem(plan, "Page", { title: "Read me", parentId: folder.id });
    addItem(plan, "Work", {
      kind: "assignment",
      title: "Task",
      parentId: folder.id,
      condition: { kind: "opened", itemId: page.id },
    });
    const command: NewCommand = {
      kind: "items.forEach",
      itemIds: [folder.id],
      layerId: layer(plan, "Banks"),
      pattern: "{group} folder",
    };
    const after = done(plan, command);
    expect(titles(after)).toEqual(["North folder", "South folder"]);
    const [north, south] = lookup(after).children.get(null) as [Item, Item];
    expect([north.id, titles(after, north.id), titles(after, south.id)]).toEqual([
      folder.id,
      ["Read me", "Task"],
      ["Read me", "Task"],
    ]);
    // The copy asks of the copy.
    const [readMe, task] = lookup(after).children.get(south.id) as [Item, Item];
    expect(task.condition).toEqual({ kind: "opened", itemId: readMe.id });
    expect([seen(after, "ada"), seen(after, "ben"), seen(after, "cas")]).toEqual([
      ["North folder", "Read me"],
      ["Read me", "South folder"],
      [],
    ]);
    const reach = reachAt(after, noProgress, t0);
    expect(Object.values(after.items).flatMap((item) => listBits(reach.leak(item)))).toEqual([]);
  });
  test("several keep their titles before the pattern; one within another is refused", () => {
    const plan = course();
    const folder = addItem(plan, "Folder", { kind: "folder", title: "Kit" });
    const page = addItem(plan, "Page", { title: "Map" });
    const inner = addItem(plan, "Inner", { title: "Inner", parentId: folder.id });
    const each = (itemIds: string[]): NewCommand => ({
      kind: "items.forEach",
      itemIds,
      layerId: layer(plan, "Banks"),
      pattern: "{group}",
    });
    expect(titles(done(plan, each([folder.id, page.id]))).sort()).toEqual([
      "Kit, North",
      "Kit, South",
      "Map, North",
      "Map, South",
    ]);
    expect(refusal(plan, each([folder.id, inner.id]))).toBe("forEach.within");
    expect(refusal(plan, each(["none"]))).toBe("item.gone");
  });
});
