/** The queue of a filter: what is in it, and who comes next, also after some left it. */
import { describe, expect, test } from "vitest";
import { sheetOf } from "../../../../core/gradebook/sheet.ts";
import { noProgress, withMarks } from "../../../../core/plan/progress.ts";
import { reachAt } from "../../../../core/reach/reach.ts";
import { addItem, addStudent, coursePlan, forOnly, t0 } from "../../../../core/tests/fixture.ts";
import { besideIn, queueOf, type Which } from "./queue.ts";

const plan = coursePlan();
for (const id of ["ada", "ben", "cas", "dee"]) addStudent(plan, id);
addItem(plan, "lab", { kind: "assignment", points: 10 });
addItem(plan, "talk", { kind: "assignment", points: 5, audience: forOnly({ kind: "person", id: "ben" }) });
const handIn = (personId: string, itemId: string, at = t0 - 1000) => ({ id: personId + itemId, personId, itemId, at });
const mark = (personId: string) => ({ personId, itemId: "lab", points: 7, excused: false, at: t0 - 500 });
const progress = {
  ...noProgress,
  handIns: [
    handIn("ada", "lab"),
    handIn("ben", "lab"),
    handIn("dee", "lab"),
    handIn("ben", "talk"),
    handIn("cas", "lab", t0 + 1),
  ],
  marks: [mark("dee")],
};
const sheetAt = (given = progress) => sheetOf(reachAt(plan, given, t0));
const names = (which: Which, sheet = sheetAt()) =>
  queueOf(sheet, sheet.reach.everyone, sheet.columns, which).map(({ personId, item }) => `${personId} ${item.id}`);

describe("the queue", () => {
  test("a column after another: to be marked, handed in, not handed in, or all it is for", () => {
    expect(names("to be marked")).toEqual(["ada lab", "ben lab", "ben talk"]);
    expect(names("handed in")).toEqual(["ada lab", "ben lab", "dee lab", "ben talk"]);
    expect(names("not handed in")).toEqual(["cas lab"]);
    expect(names("everyone")).toEqual(["ada lab", "ben lab", "cas lab", "dee lab", "ben talk"]);
  });
  test("only of the students of the filter", () => {
    const sheet = sheetAt();
    const only = Uint32Array.of(1 << (sheet.reach.indexOf.get("ben") as number));
    expect(queueOf(sheet, only, sheet.columns, "to be marked").map(({ item }) => item.id)).toEqual(["lab", "talk"]);
  });
  test("next and previous go by the order of the queue, whether or not one is still in it", () => {
    const beside = (at: string | null, given = progress) => {
      const sheet = sheetAt(given as typeof progress);
      const queue = queueOf(sheet, sheet.reach.everyone, sheet.columns, "to be marked");
      const [personId = "", itemId = ""] = at?.split(" ") ?? [];
      const { next, previous } = besideIn(sheet, sheet.columns, queue, at ? { personId, itemId } : null);
      return [previous, next].map((one) => one && `${one.personId} ${one.item.id}`);
    };
    expect(beside(null)).toEqual([null, "ada lab"]);
    expect(beside("ada lab")).toEqual([null, "ben lab"]);
    expect(beside("ben lab")).toEqual(["ada lab", "ben talk"]);
    expect(beside("ben talk")).toEqual(["ben lab", null]);
    // Ada and Ben were marked together: the next is whoever is left, and nobody is passed over.
    const marked = withMarks(
      progress,
      ["ada", "ben"].map((personId) => ({ itemId: "lab", personId, mark: mark(personId) })),
    );
    expect(beside("ada lab", marked as typeof progress)).toEqual([null, "ben talk"]);
  });
});
