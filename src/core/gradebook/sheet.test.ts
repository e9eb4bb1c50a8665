/** All cells and totals at once are those of one cell after another, before and after a mark. Source: semantics.md section 7. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { addDays, instantOf } from "../clock/local-time.ts";
import { holdsAt } from "../plan/lookup.ts";
import { type MarkChange, noProgress, type Progress, withMarks } from "../plan/progress.ts";
import type { Item, Plan } from "../plan/types.ts";
import { reachAt, takesHandIns } from "../reach/reach.ts";
import { reachWithMarks } from "../reach/update.ts";
import {
  addItem,
  addLayer,
  addSection,
  addStudent,
  coursePlan,
  forOnly,
  group,
  instant,
  t0,
} from "../tests/fixture.ts";
import { isMissing } from "../tests/oracle.ts";
import { randomCourse } from "../tests/random-course.ts";
import { cellStates, cellsOf, columnsOf } from "./cells.ts";
import { countStates } from "./column.ts";
import type { Filter } from "./filter.ts";
import { matcher } from "./match.ts";
import { type Sheet, sheetOf } from "./sheet.ts";
import { totalsOf } from "./totals.ts";

/** Categories of unequal weights, one that drops its lowest, and items spread over them and outside. */
function graded(plan: Plan, dropLowest: number, missingIsZero: boolean): Plan {
  const items = Object.fromEntries(
    Object.values(plan.items).map((item, at) => [
      item.id,
      { ...item, categoryId: ["one", "other", null][at % 3] ?? null },
    ]),
  );
  const categories = [
    { id: "one", name: "One", weight: 30, dropLowest },
    { id: "other", name: "Other", weight: 50, dropLowest: 0 },
  ];
  return { ...plan, items, course: { ...plan.course, grading: { categories, missingIsZero, scale: [] } } };
}

/** Every cell and total that a sheet gives, as plain values. */
function all(sheet: Sheet): unknown {
  const { students } = sheet.reach;
  const totals = sheet.percentages();
  return students.map((personId, index) => [
    Number.isNaN(totals[index]) ? null : Math.round((totals[index] as number) * 1e6),
    ...sheet.columns.map((item) => sheet.cell(item, personId)),
  ]);
}
function slow(plan: Plan, progress: Progress, t: number): unknown {
  const reach = reachAt(plan, progress, t);
  const cells = cellsOf(reach);
  const totals = totalsOf(plan, cells);
  return reach.students.map((personId) => {
    const { percent } = totals(personId);
    return [
      percent === null ? null : Math.round(percent * 1e6),
      ...columnsOf(plan).map((item) => cells.cell(item, personId)),
    ];
  });
}

const course = fc
  .tuple(randomCourse, fc.nat(2), fc.boolean(), fc.constantFrom(0, 600 * 3600_000))
  .map(([{ plan, progress }, drop, zero, later]) => ({ plan: graded(plan, drop, zero), progress, t: t0 + later }));

describe("the sheet", () => {
  test("says of every cell and total what is said of one", () => {
    fc.assert(
      fc.property(course, ({ plan, progress, t }) => {
        expect(all(sheetOf(reachAt(plan, progress, t)))).toEqual(slow(plan, progress, t));
      }),
      { numRuns: 300 },
    );
  });
  test("says so of as many students as fill several words of bits, whether all of a word see an item or some", () => {
    const plan = coursePlan();
    addSection(plan, "D1");
    addLayer(plan, "Banks", ["North"]);
    const ids = Array.from({ length: 101 }, (_, at) => `student ${at}`);
    for (const [at, id] of ids.entries()) addStudent(plan, id, ["D1"], at % 40 < 35 ? ["North"] : []);
    const dates = { opens: "2026-11-01T09:00", due: "2026-11-20T17:00" };
    for (const id of ["lab", "essay"])
      addItem(plan, id, {
        kind: "assignment",
        points: 20,
        dates,
        ...(id === "lab" ? {} : { audience: forOnly(group("North")) }),
      });
    addItem(plan, "exam", { kind: "quiz", points: 10, dates: { opens: "2026-12-01T09:00" } });
    const due = instant("2026-11-20T17:00:00Z");
    const progress: Progress = {
      ...noProgress,
      handIns: ids.flatMap((personId, at) =>
        at % 3 === 0
          ? [
              { id: `${personId} late`, personId, itemId: "lab", at: due + at * 1000 },
              { id: `${personId} soon`, personId, itemId: "lab", at: due - 1000 },
              { id: `${personId} in December`, personId, itemId: "essay", at: t0 + 1 },
            ]
          : [],
      ),
      marks: ids.flatMap((personId, at) =>
        at % 5 === 0
          ? [{ personId, itemId: "lab", points: at % 10 === 0 ? at % 20 : null, excused: at % 10 !== 0, at: due }]
          : [],
      ),
    };
    const sheet = sheetOf(reachAt(plan, progress, t0));
    expect(all(sheet)).toEqual(slow(plan, progress, t0));
    // By hand: of 101, 34 handed in and 21 are settled, 7 of them by both; the others miss the lab.
    const states = sheet.reach.students.map((id) => sheet.cell(plan.items.lab as Item, id)?.state);
    expect(states.filter((state) => state === "missing")).toHaveLength(101 - 34 - 21 + 7);
  });
  test("is missing what had been open to the student at any moment up to the due, and was not handed in", () => {
    fc.assert(
      fc.property(course, ({ plan, progress, t }) => {
        const sheet = sheetOf(reachAt(plan, progress, t));
        for (const item of sheet.columns.filter(takesHandIns))
          for (const personId of sheet.reach.students) {
            const state = sheet.cell(item, personId)?.state ?? "not theirs";
            if (!["missing", "waiting", "not yet open"].includes(state)) continue;
            const missing = isMissing({ plan, progress, t }, personId, item);
            expect([item.id, personId, state === "missing"]).toEqual([item.id, personId, missing]);
          }
      }),
      { numRuns: 300 },
    );
  });
  test("carried over given and taken marks it is the same as made anew", () => {
    const change = fc.record({
      itemId: fc.nat(8),
      who: fc.nat(5),
      group: fc.constantFrom(null, "North", "South"),
      points: fc.constantFrom(null, 0, 7.5),
    });
    fc.assert(
      fc.property(course, fc.array(change, { minLength: 1, maxLength: 4 }), ({ plan, progress, t }, changes) => {
        const reach = reachAt(plan, progress, t);
        const before = sheetOf(reach);
        all(before);
        const made = changes.map(({ itemId: at, who, group, points }): MarkChange => {
          const itemId = `item ${at}`;
          const personId = ["ada", "ben", "cas", "dee", "eli", "fay"][who] as string;
          const mark = points === null ? null : { personId, itemId, points, excused: false, at: t };
          return group === null ? { itemId, personId, mark } : { itemId, groupId: group, mark };
        });
        const after = withMarks(progress, made);
        const carried = sheetOf(reachWithMarks(reach, after, made), before);
        const plain: Progress = {
          marks: [...after.marks],
          handIns: [...after.handIns],
          openings: [...after.openings],
          groupMarks: [...after.groupMarks],
        };
        expect(all(carried)).toEqual(slow(plan, plain, t));
      }),
      { numRuns: 200 },
    );
  });
  test("counts of a column are of the students asked about", () => {
    const plan = coursePlan();
    for (const id of ["ada", "ben", "cas"]) addStudent(plan, id);
    const item = addItem(plan, "lab", { kind: "assignment", points: 10, dates: { due: "2026-11-20T17:00" } });
    const handIns = [{ id: "h", personId: "ben", itemId: "lab", at: instant("2026-11-21T09:00:00Z") }];
    const reach = reachAt(plan, { ...noProgress, handIns }, t0);
    expect(countStates(sheetOf(reach).column(item), reach.everyone)).toMatchObject({
      missing: 2,
      "handed in": 1,
      late: 1,
    });
  });
});

/** A filter asked of one student, sentence by sentence as section 7 has it. */
function naive(filter: Filter, sheet: Sheet, personId: string, then: number | null = null): boolean {
  const { plan, t, progress } = sheet.reach;
  const at = then ?? t;
  const isIn = (groupIds: string[], sectionIds: string[] = []) =>
    Object.values(plan.enrolments).some(
      (row) => row.personId === personId && holdsAt(row, at) && (then === null || row.role === "student"),
    ) &&
    (Object.values(plan.placements).some(
      (row) => row.personId === personId && groupIds.includes(row.groupId) && holdsAt(row, at),
    ) ||
      Object.values(plan.enrolments).some(
        (row) => row.personId === personId && sectionIds.includes(row.sectionId ?? "") && holdsAt(row, at),
      ));
  const named = (name: string | null) => sheet.columns.filter(({ title }) => name === null || title === name);
  switch (filter.kind) {
    case "all":
      return true;
    case "or":
      return filter.parts.some((part) => naive(part, sheet, personId, then));
    case "not":
      return !naive(filter.part, sheet, personId, then);
    case "asof":
      return naive({ kind: "and", parts: [filter] }, sheet, personId, then);
    case "and": {
      const asof = filter.parts.find((part) => part.kind === "asof");
      const terms = filter.parts.filter((part) => part !== asof);
      const hold = (moment: number | null) => terms.every((part) => naive(part, sheet, personId, moment));
      if (asof?.kind !== "asof") return hold(then);
      if (asof.at !== "handin")
        return hold(
          asof.at.includes("T")
            ? instantOf(asof.at, "Europe/Dublin")
            : instantOf(addDays(`${asof.at}T00:00`, 1), "Europe/Dublin") - 1,
        );
      const names = JSON.stringify(terms).match(/"item":"[^"]+"/g) ?? [];
      const among = names.length === 0 ? sheet.columns : names.flatMap((name) => named(name.slice(8, -1)));
      return progress.handIns.some(
        (row) => row.personId === personId && row.at <= t && among.some(({ id }) => id === row.itemId) && hold(row.at),
      );
    }
    case "is":
      if (filter.field === "group") return isIn([filter.value]);
      if (filter.field === "section") return isIn([], [filter.value]);
      if (filter.field === "name") return personId.includes(filter.value);
      return named(filter.item).some((item) => sheet.cell(item, personId)?.state === filter.value);
    case "compare": {
      const passes = (percent: number) =>
        filter.comparison === "<" ? percent < filter.value : percent >= filter.value;
      if (filter.field === "total") {
        const { percent } = sheet.total(personId);
        return percent !== null && passes(percent);
      }
      return named(filter.item).some((item) => {
        const mark = sheet.cell(item, personId)?.mark;
        return mark && !mark.excused && mark.points !== null && passes((mark.points / (item.points ?? 1)) * 100);
      });
    }
    case "flag":
      return named(filter.item).some((item) => (sheet.cell(item, personId)?.lateBy ?? 0) > 0);
  }
}

const item = fc.oneof(fc.constant(null), fc.constantFrom("item 1", "item 2", "item 5"));
const leaf: fc.Arbitrary<Filter> = fc.oneof(
  fc.record({
    kind: fc.constant("is" as const),
    field: fc.constant("group"),
    item: fc.constant(null),
    value: fc.constantFrom("North", "Upper", "Slow"),
  }),
  fc.record({
    kind: fc.constant("is" as const),
    field: fc.constant("section"),
    item: fc.constant(null),
    value: fc.constantFrom("D1", "D2"),
  }),
  fc.record({
    kind: fc.constant("is" as const),
    field: fc.constant("name"),
    item: fc.constant(null),
    value: fc.constantFrom("d", "be"),
  }),
  fc.record({
    kind: fc.constant("is" as const),
    field: fc.constant("status"),
    item,
    value: fc.constantFrom(...cellStates),
  }),
  fc.record({
    kind: fc.constant("compare" as const),
    field: fc.constantFrom("mark" as const, "total" as const),
    item,
    comparison: fc.constantFrom("<" as const, ">=" as const),
    value: fc.constantFrom(0, 50, 100),
  }),
  fc.record({
    kind: fc.constant("flag" as const),
    field: fc.constant("late" as const),
    item,
    value: fc.constant("yes"),
  }),
);
const asof: fc.Arbitrary<Filter> = fc.record({
  kind: fc.constant("asof" as const),
  at: fc.constantFrom("handin", "2026-11-25", "2026-11-24", "2026-11-25T10:00"),
});
const tree = fc.letrec<{ node: Filter }>((tie) => ({
  node: fc.oneof(
    { maxDepth: 4 },
    leaf,
    fc
      .tuple(fc.array(tie("node"), { minLength: 1, maxLength: 3 }), fc.option(asof))
      .map(([parts, at]): Filter => ({ kind: "and", parts: at ? [...parts, at] : parts })),
    fc.array(tie("node"), { minLength: 2, maxLength: 3 }).map((parts): Filter => ({ kind: "or", parts })),
    tie("node").map((part): Filter => ({ kind: "not", part })),
  ),
})).node;

test("a filter passes whom its sentences fit, one by one, on any course and as of any moment", () => {
  fc.assert(
    fc.property(course, tree, ({ plan, progress, t }, filter) => {
      const sheet = sheetOf(reachAt(plan, progress, t));
      expect([filter, matcher(filter, sheet).rows()]).toEqual([
        filter,
        sheet.reach.students.filter((personId) => naive(filter, sheet, personId)),
      ]);
    }),
    { numRuns: 500 },
  );
});
