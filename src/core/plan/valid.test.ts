/** No command leads to a plan that says what none may, and one that would is refused with its row. */
import fc from "fast-check";
import { v7 } from "uuid";
import { describe, expect, test } from "vitest";
import { apply, type Command, type NewCommand, replay } from "../commands.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, forOnly, group, t0 } from "../tests/fixture.ts";
import { randomCourse } from "../tests/random-course.ts";
import { randomDraft } from "../tests/random-draft.ts";
import { isRefusal } from "./command.ts";
import type { Item, Plan } from "./types.ts";
import { faultsIn } from "./valid.ts";

function course(): Plan {
  const plan = coursePlan();
  addSection(plan, "D1");
  addLayer(plan, "Banks", ["North", "South"]);
  addStudent(plan, "ada", ["D1"], ["North"]);
  addItem(plan, "folder", { kind: "folder" });
  addItem(plan, "page", { title: "Kit list" });
  return plan;
}
const refusal = (command: NewCommand): string => {
  const next = apply(course(), { ...command, id: v7() } as Command, { now: t0 });
  return isRefusal(next) ? next.sentence : "";
};

describe("a command", () => {
  test("that names what is not there, or belongs to another course, is refused", () => {
    const item = (fields: Partial<Item>): NewCommand => {
      const plan = course();
      addItem(plan, "new", { title: "New", ...fields });
      return { kind: "item.add", item: plan.items.new as Item };
    };
    expect(refusal(item({}))).toBe("");
    expect(refusal(item({ audience: forOnly(group("elsewhere")) }))).not.toBe("");
    expect(refusal(item({ parentId: "elsewhere" }))).not.toBe("");
    expect(refusal(item({ parentId: "page" }))).not.toBe("");
    expect(refusal(item({ categoryId: "elsewhere" }))).toContain("category of the gradebook (elsewhere)");
    expect(refusal({ kind: "override.set", itemIds: ["page"], target: group("elsewhere"), dates: {} })).not.toBe("");
  });
  test("of a random draft leaves no fault", () => {
    fc.assert(
      fc.property(randomCourse, randomDraft, ({ plan }, draftOf) => {
        expect(faultsIn(plan)).toEqual([]);
        expect(faultsIn(replay(plan, draftOf(plan), { now: t0 }).plan)).toEqual([]);
      }),
      { numRuns: 150 },
    );
  });
});
