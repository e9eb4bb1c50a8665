/** How a student stands at a glance, held to the cells of the gradebook. */
import { expect, test } from "vitest";
import { noProgress, type Progress } from "../plan/progress.ts";
import { reachAt } from "../reach/reach.ts";
import { addItem, group, person, section, t0 } from "../tests/fixture.ts";
import { course, due, handIn, hour, mark } from "../tests/marked-course.ts";
import { cellsOf } from "./cells.ts";
import { overviewOf } from "./overview.ts";

function overview(personId: string, progress: Partial<Progress> = {}, plan = course()) {
  const reach = reachAt(plan, { ...noProgress, ...progress }, t0);
  const found = overviewOf(reach, cellsOf(reach), personId);
  return (
    found && {
      with: [...found.sections, ...found.groups].map(({ id }) => id),
      allowances: found.allowances.map(({ id }) => id),
      dues: found.dues.map(({ item, due: at }) => [item.id, at]),
      handedIn: found.handedIn.map(({ id }) => id),
      missing: found.missing.map(({ id }) => id),
    }
  );
}

test("what is overdue is missing until it comes or is excused; what is not yet open is neither", () => {
  expect(overview("ada")).toMatchObject({ with: ["D1", "North"], missing: ["lab"], handedIn: [], dues: [] });
  expect(overview("ada", { handIns: [handIn("ada", due + hour)] })).toMatchObject({ missing: [], handedIn: ["lab"] });
  expect(overview("ada", { marks: [mark("ada", null, true)] })).toMatchObject({ missing: [], handedIn: [] });
  expect(overview("nobody")).toBeNull();
});
test("the soonest comes first, at the moment that holds for them, and nothing that is due no more", () => {
  const plan = course();
  const at = (day: number) => ({ dates: { due: `2026-11-${day}T17:00` } });
  addItem(plan, "far", { kind: "assignment", ...at(29) });
  addItem(plan, "near", { kind: "assignment", ...at(27) });
  addItem(plan, "read", { kind: "page", ...at(27) });
  plan.overrides.o = { id: "o", itemId: "near", target: person("ada"), dates: { due: "2026-11-30T17:00" } };
  const named = (id: string) => overview(id, {}, plan)?.dues.map(([itemId]) => itemId);
  expect(named("ada")).toEqual(["far", "near"]);
  expect(named("ben")).toEqual(["near", "far"]);
  expect(overview("ada", {}, plan)?.dues[1]?.[1]).toBe(Date.parse("2026-11-30T17:00Z"));
});
test("allowances are their own and those of what they are in", () => {
  const plan = course();
  const days = { minutesFactor: null, extraDays: 1, extraAttempts: null };
  const targets = { own: person("ada"), group: group("North"), section: section("D1"), other: group("South Bank") };
  for (const [id, target] of Object.entries(targets)) plan.allowances[id] = { id, target, ...days };
  expect(overview("ada", {}, plan)?.allowances).toEqual(["own", "group", "section"]);
  expect(overview("cas", {}, plan)?.allowances).toEqual([]);
});
