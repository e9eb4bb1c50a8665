/** The lines of the grid: every student once, under the group they are in, with what each group comes to. */
import { describe, expect, test } from "vitest";
import { sheetOf } from "../../../../core/gradebook/sheet.ts";
import { noProgress } from "../../../../core/plan/progress.ts";
import { reachAt } from "../../../../core/reach/reach.ts";
import { addItem, addLayer, addStudent, coursePlan, t0 } from "../../../../core/tests/fixture.ts";
import { linesOf, meanOf, subtotalOf } from "./lines.ts";

function course() {
  const plan = coursePlan();
  addLayer(plan, "Clubs", ["North", "South", "Empty"], { rule: "any number" });
  addStudent(plan, "ada", [], ["South", "North"]);
  addStudent(plan, "ben", [], ["South"]);
  addStudent(plan, "cas");
  addItem(plan, "lab", { kind: "assignment", points: 20, dates: { due: "2026-11-20T17:00" } });
  const mark = (personId: string, points: number) => ({ personId, itemId: "lab", points, excused: false, at: t0 });
  const handIns = [{ id: "h", personId: "cas", itemId: "lab", at: t0 - 1000 }];
  return sheetOf(reachAt(plan, { ...noProgress, marks: [mark("ada", 10), mark("ben", 20)], handIns }, t0));
}

describe("lines", () => {
  const sheet = course();
  const say = (rows: string[], layerId: string | null) =>
    linesOf(sheet, rows, layerId).map((line) =>
      line.kind === "student" ? line.personId : `${line.group?.name ?? "in none"} ${line.indexes.length}`,
    );
  test("without a layer: the students of the filter, in its order", () => {
    expect(say(["cas", "ada"], null)).toEqual(["cas", "ada"]);
  });
  test("under their groups; in two groups under the first; those in none come last", () => {
    expect(say(["ada", "ben", "cas"], "Clubs")).toEqual(["North 1", "ada", "South 1", "ben", "in none 1", "cas"]);
    expect(say(["ben"], "Clubs")).toEqual(["South 1", "ben"]);
  });
  test("a group's figures of a column, and of the totals", () => {
    const column = sheet.column(sheet.columns[0] as never);
    expect(subtotalOf(column, [0, 1, 2])).toEqual({ mean: 75, toMark: 1, missing: 0 });
    expect(subtotalOf(column, [])).toEqual({ mean: null, toMark: 0, missing: 0 });
    expect(meanOf(sheet.percentages(), [0, 1, 2])).toBe(75);
    expect(meanOf(sheet.percentages(), [2])).toBeNull();
  });
});
