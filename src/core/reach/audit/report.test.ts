import { expect, test } from "vitest";
import { noProgress } from "../../plan/progress.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, forOnly, group, t0 } from "../../tests/fixture.ts";
import { audit } from "./audit.ts";
import { reportCsv, reportOf } from "./report.ts";

test("the report holds date, revision, totals and each finding with whom it touches; its CSV runs nothing", () => {
  const plan = coursePlan();
  addSection(plan, "D1");
  addLayer(plan, "Banks", ["North", "South"], { following: [] });
  addStudent(plan, "ada", ["D1"], ["North"]);
  addStudent(plan, "ben", ["D1"], ["South"]);
  addItem(plan, "door", { kind: "folder", seals: false, audience: forOnly(group("North")) });
  addItem(plan, "page", { title: "=SUM(A1)", parentId: "door" });
  plan.entrances.e = { id: "e", itemId: "page", folderId: null, position: 9 };
  const found = audit(plan, noProgress, t0);
  const report = reportOf(plan, found, { revision: 7, t: t0, students: 2 });
  expect(report).toMatchObject({
    course: "WSH 240 Watershed Field Methods",
    revision: 7,
    made: "2026-11-25 10:00",
    students: 2,
    items: 2,
    sightlines: { layer: "Banks", pairs: 1, possible: 1, surfaces: [{ name: "the class list", pairs: 1, alone: 1 }] },
  });
  expect(report.totals.find(({ kind }) => kind === "leak")).toEqual({
    kind: "leak",
    name: "Leak",
    open: 1,
    accepted: 0,
  });
  const leak = report.findings.find(({ kind }) => kind === "leak");
  expect(leak).toMatchObject({ students: [{ id: "00ben", name: "Test, ben" }], accepted: null });
  const [head, first] = reportCsv(report).split("\r\n");
  expect(head).toBe("Finding,What,Says,Why,Since,State,Students,Who");
  // A title that a spreadsheet would run as a formula is made plain.
  expect(first).toContain("Leak,'=SUM(A1),");
  expect(first).toContain(",open,1,");

  const accepted = { ...plan, acceptances: {} as typeof plan.acceptances };
  const finding = found.findings.find(({ kind }) => kind === "leak");
  accepted.acceptances.a = {
    id: "a",
    finding: finding?.key ?? "",
    state: finding?.state ?? "",
    reason: "Wanted",
    at: t0,
  };
  const after = reportOf(accepted, audit(accepted, noProgress, t0), { revision: 8, t: t0, students: 2 });
  expect(after.totals.find(({ kind }) => kind === "leak")).toMatchObject({ open: 0, accepted: 1 });
  expect(reportCsv(after)).toContain("accepted: Wanted");
});
