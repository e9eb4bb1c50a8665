/** How the grid is looked at: order, bands, widths, what is hidden. Source: semantics.md section 7. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import type { Plan } from "../plan/types.ts";
import { addItem, coursePlan } from "../tests/fixture.ts";
import { columnsOf } from "./cells.ts";
import { inOrder, isSameView, movedBefore, type SavedView, shownColumns, usualView, usualWidth } from "./view.ts";

function course(): Plan {
  const plan = coursePlan();
  plan.course.grading = {
    categories: [{ id: "quizzes", name: "Quizzes", weight: 1, dropLowest: 0 }],
    missingIsZero: false,
    scale: [],
  };
  addItem(plan, "labs", { kind: "folder", title: "Labs" });
  const add = (id: string, more: Partial<Plan["items"][string]> = {}) =>
    addItem(plan, id, { kind: "assignment", points: 10, title: id, ...more });
  add("first");
  add("lab", { parentId: "labs" });
  add("quiz", { categoryId: "quizzes" });
  add("other lab", { parentId: "labs" });
  return plan;
}
const plan = course();
const columns = columnsOf(plan);
const ids = (view: Partial<SavedView> = {}) =>
  shownColumns(plan, columns, { ...usualView, ...view }).map(({ item }) => item.id);

describe("columns", () => {
  test("stand as the outline has them, hidden ones aside, as wide as they were drawn", () => {
    expect(ids()).toEqual(columns.map(({ id }) => id));
    expect(ids({ hidden: ["quiz", "gone"] })).not.toContain("quiz");
    const wide = shownColumns(plan, columns, { ...usualView, widths: { first: 140 } });
    expect(wide.map(({ item, width }) => [item.id === "first", width])).toEqual(
      columns.map(({ id }) => [id === "first", id === "first" ? 140 : usualWidth]),
    );
  });
  test("two views are the same whatever the order of their fields, and none kept is the usual one", () => {
    const { widths, ...rest } = usualView;
    expect(isSameView({ widths, ...rest }, usualView)).toBe(true);
    expect(isSameView(null, { ...usualView })).toBe(true);
    const others = {
      order: ["lab"],
      hidden: ["lab"],
      widths: { lab: 90 },
      bands: "folder",
      groupBy: "sections",
    } as const;
    for (const [field, value] of Object.entries(others))
      expect([field, isSameView(null, { ...usualView, [field]: value })]).toEqual([field, false]);
  });
  test("bands stand in the order of their first column, by folder or by category", () => {
    const bands = (view: Partial<SavedView>) =>
      shownColumns(plan, columns, { ...usualView, ...view }).map(({ item, band }) => [item.id, band]);
    expect(bands({ bands: "folder", order: ["lab", "first", "quiz", "other lab"] })).toEqual([
      ["lab", "Labs"],
      ["other lab", "Labs"],
      ["first", "Top of the outline"],
      ["quiz", "Top of the outline"],
    ]);
    expect(bands({ bands: "category", order: ["quiz", "first", "lab", "other lab"] }).slice(0, 2)).toEqual([
      ["quiz", "Quizzes"],
      ["first", "No category"],
    ]);
  });
  test("a new column comes after the one that the outline has before it", () => {
    const order = ["quiz", "first"];
    expect(inOrder(columns, order).map(({ id }) => id)).toContain("lab");
    expect(inOrder(columns, [])).toEqual(columns);
  });
  test("moved before another it stands there, and none is lost or doubled, however often", () => {
    const step = fc.tuple(
      fc.constantFrom(...columns.map(({ id }) => id)),
      fc.option(fc.constantFrom("first", "quiz", "lab")),
    );
    fc.assert(
      fc.property(fc.array(step, { maxLength: 6 }), (steps) => {
        let order: string[] = [];
        for (const [id, before] of steps) {
          order = movedBefore(columns, order, id, before);
          if (before === null) expect(order.at(-1)).toBe(id);
          else if (before !== id) expect(order[order.indexOf(id) + 1]).toBe(before);
        }
        expect(
          inOrder(columns, order)
            .map(({ id }) => id)
            .sort(),
        ).toEqual(columns.map(({ id }) => id).sort());
      }),
    );
  });
});
