/** What is written down in columns is read as it was. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { makeLargeCourse, usualSizes } from "../../../demo/large.ts";
import { randomCourse } from "../tests/random-course.ts";
import { Piece, planPieces, planReader, progressPieces, progressReader } from "./columns.ts";
import { noProgress, type Progress, progressByItem, progressOf } from "./progress.ts";
import type { Plan } from "./types.ts";

const sent = (pieces: Iterable<Piece>): Piece[] => JSON.parse(JSON.stringify([...pieces]));
function planOf(plan: Plan): Plan {
  const reader = planReader(plan.course);
  sent(planPieces(plan)).forEach(reader.add);
  return reader.made();
}
function sentProgress(progress: Progress): Progress {
  const reader = progressReader();
  sent(progressPieces(progress)).forEach(reader.add);
  return reader.made();
}
/** The rows of one item together, in their order. */
const inOrder = (progress: Progress): Progress => plain(progressOf(progressByItem(progress)));
const plain = ({ marks, handIns, openings, groupMarks }: Progress): Progress => ({
  marks,
  handIns,
  openings,
  groupMarks,
});

const id = fc.oneof(fc.uuid(), fc.constantFrom("ada", "", "__proto__", '{"kind":"none"}'));
const moment = fc.oneof(
  fc.integer(),
  fc.double({ noDefaultInfinity: true, noNaN: true }).map((number) => number + 0),
);
const handIns = fc.array(
  fc.record({ id, personId: id, itemId: id, at: moment, by: id }, { requiredKeys: ["id", "itemId", "at"] }),
);
const marks = fc.array(
  fc.record({
    personId: id,
    itemId: id,
    points: fc.option(moment),
    excused: fc.boolean(),
    at: fc.oneof(fc.constant('{"kind":"none"}'), fc.constant({ kind: "none" }), moment),
  }),
);

describe("columns", () => {
  test("give the plan and the progress that were written, with rows and fields in their order", () => {
    fc.assert(
      fc.property(randomCourse, ({ plan, progress }) => {
        expect(JSON.stringify(planOf(plan))).toBe(JSON.stringify(plan));
        expect(JSON.stringify(plain(sentProgress(progress)))).toBe(JSON.stringify(inOrder(progress)));
      }),
    );
  });
  test("keep every value apart: ids and other text, null and nothing, text that reads like an object", () => {
    fc.assert(
      fc.property(handIns, marks, (someHandIns, someMarks) => {
        const progress = { ...noProgress, handIns: someHandIns, marks: someMarks } as Progress;
        expect(plain(sentProgress(progress))).toEqual(JSON.parse(JSON.stringify(inOrder(progress))));
      }),
    );
  });
  test("are pieces of at most ten thousand rows, each as its schema says; an id is written once", () => {
    const { plan, progress } = makeLargeCourse(
      { ...usualSizes, students: 1200 },
      0,
      "6d8b1f1e-0f5e-4b6c-8c6e-1d2c3b4a5f60",
    );
    const pieces = sent(planPieces(plan));
    for (const piece of pieces) expect(Piece.parse(piece).count).toBeLessThanOrEqual(10_000);
    expect(pieces.filter(({ of }) => of === "placements").length).toBeGreaterThan(1);
    const ids = pieces.flatMap((piece) => piece.ids);
    expect(new Set(ids).size).toBe(ids.length);
    expect(planOf(plan)).toEqual(plan);
    expect(plain(sentProgress(progress))).toEqual(inOrder(progress));
    const written = (value: unknown) => JSON.stringify(value).length;
    expect(written(pieces)).toBeLessThan(written(plan) / 4);
    expect(written(sent(progressPieces(progress)))).toBeLessThan(written(progress) / 10);
  });
});
