/** What a draft changes for those who work on it. */
import { expect, test } from "vitest";
import { put } from "../plan/command.ts";
import type { Plan } from "../plan/types.ts";
import { addItem, addLayer, addStudent, coursePlan, group, t0 } from "../tests/fixture.ts";
import { itemsChanged } from "./under-way.ts";

function course(): Plan {
  const plan = coursePlan();
  addLayer(plan, "Banks", ["North"]);
  addStudent(plan, "ada", [], ["North"]);
  addItem(plan, "quiz", { kind: "quiz" });
  addItem(plan, "lab", { kind: "assignment" });
  return plan;
}

test("items that are otherwise or gone, those of changed overrides, and all where allowances or groups are otherwise", () => {
  const plan = course();
  expect(itemsChanged(plan, plan)).toEqual(new Set());
  const item = { ...(plan.items.quiz as Plan["items"][string]), title: "Other" };
  expect(itemsChanged(plan, put(plan, "items", [item]))).toEqual(new Set(["quiz"]));
  expect(itemsChanged(plan, put(plan, "items", [{ ...item, title: "quiz" }]))).toEqual(new Set());
  const { quiz: _, ...rest } = plan.items;
  expect(itemsChanged(plan, { ...plan, items: rest })).toEqual(new Set(["quiz"]));
  const override = { id: "o", itemId: "lab", target: group("North"), dates: { minutes: 5 } };
  const overridden = put(plan, "overrides", [override]);
  expect([itemsChanged(plan, overridden), itemsChanged(overridden, plan)]).toEqual([
    new Set(["lab"]),
    new Set(["lab"]),
  ]);
  const allowance = { id: "a", target: group("North"), minutesFactor: "2", extraDays: null, extraAttempts: null };
  expect(itemsChanged(plan, put(plan, "allowances", [allowance]))).toEqual(new Set(["quiz", "lab"]));
  const placed = { id: "p", groupId: "North", personId: "ada", since: t0, until: null, held: false };
  expect(itemsChanged(plan, put(plan, "placements", [placed]))).toEqual(new Set(["quiz", "lab"]));
});
