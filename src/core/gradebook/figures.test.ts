/** Comparison of groups, and what a filter may go on with. Source: semantics.md section 7. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { noProgress, type Progress } from "../plan/progress.ts";
import { reachAt } from "../reach/reach.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, instant, t0 } from "../tests/fixture.ts";
import { sheetOf } from "./sheet.ts";
import { compareGroups, differenceOf, handedInByGroup, othersFigures, summaryOf, sumsOf } from "./statistics.ts";

describe("figures", () => {
  test("quartiles lie between the values, by linear interpolation", () => {
    expect(summaryOf([40, 10, 20, 30])).toEqual({
      n: 4,
      mean: 25,
      median: 25,
      lower: 17.5,
      upper: 32.5,
      values: [10, 20, 30, 40],
    });
    expect(summaryOf([])).toBeNull();
  });
  test("the interval of a difference is Welch's", () => {
    // By hand: means 20 and 30, variances 100 and 100 of three each, 4 degrees of freedom, t = 2.77645.
    const found = differenceOf(sumsOf([10, 20, 30]), sumsOf([20, 30, 40]));
    expect(found?.difference).toBe(-10);
    expect(found?.from).toBeCloseTo(-32.67, 2);
    expect(found?.to).toBeCloseTo(12.67, 2);
    expect(differenceOf(sumsOf([50, 50]), sumsOf([40, 40]))).toEqual({ difference: 10, from: 10, to: 10 });
    expect(differenceOf(sumsOf([50]), sumsOf([40, 41]))).toBeNull();
  });
  test("turned round the interval is turned round, and it holds the difference", () => {
    const marks = fc.array(fc.integer({ min: 0, max: 100 }), { minLength: 2, maxLength: 9 });
    fc.assert(
      fc.property(marks, marks, (a, b) => {
        const [one, other] = [differenceOf(sumsOf(a), sumsOf(b)), differenceOf(sumsOf(b), sumsOf(a))];
        expect(one?.from).toBeCloseTo(-(other?.to ?? 0), 9);
        expect((one?.from ?? 1) <= (one?.difference ?? 0) && (one?.difference ?? 0) <= (one?.to ?? -1)).toBe(true);
      }),
    );
  });
});

/** Five in North, three in South; Ada was in South when she handed in. */
function course(more: [string, number][] = []) {
  const plan = coursePlan();
  addSection(plan, "D1");
  addLayer(plan, "Banks", ["North", "South Bank"]);
  for (const id of ["ada", "ben", "cas", "dee", "eli"]) addStudent(plan, id, ["D1"], ["North"]);
  for (const id of ["fay", "gus", "hal"]) addStudent(plan, id, [], ["South Bank"]);
  Object.assign(plan.people.ada as object, { attributes: { Year: "2", "Entry score": "61" } });
  for (const row of Object.values(plan.placements))
    if (row.personId === "ada") Object.assign(row, { since: instant("2026-11-22T00:00:00Z") });
  plan.placements.was = {
    id: "was",
    groupId: "South Bank",
    personId: "ada",
    since: 0,
    until: instant("2026-11-22T00:00:00Z"),
    held: false,
  };
  addItem(plan, "lab", { title: "Lab 1", kind: "assignment", points: 20, dates: { due: "2026-11-20T17:00" } });
  const due = instant("2026-11-20T17:00:00Z");
  const mark = (personId: string, points: number) => ({ personId, itemId: "lab", points, excused: false, at: due });
  const handIn = (personId: string, at: number) => ({ id: personId, personId, itemId: "lab", at });
  const progress: Progress = {
    ...noProgress,
    marks: [["ada", 20], ["ben", 10], ["fay", 5], ...more].map(([id, points]) => mark(id as string, points as number)),
    handIns: [handIn("ada", due), handIn("ben", due + 1000), handIn("cas", due)],
  };
  return sheetOf(reachAt(plan, progress, t0));
}

describe("groups beside each other", () => {
  const compare = (asOfHandIn: boolean, own: Set<string> | null = null, item = true) => {
    const sheet = course();
    const figures = compareGroups(sheet, {
      layerId: "Banks",
      item: item ? (sheet.columns[0] ?? null) : null,
      rows: sheet.reach.everyone,
      asOfHandIn,
      own,
    });
    return figures.map(({ group, members, toMark, missing, late, summary, tooFew }) => [
      group.name,
      members,
      toMark,
      missing,
      late,
      summary?.values ?? null,
      tooFew,
    ]);
  };
  test("what is to be marked, missing and late, and the marks", () => {
    expect(compare(false)).toEqual([
      ["North", 5, 1, 2, 1, [50, 100], false],
      ["South Bank", 3, 0, 2, 0, [25], false],
    ]);
  });
  test("as of the hand-in whoever handed in counts where they were then", () => {
    expect(compare(true)).toEqual([
      ["North", 4, 1, 2, 1, [50], false],
      ["South Bank", 4, 0, 2, 0, [25, 100], false],
    ]);
  });
  test("of totals", () => {
    expect(compare(false, null, false)[0]?.[5]).toEqual([50, 100]);
  });
  test("of a group that is not one's own nothing is told below five, and all of exactly five", () => {
    expect(compare(false, new Set())).toEqual([
      ["North", 5, 1, 2, 1, [50, 100], false],
      ["South Bank", 3, 0, 0, 0, null, true],
    ]);
    expect(compare(false, new Set(["South Bank"]))[1]).toEqual(["South Bank", 3, 0, 2, 0, [25], false]);
  });
  test("all others are told of as sums of at least five, whoever they are", () => {
    const marked = course([
      ["cas", 15],
      ["dee", 20],
      ["gus", 0],
    ]);
    const [item = null] = marked.columns;
    const all = ["ada", "ben", "cas", "dee", "eli", "fay", "gus", "hal"];
    expect(othersFigures(marked, item, new Set(["hal", "eli"]))).toMatchObject({
      members: 6,
      sums: { n: 6, mean: 700 / 12 },
    });
    // Of four marks among five others no mean is told; of four others nothing at all.
    expect(othersFigures(course([["gus", 3]]), item, new Set(["hal"]))).toMatchObject({ members: 7, sums: null });
    expect(othersFigures(marked, item, new Set(all.slice(4)))).toBeNull();
    fc.assert(
      fc.property(fc.subarray(all), fc.boolean(), (but, isTotal) => {
        const told = othersFigures(marked, isTotal ? null : item, new Set(but));
        const others = all.filter((id) => !but.includes(id));
        expect([told?.members ?? null, told === null]).toEqual([
          others.length < 5 ? null : others.length,
          others.length < 5,
        ]);
        const points: Record<string, number> = { ada: 20, ben: 10, fay: 5, cas: 15, dee: 20, gus: 0 };
        const values = others.flatMap((id) => (points[id] === undefined ? [] : [(points[id] / 20) * 100]));
        if (told) expect(told.sums).toEqual(values.length < 5 ? null : sumsOf(values));
      }),
    );
  });
  test("a group of fewer than five gives nothing to those outside it", () => {
    expect(compare(false, new Set(["North"]))).toEqual([
      ["North", 5, 1, 2, 1, [50, 100], false],
      ["South Bank", 3, 0, 0, 0, null, true],
    ]);
    expect(compare(false, new Set(["South Bank"]))[1]?.[5]).toEqual([25]);
  });
  test("who has handed in and who has not, by group", () => {
    const sheet = course();
    const parts = handedInByGroup(sheet, "Banks", sheet.columns[0] as never, sheet.reach.everyone);
    expect(parts.map(({ group, handedIn, notYet }) => [group?.name, handedIn, notYet])).toEqual([
      ["North", ["ada", "ben", "cas"], ["dee", "eli"]],
      ["South Bank", [], ["fay", "gus", "hal"]],
    ]);
  });
});
