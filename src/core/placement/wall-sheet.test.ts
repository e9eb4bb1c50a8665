import { expect, test } from "vitest";
import { addLayer, addSection, addStudent, coursePlan, t0 } from "../tests/fixture.ts";
import { wallSheets } from "./wall-sheet.ts";

test("a sheet a section, names under each group that it has, and who is in none", () => {
  const plan = coursePlan();
  for (const code of ["EV", "D1"]) addSection(plan, code);
  addLayer(plan, "Teams", ["Alder", "Birch"]);
  addStudent(plan, "cy", ["EV"], ["Birch"]);
  addStudent(plan, "ben", ["D1"], ["Alder"]);
  addStudent(plan, "ada", ["D1"], ["Alder"]);
  addStudent(plan, "di", ["D1"]);
  addStudent(plan, "eve");
  const sheets = wallSheets(plan, "Teams", t0);
  expect(
    sheets?.map(({ title, groups, without }) => [title, groups.map(({ label, names }) => [label, names]), without]),
  ).toEqual([
    ["In no section", [], ["eve Test"]],
    ["D1", [["Alder", ["ada Test", "ben Test"]]], ["di Test"]],
    ["EV", [["Birch", ["cy Test"]]], []],
  ]);
});

test("a private layer never goes on the wall, nor one put away", () => {
  const plan = coursePlan();
  addLayer(plan, "Support", ["Red"], { private: true });
  addLayer(plan, "Old", ["Blue"], { archivedAt: t0 });
  expect([wallSheets(plan, "Support", t0), wallSheets(plan, "Old", t0), wallSheets(plan, "none", t0)]).toEqual([
    null,
    null,
    null,
  ]);
});
