/** What somebody did is what is found by looking through every row. */
import fc from "fast-check";
import { expect, test } from "vitest";
import { randomCourse } from "../tests/random-course.ts";
import { type Done, doneBy } from "./done-by.ts";
import type { Progress } from "./progress.ts";

function counted(progress: Progress, personId: string): Done {
  const walk = doneBy(progress, personId);
  for (let step = walk.next(); ; step = walk.next()) if (step.done) return step.value;
}

test("marks, hand-ins and opened items of one person, and when they handed in last", () => {
  let some = 0;
  fc.assert(
    fc.property(randomCourse, ({ progress, students }) => {
      for (const personId of [...students, "nobody"]) {
        const theirs = <Row extends { personId: string }>(rows: Row[]) =>
          rows.filter((row) => row.personId === personId);
        const handIns = theirs(progress.handIns).map(({ at }) => at);
        expect(counted(progress, personId)).toEqual({
          handIns: handIns.length,
          marks: theirs(progress.marks).length,
          openings: theirs(progress.openings).length,
          lastHandIn: handIns.length === 0 ? null : Math.max(...handIns),
        });
        if (handIns.length > 1) some++;
      }
    }),
  );
  expect(some).toBeGreaterThan(5);
});
