/** No command leads to a plan that says what none may, and one that would is refused with its row. */
import fc from "fast-check";
import { v7 } from "uuid";
import { describe, expect, test } from "vitest";
import { daysFrom, longestTerm } from "../clock/local-time.ts";
import { apply, type Command, type NewCommand, replay } from "../commands.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, forOnly, group, t0 } from "../tests/fixture.ts";
import { randomCourse } from "../tests/random-course.ts";
import { randomDraft } from "../tests/random-draft.ts";
import { isRefusal } from "./command.ts";
import { Condition, Day, deepestCondition, Id, type Item, type Plan, Wall } from "./types.ts";
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

describe("what no schema takes", () => {
  test("days and times that are not there, or far from any course", () => {
    for (const day of ["2026-02-30", "2026-13-01", "0000-01-01", "1969-12-31", "2200-01-01", "9999-12-31", "2026-2-3"])
      expect([day, Day.safeParse(day).success, Wall.safeParse(`${day}T10:00`).success]).toEqual([day, false, false]);
    for (const day of ["1970-01-01", "2024-02-29", "2199-12-31"])
      expect([day, Day.safeParse(day).success, Wall.safeParse(`${day}T23:59`).success]).toEqual([day, true, true]);
    for (const time of ["24:00", "10:60", "1:00"]) expect(Wall.safeParse(`2026-11-30T${time}`).success).toBe(false);
  });
  test("ids that every object knows, or that are no ids", () => {
    for (const id of ["__proto__", "constructor", "toString", "hasOwnProperty", "", "a/b", "a\n", "🐟", "x".repeat(65)])
      expect([id, Id.safeParse(id).success]).toEqual([id, false]);
    for (const id of [v7(), "ada", "ada in D1"]) expect([id, Id.safeParse(id).success]).toEqual([id, true]);
  });
  test("conditions within each other, deeper than anybody reads", () => {
    const nested = (depth: number): unknown =>
      depth === 1 ? { kind: "in", targets: [] } : { kind: "allOf", of: [nested(depth - 1)] };
    expect(Condition.safeParse(nested(deepestCondition)).success).toBe(true);
    const deeper = Condition.safeParse(nested(deepestCondition + 1));
    expect(deeper.error?.issues[0]?.message).toBe("at most 10 conditions within each other");
  });
});

test("a term is at most two years, and whatever goes through its days ends", () => {
  const plan = course();
  const last = (termEnd: string) => faultsIn({ ...plan, course: { ...plan.course, termStart: "2026-09-28", termEnd } });
  expect(last("2028-09-27")).toEqual([]);
  expect(last("2028-09-28").map(({ says }) => says)).toEqual(["its term is longer than two years"]);
  expect(daysFrom("2026-02-27", "2026-03-01")).toEqual(["2026-02-27", "2026-02-28", "2026-03-01"]);
  expect(daysFrom("2026-03-01", "2026-02-27")).toEqual([]);
  expect(daysFrom("2026-01-01", "9999-12-31")).toHaveLength(longestTerm);
});
