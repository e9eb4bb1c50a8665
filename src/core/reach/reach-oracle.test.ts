/** Reach, explanations and reasons held to a slow evaluator on random courses. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { hasBit } from "../sets/bits.ts";
import { isStudent } from "../tests/condition-oracle.ts";
import { t0 } from "../tests/fixture.ts";
import { isAnnounced, meant, sees } from "../tests/oracle.ts";
import { conditionOf, randomCourse } from "../tests/random-course.ts";
import { conditionFor, judge } from "./conditions.ts";
import { explain, visibilityOf } from "./explain.ts";
import { reachAt } from "./reach.ts";

describe("held to the oracle on random courses", () => {
  test("sees and meant are the same for every student and item", () => {
    fc.assert(
      fc.property(randomCourse, ({ plan, progress, students }) => {
        const reach = reachAt(plan, progress, t0);
        const world = { plan, progress, t: t0 };
        for (const student of students) {
          const index = reach.indexOf.get(student);
          expect(index !== undefined).toBe(isStudent(world, student));
          if (index === undefined) continue;
          for (const item of Object.values(plan.items)) {
            expect([item.id, student, hasBit(reach.sees(item), index)]).toEqual([
              item.id,
              student,
              sees(world, student, item),
            ]);
            expect([item.id, student, hasBit(reach.meant(item), index)]).toEqual([
              item.id,
              student,
              meant(world, student, item),
            ]);
          }
        }
      }),
      { numRuns: 600 },
    );
  });
  test("asked for one student alone, the answers are the same", () => {
    fc.assert(
      fc.property(randomCourse, fc.nat(5), ({ plan, progress, students }, which) => {
        const student = students[which] as string;
        const all = reachAt(plan, progress, t0);
        const one = reachAt(plan, progress, t0, [student]);
        const index = all.indexOf.get(student) as number;
        for (const item of Object.values(plan.items))
          expect(hasBit(one.sees(item), 0)).toBe(hasBit(all.sees(item), index));
      }),
      { numRuns: 200 },
    );
  });
  test("the explanation's verdict and its failing step agree with the answer", () => {
    fc.assert(
      fc.property(randomCourse, ({ plan, progress, students }) => {
        const reach = reachAt(plan, progress, t0);
        for (const student of students) {
          for (const item of Object.values(plan.items)) {
            const explained = explain(reach, item, student);
            const open = hasBit(reach.sees(item), reach.indexOf.get(student) as number);
            expect(explained?.visibility === "open").toBe(open);
            const failing = explained?.steps.filter(({ holds }) => !holds).length ?? 0;
            expect(failing > 0).toBe(!open || explained?.leak === true);
          }
        }
      }),
      { numRuns: 200 },
    );
  });
  test("announced is what can still come true, with what is on record for later and whatever is still to be done", () => {
    fc.assert(
      fc.property(randomCourse, ({ plan, progress, students }) => {
        const reach = reachAt(plan, progress, t0);
        const world = { plan, progress, t: t0 };
        for (const student of students)
          for (const item of Object.values(plan.items)) {
            const { visibility } = visibilityOf(reach, item, reach.indexOf.get(student) as number);
            const announced = isAnnounced(world, student, item);
            expect([item.id, student, visibility === "announced"]).toEqual([item.id, student, announced]);
          }
      }),
      { numRuns: 150 },
    );
  });
  test("the reason's verdict for a student is the engine's, for the condition that applies to them", () => {
    fc.assert(
      fc.property(randomCourse, ({ plan, progress, students }) => {
        const reach = reachAt(plan, progress, t0);
        for (const student of students) {
          const index = reach.indexOf.get(student) as number;
          const memberships = reach.memberships(index);
          for (const item of Object.values(plan.items)) {
            const condition = conditionFor(item, memberships);
            const holds = condition ? judge(condition, { plan, progress, memberships, t: t0 }).holds : true;
            expect([item.id, student, hasBit(reach.conditionHolds(item), index)]).toEqual([item.id, student, holds]);
          }
        }
      }),
      { numRuns: 200 },
    );
  });
  test("a reason's tree has the condition's shape, and its verdict follows from its parts", () => {
    fc.assert(
      fc.property(randomCourse, conditionOf, ({ plan, progress }, condition) => {
        const reach = reachAt(plan, progress, t0);
        const check = (node: typeof condition, reason: ReturnType<typeof judge>): void => {
          expect(reason.kind).toBe(node.kind);
          if (!("of" in node)) return;
          expect(reason.parts).toHaveLength(node.of.length);
          const parts = reason.parts.map(({ holds }) => holds);
          const verdict = {
            allOf: parts.every(Boolean),
            anyOf: parts.some(Boolean),
            noneOf: !parts.some(Boolean),
          }[node.kind];
          expect(reason.holds).toBe(verdict);
          for (const [index, part] of node.of.entries()) check(part, reason.parts[index] as typeof reason);
        };
        check(condition, judge(condition, { plan, progress, memberships: reach.memberships(0), t: t0 }));
      }),
      { numRuns: 200 },
    );
  });
});
