/** A student's own marks tell of nothing that they may not see. Source: semantics.md sections 7 and 9. */
import { expect, test } from "vitest";
import { noProgress, type Progress } from "../plan/progress.ts";
import type { Plan } from "../plan/types.ts";
import { type StudentPage, studentPage } from "../reach/student-page.ts";
import { addItem, addLayer, addStudent, coursePlan, forOnly, group, t0 } from "../tests/fixture.ts";
import { studentMarks } from "./student-marks.ts";

const mark = (itemId: string, points: number | null, excused = false) => ({
  itemId,
  personId: "ada",
  points,
  excused,
  at: t0 - 1000,
});
function course(): { plan: Plan; progress: Progress } {
  const plan = coursePlan();
  addLayer(plan, "Banks", ["North", "South"]);
  addStudent(plan, "ada", [], ["North"]);
  addStudent(plan, "ben", [], ["South"]);
  const work = { kind: "assignment" as const, points: 20 };
  addItem(plan, "lab", work);
  addItem(plan, "south", { ...work, audience: forOnly(group("South")) });
  addItem(plan, "veiled", { ...work, announced: false, dates: { opens: "2026-12-20T09:00" } });
  addItem(plan, "gone", {
    ...work,
    readableAfterClose: false,
    dates: { due: "2026-11-01T09:00", closes: "2026-11-02T09:00" },
  });
  addItem(plan, "late", { ...work, dates: { due: "2026-11-20T09:00" } });
  const marks = [mark("lab", 15), mark("gone", 10), { ...mark("lab", 3), personId: "ben" }];
  return { plan, progress: { ...noProgress, marks } };
}
const of = ({ plan, progress }: ReturnType<typeof course>) =>
  studentMarks(studentPage(plan, progress, "ada", t0) as StudentPage);

test("own marks, what is missing and what waits; nothing of other groups, nor of what is still veiled", () => {
  const { marks, total } = of(course());
  expect(marks.map(({ title, state, points, isOpen }) => [title, state, points, isOpen])).toEqual([
    ["lab", "marked", 15, true],
    ["gone", "marked", 10, false],
    ["late", "missing", null, true],
  ]);
  expect(total.percent).toBe(62.5);
  const told = JSON.stringify([marks, total.categories.map(({ cells }) => cells.map(({ item }) => item.title))]);
  expect(told).not.toContain("veiled");
  expect(told).not.toContain("south");
});

test("the total's steps are those of the staff's, since what is not told never counts", () => {
  const drawn = course();
  drawn.plan.course.grading = { categories: [], missingIsZero: true, scale: [{ word: "Pass", from: 40 }] };
  const { total } = of(drawn);
  // 25 of 60: what is missing counts as zero, what is veiled not at all.
  expect([total.percent?.toFixed(2), total.word]).toEqual(["41.67", "Pass"]);
});
