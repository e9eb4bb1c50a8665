/** The review counts exactly whom a draft touches: held to everything that each student has, on random courses and drafts. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { apply, type Command } from "../commands.ts";
import type { Progress } from "../plan/progress.ts";
import type { Plan } from "../plan/types.ts";
import { t0 } from "../tests/fixture.ts";
import { randomCourse } from "../tests/random-course.ts";
import { randomDraft } from "../tests/random-draft.ts";
import { isTouched } from "../tests/shown.ts";
import { causesOf } from "./causes.ts";
import { review } from "./effects.ts";

const now = { now: t0 };
/** Everybody who has something otherwise, asked one by one. */
const touchedSlowly = (before: Plan, after: Plan, progress: Progress): string[] =>
  Object.keys({ ...before.people, ...after.people })
    .filter((personId) => isTouched(before, after, progress, personId, t0))
    .sort();
const applied = (plan: Plan, commands: Command[]) => {
  const plans = [plan];
  for (const command of commands) plans.push(apply(plans.at(-1) as Plan, command, now) as Plan);
  return plans;
};

describe("touched", () => {
  test("is whoever has anything otherwise, at the moment or at any later change by the clock", () => {
    fc.assert(
      fc.property(randomCourse, randomDraft, ({ plan, progress }, draftOn) => {
        const after = applied(plan, draftOn(plan)).at(-1) as Plan;
        const found = review(plan, after, progress, t0);
        expect([...found.touchedIds].sort()).toEqual(touchedSlowly(plan, after, progress));
        expect(found.touched).toBe(found.touchedIds.size);
      }),
      { numRuns: Number(process.env.AMBER_RUNS ?? 300) },
    );
  });
  test("of one change is whoever has anything otherwise with it than just before it", () => {
    fc.assert(
      fc.property(randomCourse, randomDraft, ({ plan, progress }, draftOn) => {
        const commands = draftOn(plan);
        const plans = applied(plan, commands);
        const whole = review(plan, plans.at(-1) as Plan, progress, t0);
        const causes = new Map([...causesOf(plan, commands, progress, whole, now)].map((one) => [one.commandId, one]));
        commands.forEach((command, at) => {
          const slowly = touchedSlowly(plans[at] as Plan, plans[at + 1] as Plan, progress);
          expect([command.kind, [...(causes.get(command.id)?.personIds ?? [])].sort()]).toEqual([command.kind, slowly]);
        });
      }),
      { numRuns: Number(process.env.AMBER_RUNS ?? 300) / 3 },
    );
  });
});
