/** When reach changes by the clock alone (section 5, nextChange), held to the oracle at every minute around. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { noProgress } from "../plan/progress.ts";
import { isStudent } from "../tests/condition-oracle.ts";
import { addItem, addSection, addStudent, coursePlan, t0 } from "../tests/fixture.ts";
import { sees } from "../tests/oracle.ts";
import { randomCourse } from "../tests/random-course.ts";
import { changesOf, lastChange, nextChange } from "./changes.ts";

const hour = 3600_000;

describe("nextChange", () => {
  test("the next date, condition, placement or enrolment that changes something for this student", () => {
    const plan = coursePlan();
    addSection(plan, "D1");
    addStudent(plan, "ada", ["D1"]);
    addItem(plan, "later", { dates: { opens: "2026-11-27T09:00" } });
    addItem(plan, "gone", { dates: { closes: "2026-11-30T09:00" }, readableAfterClose: false });
    addItem(plan, "not for her", { audience: { to: [], minus: [] }, dates: { opens: "2026-11-26T09:00" } });
    const at = (iso: string) => Date.parse(iso);
    expect(nextChange(plan, noProgress, "ada", t0)).toBe(at("2026-11-27T09:00:00Z"));
    expect(nextChange(plan, noProgress, "ada", at("2026-11-27T09:00:00Z"))).toBe(at("2026-11-30T09:00:00Z"));
    expect(nextChange(plan, noProgress, "ada", at("2026-11-30T09:00:00Z"))).toBeNull();
    expect(lastChange(plan, noProgress, "ada", at("2026-11-29T09:00:00Z"))).toBe(at("2026-11-27T09:00:00Z"));
    expect(changesOf(plan, noProgress, "ada", t0).slice(1)).toEqual([
      at("2026-11-27T09:00:00Z"),
      at("2026-11-30T09:00:00Z"),
    ]);
  });
  test("nothing changes before it, and something does at it", () => {
    fc.assert(
      fc.property(
        randomCourse,
        fc.constantFrom(-2 * hour, 0, 1),
        fc.nat(5),
        ({ plan, progress, students }, offset, which) => {
          const s = students[which] as string;
          const from = t0 + offset;
          const frozen = {
            marks: progress.marks.filter(({ at }) => at <= from),
            handIns: progress.handIns.filter(({ at }) => at <= from),
            openings: progress.openings
              .filter(({ at }) => at <= from)
              .map((row) => ({ ...row, readAt: row.readAt !== null && row.readAt > from ? null : row.readAt })),
            groupMarks: [],
          };
          const open = (t: number) => {
            const world = { plan, progress: frozen, t };
            return isStudent(world, s)
              ? Object.values(plan.items)
                  .filter((item) => sees(world, s, item))
                  .map(({ id }) => id)
              : null;
          };
          const next = nextChange(plan, progress, s, from);
          const around = [1, 60_000, hour, 2 * hour, 24 * hour, 499 * hour, 500 * hour, 600 * hour].map(
            (step) => from + step,
          );
          for (const t of around) if (next === null || t < next) expect(open(t)).toEqual(open(from));
          if (next !== null) expect(open(next)).not.toEqual(open(from));
        },
      ),
      { numRuns: 200 },
    );
  });
});
