import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { noProgress } from "../plan/progress.ts";
import type { Plan } from "../plan/types.ts";
import { audit } from "../reach/audit/audit.ts";
import { addItem, addLayer, addStudent, coursePlan, forOnly, group, t0 } from "../tests/fixture.ts";
import { randomCourse } from "../tests/random-course.ts";
import { addedBy, nothingAdded } from "./added.ts";

function course(): Plan {
  const plan = coursePlan();
  addLayer(plan, "Banks", ["North", "South"]);
  addStudent(plan, "ada", [], ["North"]);
  addStudent(plan, "ben", [], ["North"]);
  addStudent(plan, "cas", [], ["South"]);
  addItem(plan, "check", { kind: "quiz", points: 10, audience: forOnly(group("South")) });
  addItem(plan, "page");
  return plan;
}
const withItem = (plan: Plan, id: string, fields: object): Plan => ({
  ...plan,
  items: { ...plan.items, [id]: { ...plan.items[id], ...fields } as never },
});
const asked = { progress: noProgress, t: t0, layerId: null };

describe("what a draft adds to what is found", () => {
  test("a condition on what only others can do strands whoever cannot, and they alone are counted", () => {
    const published = course();
    const after = withItem(published, "page", { condition: { kind: "atLeast", itemId: "check", percent: 70 } });
    const found = addedBy({ ...asked, published, after });
    expect(found.stranded).toBe(2);
    expect(found.findings.find(({ kind }) => kind === "stranded")?.personIds).toEqual(["ada", "ben"]);
    // Taking the same back adds nothing: what was found before is no longer found.
    expect(addedBy({ ...asked, published: after, after: published }).stranded).toBe(0);
  });

  test("a draft that changes nothing adds nothing, whatever was found before", () => {
    fc.assert(
      fc.property(randomCourse, ({ plan, progress }) => {
        const { stranded, leaks, findings } = addedBy({ published: plan, after: plan, progress, t: t0, layerId: null });
        expect({ stranded, leaks, findings }).toEqual({ stranded: 0, leaks: 0, findings: nothingAdded.findings });
      }),
      { numRuns: 40 },
    );
  });

  test("of a course that begins empty everything that is found is added", () => {
    fc.assert(
      fc.property(randomCourse, ({ plan, progress }) => {
        const empty = { ...plan, items: {} };
        const found = audit(plan, progress, t0, undefined, empty).findings;
        const { leaks, stranded } = addedBy({ published: empty, after: plan, progress, t: t0, layerId: null });
        const touched = (kind: string) =>
          new Set(found.filter((one) => one.kind === kind).flatMap(({ personIds }) => personIds)).size;
        expect([leaks, stranded]).toEqual([touched("leak"), touched("stranded")]);
      }),
      { numRuns: 40 },
    );
  });
});
