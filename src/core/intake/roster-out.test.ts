import { describe, expect, test } from "vitest";
import { writeOneRoster } from "../formats/oneroster/write.ts";
import { readFile } from "../formats/read.ts";
import { readTable, writeCsv } from "../formats/text.ts";
import type { TextTable } from "../formats/text-table.ts";
import { readWorkbook } from "../formats/workbooks/read.ts";
import { writeTable } from "../formats/workbooks/write.ts";
import type { Plan } from "../plan/types.ts";
import { addLayer, addSection, addStudent, coursePlan, t0 } from "../tests/fixture.ts";
import { matchColumns } from "./columns.ts";
import { reconcile } from "./reconcile.ts";
import { listPeople, rosterLines, rosterTable } from "./roster-out.ts";
import { rosterRows } from "./rows.ts";
import { sectionWeeks, studentsBySection } from "./section-history.ts";
import { type ReconcileOptions, wholeRoster } from "./verdict.ts";

const options: ReconcileOptions = { ...wholeRoster, now: t0 };
/** ada and ben in D1, cas in EV; a layer "Sections" that follows. */
function course(): Plan {
  const plan = coursePlan();
  for (const code of ["D1", "EV"]) addSection(plan, code);
  addLayer(plan, "sections", ["gD1", "gEV"], {
    following: ["D1", "EV"].map((code) => ({ sectionIds: [code], attribute: null, groupId: `g${code}` })),
  });
  addStudent(plan, "ada", ["D1"], ["gD1"]);
  addStudent(plan, "ben", ["D1"], ["gD1"]);
  addStudent(plan, "cas", ["EV"], ["gEV"]);
  return plan;
}
describe("rosters out", () => {
  const everyone = { text: "", sectionId: null, role: "everyone", left: false } as const;
  const wild = () => {
    const plan = course();
    Object.assign(plan.people.ada ?? {}, {
      givenName: "=Ada",
      familyName: 'O"Neill; Jr',
      attributes: { Year: "007", Note: "-1" },
    });
    Object.assign(plan.people.ben ?? {}, { givenName: "Zoë\nMarie", attributes: { Year: "2" } });
    const enrolment = plan.enrolments["cas in EV"];
    if (enrolment) enrolment.role = "instructor";
    return plan;
  };
  const comesBackSame = (plan: Plan, table: TextTable) => {
    const judged = reconcile(plan, rosterRows(table, matchColumns(table, ["D1", "EV"]), "", ["Year", "Note"]), options);
    expect(judged.rows.map(({ verdict, says }) => `${verdict} ${says}`.trim())).toEqual(judged.rows.map(() => "same"));
    expect(judged.missing).toEqual([]);
  };
  test("CSV, workbook and OneRoster archive come in again without a difference", async () => {
    const plan = wild();
    const listed = listPeople(plan, everyone, t0);
    const { header, rows } = rosterTable(plan, listed);
    expect(rows).toHaveLength(3);
    comesBackSame(plan, readTable("r.csv", writeCsv(header, rows)) as TextTable);
    comesBackSame(
      plan,
      (
        (await readWorkbook(
          "r.xlsx",
          await writeTable("xlsx", { sheet: "Roster", header: header, rows }),
        )) as TextTable[]
      )[0] as TextTable,
    );
    const archive = await readFile({
      name: "r.zip",
      content: writeOneRoster(plan.course, rosterLines(plan, listed), t0),
    });
    comesBackSame(plan, (archive as { tables: TextTable[] }).tables[0] as TextTable);
  });
  test("a filter's words are all looked for, in names, ids, sections and attributes", () => {
    const ids = (filter: Partial<Parameters<typeof listPeople>[1]>) =>
      listPeople(wild(), { ...everyone, ...filter }, t0).map(({ person }) => person.id);
    expect(ids({ text: "neill 007" })).toEqual(["ada"]);
    expect(ids({ text: "d1" })).toEqual(["ada", "ben"]);
    expect(ids({ role: "staff" })).toEqual(["cas"]);
    expect(ids({ sectionId: "EV", role: "student" })).toEqual([]);
  });
});

test("a section's weeks count arrivals, leavers and size; the first week's are the beginning, not arrivals of before", () => {
  const plan = course();
  const [ada, ben] = [plan.enrolments["ada in D1"], plan.enrolments["ben in D1"]];
  if (ada) ada.since = Date.parse("2026-10-07T10:00:00Z");
  if (ben) ben.until = Date.parse("2026-10-14T10:00:00Z");
  const weeks = sectionWeeks(plan, studentsBySection(plan).get("D1") ?? [], Date.parse("2026-10-21T10:00:00Z"));
  expect(weeks.map(({ size, came, left }) => [size, came, left])).toEqual([
    [1, 0, 0],
    [2, 1, 0],
    [1, 0, 1],
    [1, 0, 0],
  ]);
});
