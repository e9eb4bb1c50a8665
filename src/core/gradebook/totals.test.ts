/** Totals against the rules and, for what is dropped, against trying everything. Source: semantics.md section 7. */
import fc from "fast-check";
import { v7 } from "uuid";
import { describe, expect, test } from "vitest";
import { apply, type Command } from "../commands.ts";
import { isRefusal } from "../plan/command.ts";
import type { Grading } from "../plan/grading.ts";
import type { Item, Plan } from "../plan/types.ts";
import { addItem, coursePlan, t0 } from "../tests/fixture.ts";
import type { Cell, CellState } from "./cells.ts";
import { droppedOf, totalOf, wordOf } from "./totals.ts";

const plan = coursePlan();
/** A column that some student has some points of, or a state of. */
function column(
  title: string,
  points: number,
  got: number | Exclude<CellState, "marked">,
  categoryId: string | null = null,
) {
  addItem(plan, title, { kind: "assignment", points, categoryId });
  const mark = { points: typeof got === "number" ? got : null } as NonNullable<Cell["mark"]>;
  const cell: Cell = { state: typeof got === "number" ? "marked" : got, mark, lateBy: 0 };
  return { item: plan.items[title] as Item, cell };
}
const grading = (more: Partial<Grading> = {}): Grading => ({
  categories: [],
  missingIsZero: false,
  scale: [],
  ...more,
});
const category = (id: string, weight = 1, dropLowest = 0) => ({ id, name: id, weight, dropLowest });

describe("without categories", () => {
  test("points earned of points possible over the cells that count, and more than a hundred is not cut", () => {
    expect(totalOf(grading(), [column("a", 20, 15), column("b", 10, 9)]).percent).toBe(80);
    expect(totalOf(grading(), [column("a", 10, 12)]).percent).toBe(120);
  });
  test.each(["not theirs", "excused", "not yet open", "waiting", "handed in"] as const)("%s never counts", (state) => {
    const cells = [column("a", 20, 15), column("b", 10, state)];
    expect(totalOf(grading({ missingIsZero: true }), cells).percent).toBe(75);
  });
  test("missing counts as zero where the course says so; no counting cell is no total, never 0", () => {
    const cells = [column("a", 20, 15), column("b", 10, "missing")];
    expect(totalOf(grading(), cells).percent).toBe(75);
    expect(totalOf(grading({ missingIsZero: true }), cells).percent).toBe(50);
    expect(totalOf(grading({ missingIsZero: true }), [column("b", 10, "waiting")]).percent).toBeNull();
    expect(totalOf(grading(), []).percent).toBeNull();
  });
});

describe("with categories", () => {
  test("weights are scaled to those that have a counting cell, and a column in none does not count", () => {
    const rules = grading({ categories: [category("labs", 30), category("tests", 60), category("talks", 10)] });
    const cells = [
      column("l", 20, 10, "labs"),
      column("t", 10, 9, "tests"),
      column("s", 10, "waiting", "talks"),
      column("o", 100, 0),
    ];
    const total = totalOf(rules, cells);
    // 50 % with 30 of 90, 90 % with 60 of 90.
    expect(total.percent).toBeCloseTo(50 / 3 + 60, 10);
    expect(total.categories.map(({ share }) => share)).toEqual([30 / 90, 60 / 90, 0]);
    expect(total.apart.map(({ title }) => title)).toEqual(["o"]);
    expect(totalOf(rules, [cells[3] as (typeof cells)[0]]).percent).toBeNull();
  });
  test("the lowest are dropped, the last counting cell never, and every cell says why it counts or not", () => {
    const rules = grading({ categories: [category("labs", 1, 2)], missingIsZero: true });
    const total = totalOf(rules, [
      column("a", 20, 18, "labs"),
      column("b", 20, 8, "labs"),
      column("c", 20, "missing", "labs"),
      column("d", 20, "excused", "labs"),
    ]);
    expect(total.percent).toBe(90);
    expect(total.categories[0]?.cells.map(({ dropped, why }) => [dropped, why])).toEqual([
      [false, "18 of 20"],
      [true, "8 of 20"],
      [true, "missing counts as zero"],
      [false, "excused"],
    ]);
    expect(totalOf(rules, [column("a", 20, 3, "labs")]).percent).toBe(15);
  });
  test("which are dropped is what raises the category most: trying every choice finds nothing better", () => {
    // The lowest percentages are not always the best to drop: the points that they stand for count too.
    expect([
      ...droppedOf(
        [
          { points: 80, possible: 100 },
          { points: 20, possible: 100 },
          { points: 1, possible: 20 },
        ],
        1,
      ),
    ]).toEqual([1]);
    const cell = fc.record({ points: fc.integer({ min: 0, max: 30 }), possible: fc.integer({ min: 1, max: 25 }) });
    fc.assert(
      fc.property(fc.array(cell, { minLength: 1, maxLength: 8 }), fc.nat(9), (cells, k) => {
        const count = Math.min(k, cells.length - 1);
        const dropped = droppedOf(cells, k);
        expect(dropped.size).toBe(count);
        const ratio = (gone: (at: number) => boolean) => {
          const kept = cells.filter((_, at) => !gone(at));
          return kept.reduce((sum, one) => sum + one.points, 0) / kept.reduce((sum, one) => sum + one.possible, 0);
        };
        let best = Number.NEGATIVE_INFINITY;
        for (let mask = 0; mask < 1 << cells.length; mask++) {
          const bits = mask.toString(2).replaceAll("0", "").length;
          if (bits === count)
            best = Math.max(
              best,
              ratio((at) => ((mask >> at) & 1) === 1),
            );
        }
        expect(ratio((at) => dropped.has(at))).toBeCloseTo(best, 10);
      }),
      { numRuns: 400 },
    );
  });
});

describe("the scale and the settings", () => {
  test("the highest step that is reached is its word, exactly at its bound too; below the lowest there is none", () => {
    const scale = [
      { word: "Pass", from: 40 },
      { word: "Merit", from: 60 },
    ];
    expect([39.99, 40, 59.999, 60, 130, null].map((percent) => wordOf(scale, percent))).toEqual([
      null,
      "Pass",
      "Pass",
      "Merit",
      "Merit",
      null,
    ]);
    expect(wordOf(scale, (0.1 + 0.2) * 200)).toBe("Merit");
  });
  test("are drafted as one, and refused where a category is named twice or a column is gone", () => {
    const course: Plan = coursePlan();
    addItem(course, "lab", { kind: "assignment", points: 10 });
    const set = (rules: Grading, categoryOf: Record<string, string | null>) =>
      apply(course, { id: v7(), kind: "course.grading", grading: rules, categoryOf } as Command, { now: t0 });
    const next = set(grading({ categories: [category("labs", 2)] }), { lab: "labs" }) as Plan;
    expect([next.course.grading.categories[0]?.weight, next.items.lab?.categoryId]).toEqual([2, "labs"]);
    const refused = [
      set(grading({ categories: [category("labs"), { ...category("more"), name: "Labs" }] }), {}),
      set(grading(), { lab: "gone" }),
      set(grading({ categories: [category("labs")] }), { gone: "labs" }),
    ];
    expect(refused.map((one) => isRefusal(one))).toEqual([true, true, true]);
  });
});
