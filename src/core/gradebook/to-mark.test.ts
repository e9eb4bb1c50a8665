/** What waits to be marked is what a walk over every hand-in finds. */
import fc from "fast-check";
import { expect, test } from "vitest";
import { progressLookup } from "../plan/progress.ts";
import { type Reach, reachAt } from "../reach/reach.ts";
import { t0 } from "../tests/fixture.ts";
import { randomCourse } from "../tests/random-course.ts";
import { countToMark } from "./to-mark.ts";

function byHand({ plan, progress, indexOf }: Reach): number {
  const found = progressLookup(progress);
  const waiting = new Set<string>();
  for (const { personId, itemId } of progress.handIns)
    if (plan.items[itemId]?.points != null && indexOf.has(personId) && !found.mark(personId, itemId))
      waiting.add(`${itemId}/${personId}`);
  return waiting.size;
}

test("each student and item once, where points can be had and nobody marked it", () => {
  let [most, some] = [0, 0];
  fc.assert(
    fc.property(randomCourse, ({ plan, progress }) => {
      const reach = reachAt(plan, progress, t0);
      const count = countToMark(reach);
      expect(count).toBe(byHand(reach));
      most = Math.max(most, count);
      if (count > 0) some++;
    }),
  );
  expect([most > 1, some > 5]).toEqual([true, true]);
});
