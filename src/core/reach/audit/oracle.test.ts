/** The audit held to the rules as they are written, on random courses: who can ever see, what parts can come to, who meets. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import type { Condition, Plan } from "../../plan/types.ts";
import { mendsOf, tryCommands } from "../../review/mends/mends.ts";
import { hasBit } from "../../sets/bits.ts";
import { isStudent, mayFail, mayHold, type World } from "../../tests/condition-oracle.ts";
import { t0 } from "../../tests/fixture.ts";
import { inGroup, meet } from "../../tests/meeting-oracle.ts";
import { conditionOf, meant, sees, termOfStudent } from "../../tests/oracle.ts";
import { randomCourse } from "../../tests/random-course.ts";
import { reachAt } from "../reach.ts";
import { audit } from "./audit.ts";
import { sightlines } from "./sightlines.ts";
import { sweep } from "./sweep.ts";

const partsIn = (condition: Condition | null): Condition[] =>
  !condition ? [] : [condition, ...("of" in condition ? condition.of.flatMap(partsIn) : [])];

describe("held to the oracle", () => {
  test("who can ever see an item, and so who is stranded", () => {
    fc.assert(
      fc.property(randomCourse, ({ plan, progress, students }) => {
        const found = sweep(plan);
        const { findings } = audit(plan, progress, t0);
        for (const s of students) {
          const { ever } = termOfStudent(plan, s);
          const index = found.indexOf.get(s) as number;
          for (const item of Object.values(plan.items)) {
            const could = hasBit(found.ever.get(item.id) as Uint32Array, index);
            expect([s, item.id, could]).toEqual([s, item.id, ever.has(item.id)]);
            const world = { plan, progress, t: t0 };
            const published = [item.id, ...above(plan, item.id)].every((id) => plan.items[id]?.published);
            const stranded = published && isStudent(world, s) && meant(world, s, item) && !ever.has(item.id);
            const told = findings.find(({ key }) => key === `stranded/${item.id}`)?.personIds.includes(s) ?? false;
            expect([s, item.id, told]).toEqual([s, item.id, stranded]);
          }
        }
      }),
      { numRuns: 250 },
    );
  });

  test("what each part of a condition can come to, for those it is asked of", () => {
    fc.assert(
      fc.property(randomCourse, ({ plan, students }) => {
        const found = sweep(plan);
        const terms = students.map((s) => ({ s, worlds: termOfStudent(plan, s).worlds }));
        for (const { item, condition, asked, mayEver, mayNotEver } of found.parts) {
          for (const { s, worlds } of terms) {
            const index = found.indexOf.get(s) as number;
            const then = worlds.filter(
              (world) => meant(world, s, item) && partsIn(conditionOf(world, s, item)).includes(condition),
            );
            expect(hasBit(asked, index)).toBe(then.length > 0);
            expect(hasBit(mayEver, index)).toBe(then.some((world) => mayHold(world, s, condition)));
            expect(hasBit(mayNotEver, index)).toBe(then.some((world) => mayFail(world, s, condition)));
          }
        }
      }),
      { numRuns: 150 },
    );
  });

  test("pairs that see each other, pair by pair", () => {
    fc.assert(
      fc.property(randomCourse, fc.constantFrom("Banks", "Pace"), ({ plan, progress, students }, layerId) => {
        const world: World = { plan, progress, t: t0 };
        const lines = sightlines(reachAt(plan, progress, t0), layerId);
        const groups = lines.groups.map(({ id }) => id);
        const of = (s: string) => groups.filter((id) => inGroup(world, s, id));
        let [pairs, possible] = [0, 0];
        const matrix = groups.map(() => groups.map(() => ({ pairs: 0, possible: 0 })));
        for (const a of students)
          for (const b of students) {
            if (a >= b || of(a).length === 0 || of(b).length === 0 || of(a).some((id) => of(b).includes(id))) continue;
            possible++;
            const seen = meet(world, a, b);
            if (seen) pairs++;
            for (const [x, y] of [
              [a, b],
              [b, a],
            ] as const)
              for (const one of of(x))
                for (const other of of(y)) {
                  const cell = matrix[groups.indexOf(one)]?.[groups.indexOf(other)] as {
                    pairs: number;
                    possible: number;
                  };
                  cell.possible++;
                  if (seen) cell.pairs++;
                }
          }
        expect([lines.pairs, lines.possible]).toEqual([pairs, possible]);
        expect(lines.matrix).toEqual(matrix);
        const alone = lines.surfaces.reduce((sum, surface) => sum + surface.alone, 0);
        expect(alone).toBeLessThanOrEqual(pairs);
        for (const surface of lines.surfaces) expect(surface.alone).toBeLessThanOrEqual(surface.pairs);
        if (lines.surfaces.length === 1) expect(alone).toBe(pairs);
      }),
      { numRuns: 300 },
    );
  });

  test("every mend that is offered removes its finding, and lets nobody reach what is not meant for them", () => {
    let offered = 0;
    fc.assert(
      fc.property(randomCourse, ({ plan, progress, students }) => {
        const leaksIn = (one: Plan) => {
          const world = { plan: one, progress, t: t0 };
          return Object.values(one.items).flatMap((item) =>
            students
              .filter((s) => isStudent(world, s) && sees(world, s, item) && !meant(world, s, item))
              .map((s) => `${item.id}/${s}`),
          );
        };
        const before = new Set(leaksIn(plan));
        for (const finding of audit(plan, progress, t0).findings) {
          for (const { commands } of mendsOf(plan, progress, t0, finding)) {
            offered++;
            const next = tryCommands(plan, commands, t0) as Plan;
            const keys = audit(next, progress, t0).findings.map(({ key }) => key);
            expect(keys).not.toContain(finding.key);
            expect(leaksIn(next).filter((pair) => !before.has(pair))).toEqual([]);
          }
        }
      }),
      { numRuns: 40 },
    );
    expect(offered).toBeGreaterThan(100);
  });
});

function above(plan: Plan, itemId: string): string[] {
  const parent = plan.items[itemId]?.parentId;
  return parent ? [parent, ...above(plan, parent)] : [];
}
