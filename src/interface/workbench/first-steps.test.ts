import { expect, test } from "vitest";
import { addItem, addLayer, addSection, coursePlan } from "../../core/tests/fixture.ts";
import { firstSteps } from "./first-steps.ts";

test("a new course leads from station to station, each once what it needs is there, and stops when all are done", () => {
  const plan = coursePlan();
  const done = (isWorkedIn = false) =>
    firstSteps(plan, isWorkedIn).flatMap(({ station, isDone }) => (isDone ? [station] : []));
  expect(firstSteps(plan, false).map(({ station }) => station)).toEqual([
    "intake",
    "placement",
    "reach",
    "timing",
    "gradebook",
  ]);
  expect(done()).toEqual([]);
  addSection(plan, "D1");
  expect(done()).toEqual(["intake"]);
  addLayer(plan, "Sections", ["Day 1"]);
  expect(done()).toEqual(["intake", "placement"]);
  addItem(plan, "folder", { kind: "folder" });
  expect(done()).toEqual(["intake", "placement"]);
  addItem(plan, "lab", { kind: "assignment" });
  expect(done()).toEqual(["intake", "placement", "reach"]);
  addItem(plan, "report", { kind: "assignment", points: 20 });
  expect(done()).toEqual(["intake", "placement", "reach", "gradebook"]);
  expect(firstSteps(plan, true)).toEqual([]);
  addItem(plan, "dated", { dates: { due: "2026-12-01T17:00" } });
  expect(firstSteps(plan, false)).toEqual([]);
});
