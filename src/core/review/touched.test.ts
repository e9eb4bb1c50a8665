/** The review counts exactly whom a draft touches: held to everything that each student has, on random courses and drafts. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { apply, type Command } from "../commands.ts";
import { noProgress, type Progress } from "../plan/progress.ts";
import type { Item, Plan } from "../plan/types.ts";
import { addItem, addLayer, addStudent, coursePlan, t0 } from "../tests/fixture.ts";
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

const kinds = ["page", "folder", "file", "link", "event", "discussion", "assignment", "quiz"] as const;
/** An item of each kind, read or only announced, and each index on. */
function everyKind(isAnnounced: boolean): Plan {
  const plan = coursePlan();
  plan.course.indexes = { discussions: true, files: true, calendar: true, work: true };
  addLayer(plan, "Banks", ["North"]);
  addStudent(plan, "ada", [], ["North"]);
  addItem(plan, "first");
  const condition = isAnnounced ? ({ kind: "opened", itemId: "first" } as const) : null;
  for (const kind of kinds) addItem(plan, kind, { kind, condition, points: 10 });
  return plan;
}
const changes: Partial<Item>[] = [
  { title: "Renamed" },
  { body: "More" },
  { points: null },
  { points: 20 },
  { announced: false },
  { published: false },
  { readableAfterClose: true },
  { dates: { due: "2026-12-01T17:00" } },
  { dates: { opens: "2026-12-01T17:00" } },
  { dates: { attempts: 2 } },
  // What was never set is taken away: nobody reads anything else.
  { dates: { closes: "none" } },
  { split: { layerId: "Banks", between: "sealed" } },
  { condition: null },
];

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
  test.each([true, false])("is so for each field of each kind, whether only announced (%s) or not", (isAnnounced) => {
    const plan = everyKind(isAnnounced);
    for (const kind of kinds)
      for (const change of changes) {
        const after = { ...plan, items: { ...plan.items, [kind]: { ...(plan.items[kind] as Item), ...change } } };
        const found = [...review(plan, after, noProgress, t0).touchedIds];
        expect([kind, change, found]).toEqual([kind, change, touchedSlowly(plan, after, noProgress)]);
      }
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
