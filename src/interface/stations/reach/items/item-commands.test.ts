/** What an item's dialog makes of what was filled in. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { apply, Command } from "../../../../core/commands.ts";
import { isRefusal } from "../../../../core/plan/command.ts";
import type { Item, Plan } from "../../../../core/plan/types.ts";
import { addItem, addLayer, coursePlan, t0 } from "../../../../core/tests/fixture.ts";
import { changesOf, type ItemFields, newItem } from "./item-commands.ts";

function course(): Plan {
  const plan = coursePlan();
  addLayer(plan, "Banks", ["North", "South"]);
  addItem(plan, "folder", { kind: "folder", title: "Folder" });
  addItem(plan, "lab", {
    kind: "assignment",
    title: "Lab",
    points: 10,
    dates: { attempts: 2, due: "2026-11-27T17:00" },
  });
  addItem(plan, "quiz", { kind: "quiz", title: "Quiz", dates: { attempts: 1, minutes: 20 } });
  return plan;
}
const plan = course();
const item = (id: string) => plan.items[id] as Item;

describe("a new item", () => {
  test("has nothing that means nothing for its kind, and stands last in its folder", () => {
    const filled = {
      ...item("quiz"),
      kind: "page" as const,
      title: " Page ",
      points: 5,
      split: { layerId: "Banks", between: "sealed" as const },
    };
    const made = newItem(
      plan,
      { ...filled, dates: { ...filled.dates, due: "2026-11-27T17:00", opens: "2026-11-20T09:00" } },
      "folder",
    );
    expect(made).toMatchObject({ title: "Page", points: null, split: null, parentId: "folder", position: 0 });
    expect(made.dates).toEqual({ opens: "2026-11-20T09:00" });
  });
});

describe("a change", () => {
  const change = (id: string, fields: Partial<ItemFields>, parentId: string | null = null) =>
    changesOf(plan, item(id), { ...item(id), ...fields }, parentId);
  test("of nothing is no command; of a title it leaves limits that were set elsewhere", () => {
    expect(change("lab", {})).toEqual([]);
    expect(change("lab", { title: "Lab 1 " })).toEqual([
      { kind: "item.change", itemId: "lab", fields: { title: "Lab 1" } },
    ]);
  });
  test("of dates says those that differ, and what is no longer set", () => {
    expect(change("lab", { dates: { attempts: 2, closes: "2026-12-01T12:00" } })).toEqual([
      { kind: "dates.set", itemIds: ["lab"], dates: { due: null, closes: "2026-12-01T12:00" } },
    ]);
  });
  test("of title, dates and folder at once leads to what was filled in, and then nothing is left to change", () => {
    const day = fc.integer({ min: 10, max: 28 }).map((one) => `2026-11-${one}T12:00`);
    const dates = fc.record({ opens: day, due: day, attempts: fc.integer({ min: 1, max: 5 }) }, { requiredKeys: [] });
    const fields = fc.record(
      { title: fc.constantFrom("A", "B"), points: fc.constantFrom(null, 5), published: fc.boolean(), dates },
      { requiredKeys: [] },
    );
    fc.assert(
      fc.property(fc.constantFrom("lab", "quiz"), fields, fc.constantFrom(null, "folder"), (id, some, parentId) => {
        const filled = { ...item(id), ...some };
        const after = changesOf(plan, item(id), filled, parentId).reduce((next, command) => {
          const done = apply(next, Command.parse({ ...command, id: "7b2b8a52-4a53-4c5c-9a52-0f7f3a1d2b4c" }), {
            now: t0,
          });
          if (isRefusal(done)) throw new Error(done.sentence);
          return done;
        }, plan);
        const now = after.items[id] as Item;
        expect(now).toMatchObject({ ...some, parentId });
        expect(now.dates).toEqual(filled.dates);
        expect(changesOf(after, now, filled, parentId)).toEqual([]);
      }),
    );
  });
});
