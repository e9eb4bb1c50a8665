import fc from "fast-check";
import { v7 } from "uuid";
import { describe, expect, test } from "vitest";
import { apply, type Command } from "../../commands.ts";
import { readTable, writeCsv } from "../../formats/text.ts";
import type { TextTable } from "../../formats/text-table.ts";
import { plainRows } from "../../formats/workbooks/out-table.ts";
import { readWorkbook } from "../../formats/workbooks/read.ts";
import { writeTable } from "../../formats/workbooks/write.ts";
import { isRefusal } from "../../plan/command.ts";
import type { DateFields, Plan } from "../../plan/types.ts";
import {
  addItem,
  addLayer,
  addSection,
  addStudent,
  coursePlan,
  group,
  person,
  section,
  t0,
} from "../../tests/fixture.ts";
import { type DatesFile, datesCommands, datesHeader, datesRows, readDatesFile } from "./dates-file.ts";

const anchor = { meeting: 4, edge: "end" as const, days: 2, time: "23:59", fallback: "2026-12-01T17:00" };
function course(): Plan {
  const plan = coursePlan();
  addSection(plan, "D1");
  addLayer(plan, "Banks", ["North", "South"]);
  addStudent(plan, "ada", ["D1"], ["North"]);
  addItem(plan, "lab", { title: 'Lab "one", part 1', dates: { due: "2026-11-10T17:00", attempts: 2 } });
  addItem(plan, "quiz", { kind: "quiz", dates: { due: anchor, minutes: "none", accessWord: "otter" } });
  addItem(plan, "page", { kind: "page" });
  plan.overrides.n = { id: "n", itemId: "lab", target: group("North"), dates: { due: "none" } };
  plan.overrides.s = { id: "s", itemId: "quiz", target: section("D1"), dates: { minutes: 30 } };
  plan.overrides.a = { id: "a", itemId: "lab", target: person("ada"), dates: { due: "2026-11-20T09:00" } };
  return plan;
}
const csvOf = (plan: Plan) => writeCsv(datesHeader, plainRows(datesRows(plan)));
const read = (plan: Plan, csv: string): DatesFile => {
  const file = readDatesFile(plan, [readTable("dates.csv", csv) as TextTable], "2026-11-25");
  if ("wrong" in file) throw new Error(file.wrong);
  return file;
};
const taken = (plan: Plan, file: DatesFile): Plan =>
  datesCommands(file.rows).reduce((next, command) => {
    const after = apply(next, { ...command, id: v7() } as Command, { now: t0 });
    if (isRefusal(after)) throw new Error(after.sentence);
    return after;
  }, plan);
const verdicts = ({ rows }: DatesFile) => rows.map(({ verdict, wrong }) => wrong || verdict);

describe("the table of dates", () => {
  test("written and read back changes nothing, as CSV and as a workbook", async () => {
    const plan = course();
    const rows = datesRows(plan);
    expect(rows.map((row) => row.slice(2, 5).join("|"))).toEqual([
      "everyone||",
      "group|North|North",
      "student|Test, ada|00ada",
      "everyone||",
      "section|D1|D1",
      "everyone||",
    ]);
    expect(new Set(verdicts(read(plan, csvOf(plan))))).toEqual(new Set(["same"]));
    for (const format of ["xlsx", "ods"] as const) {
      const bytes = await writeTable(format, { sheet: "Dates", header: datesHeader, rows });
      const sheets = (await readWorkbook(`dates.${format}`, bytes)) as TextTable[];
      const file = readDatesFile(plan, sheets, "2026-11-25") as DatesFile;
      expect(new Set(verdicts(file))).toEqual(new Set(["same"]));
    }
  });
  test("what somebody edited is told cell by cell, drafted, and then the same", () => {
    const plan = course();
    const csv = csvOf(plan)
      .replace("2026-11-10 17:00", "12 Nov 9:00")
      .replace("m4 end +2d 23:59 else 2026-12-01 17:00", "m5 start")
      .replace("otter", "heron");
    const file = read(plan, csv);
    expect(
      file.rows
        .filter(({ verdict }) => verdict === "changed")
        .map(({ item, changes }) => [item?.id, changes.map(({ field }) => field)]),
    ).toEqual([
      ["lab", ["due"]],
      ["quiz", ["due", "accessWord"]],
    ]);
    const after = taken(plan, file);
    expect(after.items.lab?.dates.due).toBe("2026-11-12T09:00");
    expect(after.items.quiz?.dates).toEqual({
      due: { ...anchor, meeting: 5, edge: "start", days: 0, time: null, fallback: null },
      minutes: "none",
      accessWord: "heron",
    });
    expect(new Set(verdicts(read(after, csv)))).toEqual(new Set(["same"]));
  });
  test("an emptied cell unsets, a row more sets for somebody new, a row that is left out stays", () => {
    const plan = course();
    const csv = writeCsv(
      ["Item", "For", "Whom", "Whom id", "Due"],
      [
        ["quiz", "everyone", "", "", ""],
        ["quiz", "group", "south", "", "fri 5pm"],
      ],
    );
    const file = read(plan, csv);
    expect([verdicts(file), file.unlisted]).toEqual([["changed", "changed"], 3]);
    const after = taken(plan, file);
    expect(after.items.quiz?.dates.due).toBeUndefined();
    expect(Object.values(after.overrides).find(({ target }) => target.id === "South")?.dates).toEqual({
      due: "2026-11-27T17:00",
    });
    expect(Object.keys(after.overrides)).toHaveLength(4);
  });
  test("every row that cannot be used says what is wrong with which cell, and changes nothing", () => {
    const plan = course();
    const rows = [
      ["lab", "", "everyone", "", "", "someday"],
      ["gone", "", "everyone", "", "", ""],
      ["lab", "", "everybody", "", "", ""],
      ["lab", "", "group", "East", "", ""],
      ["lab", "", "student", "", "99", ""],
      ["quiz", "", "everyone", "", "", "m4 end"],
      ["quiz", "", "everyone", "", "", "m5 end"],
    ];
    const file = read(plan, writeCsv(["Item id", "Item", "For", "Whom", "Whom id", "Due"], rows));
    expect(verdicts(file)).toEqual([
      expect.stringContaining('Due: "someday" is not understood.'),
      "there is no item gone",
      '"everybody" is not everyone, group, section, set or student',
      "there is no group East",
      "there is no student with the id 99",
      "changed",
      "it is in the file twice; the first stands",
    ]);
    expect(datesCommands(file.rows)).toHaveLength(1);
  });
  test("a table without its columns says which it needs", () => {
    const wrong = (header: string) =>
      readDatesFile(course(), [readTable("x.csv", `${header}\na,b\n`) as TextTable], "2026-11-25");
    expect(wrong("Name,Due")).toEqual({ wrong: expect.stringContaining('"Item id" or "Item"') });
    expect(wrong("Item,Name")).toEqual({ wrong: expect.stringContaining('"Opens", "Due"') });
  });
  test("any dates come back as they went", () => {
    const wall = fc
      .integer({ min: 0, max: 130_000 })
      .map((minute) => new Date(Date.UTC(2026, 8, 28, 0, minute)).toISOString().slice(0, 16));
    const moment = fc.oneof(wall, fc.constant("none" as const), fc.constant(anchor));
    const dates: fc.Arbitrary<DateFields> = fc.record(
      {
        opens: moment,
        due: moment,
        closes: moment,
        attempts: fc.oneof(fc.integer({ min: 1, max: 1000 }), fc.constant("none" as const)),
        minutes: fc.integer({ min: 1, max: 100_000 }),
        // Space around a word is not part of it, and a word that reads as none is none.
        accessWord: fc
          .string({ minLength: 1, maxLength: 20 })
          .map((one) => `w${one.replaceAll(/\s/g, "")}`.normalize("NFC")),
      },
      { requiredKeys: [] },
    );
    fc.assert(
      fc.property(dates, dates, (base, own) => {
        const plan = course();
        addItem(plan, "lab", { dates: base });
        if (Object.keys(own).length > 0)
          plan.overrides.n = { id: "n", itemId: "lab", target: group("North"), dates: own };
        expect(new Set(verdicts(read(plan, csvOf(plan))))).toEqual(new Set(["same"]));
      }),
      { numRuns: 200 },
    );
  });
});
