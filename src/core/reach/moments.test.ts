/** Dates as sets are dates student by student: both policies, named sets, persons, allowances, "none". */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { noProgress } from "../plan/progress.ts";
import { hasBit, listBits } from "../sets/bits.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, group, person, t0 } from "../tests/fixture.ts";
import { randomCourse } from "../tests/random-course.ts";
import { instantOfValue, resolveField } from "../timing/resolving/resolve.ts";
import type { MomentTest } from "./moments.ts";
import { reachAt } from "./reach.ts";

const tests: MomentTest[] = [
  { field: "opens", passes: (at) => at === null || t0 >= at, ifAny: true },
  { field: "closes", passes: (at) => at === null || t0 < at, ifAny: true },
  { field: "due", passes: (at) => at !== null, ifAny: false },
];

test("every student of every item, as resolved one by one", () => {
  fc.assert(
    fc.property(randomCourse, ({ plan, progress }) => {
      const reach = reachAt(plan, progress, t0);
      for (const item of Object.values(plan.items))
        for (const one of tests) {
          const bits = reach.moment(item, one);
          reach.students.forEach((student, index) => {
            const { value } = resolveField(plan, item, reach.memberships(index), one.field);
            const passes = one.passes(instantOfValue(plan, value));
            expect([item.id, one.field, student, hasBit(bits, index)]).toEqual([item.id, one.field, student, passes]);
          });
        }
    }),
    { numRuns: 400 },
  );
});

describe("the rules one by one", () => {
  const course = () => {
    const plan = coursePlan();
    addSection(plan, "D1");
    addLayer(plan, "Banks", ["North", "South"]);
    addLayer(plan, "Pace", ["Quick"]);
    addStudent(plan, "ada", ["D1"], ["North", "Quick"]);
    addStudent(plan, "ben", ["D1"], ["South"]);
    addItem(plan, "lab", { dates: { closes: "2026-11-20T09:00" }, readableAfterClose: false });
    return plan;
  };
  const open = (plan: ReturnType<typeof course>) => {
    // Tables are values: a plan that was asked is never changed in place.
    const fresh = { ...plan, overrides: { ...plan.overrides }, allowances: { ...plan.allowances } };
    const reach = reachAt(fresh, noProgress, t0);
    return listBits(reach.sees(plan.items.lab as never)).map((index) => reach.students[index]);
  };
  test("an extension moves closes, and not a date of a student's own", () => {
    const plan = course();
    expect(open(plan)).toEqual([]);
    plan.allowances.a = { id: "a", target: group("North"), minutesFactor: null, extraDays: 7, extraAttempts: null };
    expect(open(plan)).toEqual(["ada"]);
    plan.overrides.o = { id: "o", itemId: "lab", target: person("ada"), dates: { closes: "2026-11-21T09:00" } };
    expect(open(plan)).toEqual([]);
    plan.overrides.o = { id: "o", itemId: "lab", target: person("ada"), dates: { closes: "none" } };
    expect(open(plan)).toEqual(["ada"]);
  });
  test("the largest extension counts, once", () => {
    const plan = course();
    plan.allowances.a = { id: "a", target: group("North"), minutesFactor: null, extraDays: 3, extraAttempts: null };
    plan.allowances.b = { id: "b", target: group("Quick"), minutesFactor: null, extraDays: 3, extraAttempts: null };
    expect(open(plan)).toEqual([]);
    plan.allowances.b = { id: "b", target: group("Quick"), minutesFactor: null, extraDays: 6, extraAttempts: null };
    expect(open(plan)).toEqual(["ada"]);
  });
  test("by layer order the first layer decides, however strict", () => {
    const plan = course();
    plan.overrides.n = { id: "n", itemId: "lab", target: group("North"), dates: { closes: "2026-11-22T09:00" } };
    plan.overrides.q = { id: "q", itemId: "lab", target: group("Quick"), dates: { closes: "2026-12-22T09:00" } };
    expect(open(plan)).toEqual(["ada"]);
    plan.course = { ...plan.course, datePolicy: "layer order" };
    expect(open(plan)).toEqual([]);
    plan.course = { ...plan.course, layerOrder: ["Pace", "Banks"] };
    expect(open(plan)).toEqual(["ada"]);
  });
});
