/** The filter language: what it finds, what it refuses, and where. Source: semantics.md section 7. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { comparePercent } from "../plan/percent.ts";
import { noProgress, type Progress } from "../plan/progress.ts";
import type { Item } from "../plan/types.ts";
import { reachAt } from "../reach/reach.ts";
import { t0 } from "../tests/fixture.ts";
import { course, mark } from "../tests/marked-course.ts";
import { columnsOf } from "./cells.ts";
import { type Filter, isMistake, parseFilter, printFilter } from "./filter.ts";
import { matcher } from "./match.ts";
import { filterNames } from "./names.ts";
import { sheetOf } from "./sheet.ts";

describe("the filter language", () => {
  const rows = (text: string, progress: Partial<Progress> = {}) => {
    const plan = course();
    const reach = reachAt(plan, { ...noProgress, ...progress }, t0);
    const parsed = parseFilter(text);
    if (isMistake(parsed)) throw new Error(parsed.says);
    return reach.students.filter(matcher(parsed, sheetOf(reach)).matches);
  };
  test.each([
    ["", ["ada", "ben", "cas"]],
    ["AD", ["ada"]],
    ["group:north", ["ada"]],
    ['group:"South Bank"', ["ben"]],
    ["section:D1 not ada", ["ben"]],
    ["group:North or section:EV", ["ada", "cas"]],
    ["section:D1 (ada or cas)", ["ada"]],
    ["layer:banks", ["ada", "ben"]],
    ["unplaced", ["cas"]],
    ["unplaced:no", ["ada", "ben"]],
    ["Year:2", ["ada"]],
    ['status@"Lab 1":missing', ["ben", "cas"]],
    ['mark@"Lab 1">=50', ["ada"]],
    ['mark@"Lab 1"<50', []],
    ['mark@"Lab 1"<100', ["ada"]],
    ["year:2", ["ada"]],
    ["mark@lab>=50", ["ada"]],
    ["late", []],
  ] as [string, string[]][])("%s", (text, wanted) => {
    expect(rows(text, { marks: [mark("ada", 10)] })).toEqual(wanted);
  });
  test("no mark never compares true, nor does an excuse", () => {
    expect(rows('mark@"Lab 1"<100 or mark@"Lab 1">=0', { marks: [mark("ada", null, true)] })).toEqual([]);
  });
  test.each([
    ["group:", 6, "a value after group: was expected"],
    ["group:D1 (late", 14, "a closing parenthesis was expected"],
    ["late or", 7, "a term such as group:D1 or a name was expected"],
    ["mark<many", 5, 'a number was expected, not "many"'],
    ["group<3", 0, "only mark and total are compared; write group:value"],
    ['name:"Ada', 5, "this quote is not closed"],
    ["ada)", 3, '")" stands where a term or the end was expected'],
    ["mark:50", 0, 'mark is compared, as in mark@"Lab 1"<50'],
    ["late mark<50", 5, 'mark is compared in one column: name it, as in mark@"Lab 1"<50'],
    ["late:maybe", 5, 'yes or no was expected after late:, not "maybe"'],
    ["group:D1 asof:soon", 14, 'a day such as 2026-10-01, with a time or without, or handin was expected, not "soon"'],
    [
      "asof:2026-02-30",
      5,
      'a day such as 2026-10-01, with a time or without, or handin was expected, not "2026-02-30"',
    ],
    [
      "asof:handin late asof:2026-10-01",
      17,
      "a second asof stands beside the first: put each in parentheses with its own terms",
    ],
  ] as [string, number, string][])("%s is told at %d", (text, position, says) => {
    expect(parseFilter(text)).toEqual({ mistake: true, position, says });
  });
  test("29 of 50 is 58 %, in a column, in a total and in a condition, whatever floating point says", () => {
    const plan = course();
    plan.items.lab = { ...(plan.items.lab as Item), points: 50 };
    const sheet = sheetOf(reachAt(plan, { ...noProgress, marks: [mark("ada", 29)] }, t0));
    const found = (text: string) => matcher(parseFilter(text) as Filter, sheet).rows();
    for (const field of ['mark@"Lab 1"', "total"]) {
      for (const sign of ["=", "<=", ">="])
        expect([field, sign, found(`${field}${sign}58`)]).toEqual([field, sign, ["ada"]]);
      for (const sign of ["<", ">"]) expect([field, sign, found(`${field}${sign}58`)]).toEqual([field, sign, []]);
    }
  });
  test("percentages compare as the decimals that they are written as", () => {
    const decimal = fc.tuple(fc.integer({ min: 0, max: 100_000 }), fc.integer({ min: 0, max: 3 }));
    const numberOf = ([digits, places]: [number, number]) => Number((digits / 10 ** places).toFixed(places));
    const whole = ([digits, places]: [number, number]) => BigInt(digits) * 10n ** BigInt(3 - places);
    const positive = decimal.filter(([digits]) => digits > 0);
    fc.assert(
      fc.property(decimal, positive, fc.oneof(decimal, fc.constant(null)), (points, possible, drawn) => {
        // Half of the time the very percentage, cut to three decimals, so that many are equal.
        const percent: [number, number] = drawn ?? [Number((whole(points) * 100_000n) / whole(possible)), 3];
        const exact = whole(points) * 100_000n - whole(percent) * whole(possible);
        const order = comparePercent(numberOf(points), numberOf(possible), numberOf(percent));
        expect(Math.sign(order)).toBe(exact === 0n ? 0 : exact < 0n ? -1 : 1);
      }),
      { numRuns: 500 },
    );
  });
  test.each([
    ["group:West", 6, 'no group is called "West"'],
    ["late section:West", 13, 'no section is called "West"'],
    ["layer:Hills", 6, 'no layer is called "Hills"'],
    ["unplaced:Hills", 9, 'no layer is called "Hills"'],
    ["set:mine", 4, 'no set is called "mine"'],
    ["status@L:missing", 7, 'several columns begin with "L": "Lab 1", "Later"'],
    ['status@"Lab 9":missing', 7, 'no column is called "Lab 9"'],
    ['ada or mark@"Lab 9"<5', 12, 'no column is called "Lab 9"'],
    ["status:lost", 7, /^no cell is ever "lost": not theirs, /],
    ["Shoe:44", 0, /^there is no field "Shoe"; there are group, /],
  ] as [string, number, string | RegExp][])(
    "%s names nothing that there is, and is told at %d",
    (text, position, says) => {
      const plan = course();
      const found = parseFilter(text, filterNames(plan, columnsOf(plan)));
      expect(found).toEqual({
        mistake: true,
        position,
        says: typeof says === "string" ? says : expect.stringMatching(says),
      });
    },
  );

  const name = fc.constantFrom("D1", "South Bank", "or", 'say "so"', "a(b)", "late", "x:y", "O'Neill");
  const leaf: fc.Arbitrary<Filter> = fc.oneof(
    fc.record({
      kind: fc.constant("is" as const),
      field: fc.constantFrom("group", "section", "name", "layer", "Entry score"),
      item: fc.constant(null),
      value: name,
    }),
    fc.record({
      kind: fc.constant("is" as const),
      field: fc.constant("status"),
      item: fc.oneof(fc.constant(null), name),
      value: name,
    }),
    fc.record({
      kind: fc.constant("compare" as const),
      field: fc.constant("mark" as const),
      item: name,
      comparison: fc.constantFrom("<", "<=", ">", ">=", "="),
      value: fc.integer({ min: 0, max: 200 }),
    }),
    fc.record({
      kind: fc.constant("flag" as const),
      field: fc.constantFrom("unplaced", "held"),
      item: fc.constant(null),
      value: fc.constantFrom("yes", "no", "Banks"),
    }),
    fc.record({
      kind: fc.constant("asof" as const),
      at: fc.constantFrom("handin", "2026-10-01", "2026-10-01T17:00"),
    }),
  );
  const tree = fc.letrec<{ node: Filter }>((tie) => ({
    node: fc.oneof(
      { weight: 3, arbitrary: leaf },
      {
        weight: 1,
        arbitrary: fc.record({
          kind: fc.constantFrom("and" as const, "or" as const),
          parts: fc
            .array(tie("node"), { minLength: 2, maxLength: 3 })
            .filter((parts) => parts.filter(({ kind }) => kind === "asof").length < 2),
        }),
      },
      { weight: 1, arbitrary: fc.record({ kind: fc.constant("not" as const), part: tie("node") }) },
    ),
  })).node;
  test("printed and parsed again, a filter is the same", () => {
    fc.assert(
      fc.property(tree, (filter) => {
        expect(parseFilter(printFilter(filter))).toEqual(filter);
      }),
      { numRuns: 500 },
    );
  });
});
