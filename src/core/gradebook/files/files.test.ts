/** Marks typed, pasted and read from files: every verdict, and round trips without a difference. Source: semantics.md section 7. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { openArchive } from "../../formats/archive.ts";
import { readTable, writeCsv } from "../../formats/text.ts";
import type { TextTable } from "../../formats/text-table.ts";
import { plainRows } from "../../formats/workbooks/out-table.ts";
import { type Mark, noProgress } from "../../plan/progress.ts";
import { reachAt } from "../../reach/reach.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, forOnly, group, t0 } from "../../tests/fixture.ts";
import { countVerdicts, judgeBlock, judgeMark, readBlock, readMark } from "../entry.ts";
import { type Sheet, sheetOf } from "../sheet.ts";
import { looksLikeGradebook, readGradebookArchive, writeGradebookArchive } from "./oneroster.ts";
import { judgeEntries, marksTable, type ReadMarks, readMarksTables } from "./table.ts";

const own = (personId: string, itemId: string, points: number | null, excused = false): Mark => ({
  personId,
  itemId,
  points,
  excused,
  at: t0 - 1000,
});
function course(marks: Mark[] = [own("ada", "lab", 14.5), own("ben", "lab", null, true)]): Sheet {
  const plan = coursePlan();
  addLayer(plan, "Banks", ["North", "South"]);
  for (const id of ["ada", "ben", "cas"]) addStudent(plan, id, [], [id === "cas" ? "South" : "North"]);
  addItem(plan, "lab", { title: "Lab 1", kind: "assignment", points: 20 });
  addItem(plan, "again", { title: "lab 1", kind: "quiz", points: 10 });
  addItem(plan, "north", {
    title: "North only",
    kind: "assignment",
    points: 5,
    audience: forOnly(group("North")),
    split: { layerId: "Banks", between: "sealed" },
  });
  const groupMarks = [{ groupId: "North", itemId: "north", points: 4, excused: false, at: t0 - 500 }];
  return sheetOf(reachAt(plan, { ...noProgress, marks, groupMarks }, t0));
}
const everyone = new Set(["ada", "ben", "cas"]);

describe("what is typed", () => {
  test.each([
    ["14,5", { mark: { points: 14.5, excused: false } }],
    [" .5 ", { mark: { points: 0.5, excused: false } }],
    ["X", { mark: { points: null, excused: true } }],
    ["none", { mark: null }],
    ["", null],
    ["0", { mark: { points: 0, excused: false } }],
  ])("%j", (text, wanted) => {
    expect(readMark(text)).toEqual(wanted);
  });
  test.each(["-1", "fourteen", "1e9", "1.2345", "1000001", "3 4", "12%", "Infinity", "."])(
    "%j is not a mark",
    (text) => {
      expect(readMark(text)).toHaveProperty("wrong");
    },
  );
});

describe("a block pasted", () => {
  test("each cell has its verdict, and what reaches past the grid is told", () => {
    const sheet = course();
    const judged = judgeBlock(
      sheet,
      readBlock("14.5\t3\t9\r\nx\tmany\t\r\n\t\t2\n7\n"),
      ["ada", "ben", "cas"],
      sheet.columns,
      {
        row: 0,
        column: 0,
      },
    );
    expect(judged.map(({ verdict }) => verdict)).toEqual([
      "same",
      "changed",
      "more than there are",
      "same",
      "not a mark",
      "same",
      "same",
      "same",
      "not theirs",
      "unknown student",
    ]);
    expect(judged[4]?.says).toContain('"many" is not a mark');
    expect(countVerdicts(judged)).toMatchObject({ changed: 1, "more than there are": 1, same: 5, "not theirs": 1 });
    expect(judgeBlock(sheet, [["1", "2"]], ["ada"], sheet.columns, { row: 0, column: 2 })[1]?.verdict).toBe(
      "unknown column",
    );
  });
  test("a shared mark is not made one's own by the same value, and taking it away takes nothing", () => {
    const sheet = course();
    const [, , north] = sheet.columns;
    const judge = (text: string) => judgeMark(sheet, north as never, "ada", text, { where: "" });
    expect(judge("4").verdict).toBe("same");
    expect(judge("none").verdict).toBe("same");
    expect(judge("5")).toMatchObject({ verdict: "changed", before: null, after: { points: 5 } });
  });
});

describe("tables", () => {
  test("a row a student, two columns of one title told apart, the total last", () => {
    expect(marksTable(course(), ["ada", "cas"], course().columns)).toEqual({
      header: ["id", "name", "section", "Lab 1", "lab 1 #2", "North only", "Total"],
      rows: [
        ["00ada", "Test, ada", "", 14.5, "", 4, 74],
        ["00cas", "Test, cas", "", "", "", "", ""],
      ],
    });
  });
  test("every kind of bad cell has its verdict and its place", () => {
    const sheet = course();
    const text = "Name,ID,Lab 1,Notes\nx,00ada,15,a\ny,00ben,lots,b\nz,00cas,3,c\nz,00cas,4,c\nw,99,1,d\nv,00Ada,,e\n";
    const read = readMarksTables([readTable("marks.csv", text) as never], sheet.columns) as ReadMarks;
    expect(read.ignored).toEqual(["Name", "Notes"]);
    const judged = judgeEntries(sheet, read.entries, new Set(["ada", "ben", "cas"]));
    expect(judged.map(({ where, verdict }) => [where, verdict])).toEqual([
      ["line 2", "changed"],
      ["line 3", "not a mark"],
      ["line 4", "changed"],
      ["line 5", "twice"],
      ["line 6", "unknown student"],
      ["line 7", "same"],
    ]);
    expect(judged[0]?.says).toBe("14.5 becomes 15");
    expect(judgeEntries(sheet, read.entries, new Set(["ada"]))[2]?.verdict).toBe("outside scope");
  });
  test("per cent are of the points that there are, and a comma is what the file's other numbers make it", () => {
    const sheet = course();
    const judged = (text: string) => {
      const read = readMarksTables([readTable("marks.csv", text) as never], sheet.columns) as ReadMarks;
      return judgeEntries(sheet, read.entries, everyone).map(
        ({ verdict, after, says }) => after?.points ?? says ?? verdict,
      );
    };
    expect(judged("id;Lab 1\n00ada;85%\n00cas;12,5 %\n")).toEqual([17, 2.5]);
    expect(judged("id;Lab 1\n00ada;1,000\n00cas;2,5\n")).toEqual([1, 2.5]);
    expect(judged("id;Lab 1\n00ada;1,000\n00cas;2.5\n")).toEqual([1000, 2.5]);
    const sheetOnly = readMarksTables(
      [readTable("marks.csv", "id;Lab 1\n00ben;1,000\n") as never],
      sheet.columns,
    ) as ReadMarks;
    expect(judgeEntries(sheet, sheetOnly.entries, everyone)[0]).toMatchObject({
      verdict: "not a mark",
      says: '"1,000" may be 1.000 or 1000. Write it without the comma.',
    });
    // Whoever reads the file may know, and say so.
    const said = (sign: "." | ",") => judgeEntries(sheet, sheetOnly.entries, everyone, sign)[0]?.after?.points;
    expect([said(","), said(".")]).toEqual([1, 1000]);
  });
  test("every sheet that holds marks is read, and the others are named", () => {
    const sheet = course();
    const table = (name: string, rows: string) => ({ ...(readTable("book.xlsx", rows) as TextTable), sheet: name });
    const read = readMarksTables(
      [
        table("People", "id;phone\n00ada;1\n"),
        table("One", "id;Lab 1\n00ada;15\n"),
        table("Two", "id;North only\n00ada;3\n"),
      ],
      sheet.columns,
    ) as ReadMarks;
    expect(judgeEntries(sheet, read.entries, everyone).map(({ where, after }) => [where, after?.points])).toEqual([
      ["One, line 2", 15],
      ["Two, line 2", 3],
    ]);
    expect(read.notes).toEqual(["Not read, since no marks stand there: the sheet People."]);
  });
  test("without a column that names students nothing is read, and it says what is wanted", () => {
    expect(
      readMarksTables([{ name: "m.csv", header: ["Lab 1"], rows: [["3"]], lines: [2] }], course().columns),
    ).toMatchObject({
      unreadable: true,
      sentence: expect.stringContaining("id, username or email"),
    });
  });
  const marks = fc.array(
    fc.record({
      personId: fc.constantFrom("ada", "ben", "cas"),
      itemId: fc.constantFrom("lab", "again", "north"),
      points: fc.constantFrom(null, 0, 0.125, 7, 100),
    }),
    { maxLength: 8 },
  );
  test("out and in again nothing differs, as a table and as an archive", () => {
    fc.assert(
      fc.property(marks, (drawn) => {
        const rows = new Map(drawn.map((one) => [one.personId + one.itemId, one]));
        const sheet = course(
          [...rows.values()].map((one) => own(one.personId, one.itemId, one.points, one.points === null)),
        );
        const { header, rows: lines } = marksTable(sheet, sheet.reach.students, sheet.columns);
        const table = readTable("out.csv", writeCsv(header, plainRows(lines)));
        const archive = openArchive("out.zip", writeGradebookArchive(sheet, sheet.reach.students, sheet.columns, t0));
        expect(looksLikeGradebook(archive as never)).toBe(true);
        for (const read of [
          readMarksTables([table as never], sheet.columns),
          readGradebookArchive("out.zip", archive as never),
        ])
          if ("entries" in read)
            for (const judged of judgeEntries(sheet, read.entries, everyone)) expect(judged.verdict).toBe("same");
          else expect(read.sentence).toMatch(/no rows under it/);
      }),
      { numRuns: 60 },
    );
  });
  test("an archive has the classes of the roster's, a grading period, days as they are in the course, and says what it lacks", () => {
    const plan = structuredClone(course().reach.plan);
    addSection(plan, "D1");
    addStudent(plan, "dee", ["D1"]);
    addItem(plan, "late", { kind: "assignment", points: 5, dates: { due: "2026-11-20T00:30" } });
    plan.course.timeZone = "Pacific/Auckland";
    const anew = sheetOf(reachAt(plan, noProgress, t0));
    const files = openArchive("o.zip", writeGradebookArchive(anew, ["dee", "ada"], anew.columns, t0)) as Record<
      string,
      Uint8Array
    >;
    const rows = (name: string) => new TextDecoder().decode(files[name]).trimEnd().split("\r\n");
    const late = rows("lineItems.csv").filter((line) => line.startsWith("late/"));
    expect(late.map((line) => line.split(",").filter((_, at) => [0, 6, 7, 9].includes(at)))).toEqual([
      ["late/D1", "2026-11-20", "D1", "period-course"],
      [`late/${plan.course.id}`, "2026-11-20", plan.course.id, "period-course"],
    ]);
    expect(rows("academicSessions.csv").map((line) => line.split(",")[4])).toEqual(["type", "term", "gradingPeriod"]);
    expect(rows("manifest.csv")).toEqual(
      expect.arrayContaining(["file.lineItems,bulk", "file.users,absent", "file.classes,absent"]),
    );
  });
  test("an archive of another system is matched by titles, exempt excuses, and a result taken back goes", () => {
    const sheet = course();
    const made = openArchive("o.zip", writeGradebookArchive(sheet, ["ada", "ben"], sheet.columns, t0)) as Record<
      string,
      Uint8Array
    >;
    const text = (name: string) => new TextDecoder().decode(made[name]);
    const files = {
      "lineItems.csv": new TextEncoder().encode(text("lineItems.csv").replace(/^lab\/[^,]*,/m, "theirs,")),
      "results.csv": new TextEncoder().encode(
        "sourcedId,status,lineItemSourcedId,studentSourcedId,scoreStatus,score\r\n" +
          "1,active,theirs,00cas,exempt,\r\n2,tobedeleted,theirs,00ada,fully graded,14.5\r\n3,active,nothing,00ada,,1\r\n",
      ),
    };
    const read = readGradebookArchive("o.zip", files) as ReadMarks;
    expect(judgeEntries(sheet, read.entries, everyone).map(({ verdict, after }) => [verdict, after])).toEqual([
      ["changed", { points: null, excused: true }],
      ["changed", null],
      ["unknown column", null],
    ]);
  });
});
