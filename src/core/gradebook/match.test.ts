/** Each field of a filter, and the moment that it is asked of. Source: semantics.md section 7. */
import { describe, expect, test } from "vitest";
import { noProgress, type Progress } from "../plan/progress.ts";
import { reachAt } from "../reach/reach.ts";
import { addLayer, instant, t0 } from "../tests/fixture.ts";
import { due, handIn, mark, course as marked } from "../tests/marked-course.ts";
import { isMistake, parseFilter } from "./filter.ts";
import { matcher } from "./match.ts";
import { sheetOf } from "./sheet.ts";

/** Ada is held in North since 20 November, and was in South Bank before; a second layer need not be of everyone. */
function course() {
  const plan = marked();
  addLayer(plan, "Pilots", ["Trial"]);
  Object.assign(plan.layers.Pilots as object, { rule: "at most one" });
  const moved = instant("2026-11-20T00:00:00Z");
  for (const row of Object.values(plan.placements))
    if (row.personId === "ada") Object.assign(row, { since: moved, held: true });
  const row = { personId: "ada", since: 0, until: moved, held: false };
  plan.placements.was = { id: "was", groupId: "South Bank", ...row };
  plan.placements.trial = { id: "trial", groupId: "Trial", personId: "cas", since: 0, until: null, held: true };
  plan.sets.halves = { id: "halves", name: "Halves", groupIds: ["North", "Trial"] };
  return plan;
}
function found(text: string, progress: Partial<Progress> = {}): string[] {
  const sheet = sheetOf(reachAt(course(), { ...noProgress, ...progress }, t0));
  const filter = parseFilter(text);
  if (isMistake(filter)) throw new Error(filter.says);
  const { matches, rows, bits } = matcher(filter, sheet);
  // All three ways of asking say the same; whoever is not in the course is not found.
  expect(sheet.reach.students.filter(matches)).toEqual(rows());
  expect(bits.length).toBe(sheet.reach.sets.everyone.length);
  expect(matches("nobody")).toBe(false);
  return rows();
}

describe("a filter", () => {
  test.each([
    ["set:halves", ["ada", "cas"]],
    ["set:Halves not layer:Pilots", ["ada"]],
    ["layer:pilots", ["cas"]],
    ["layer:banks", ["ada", "ben"]],
    ["group:trial", ["cas"]],
    ["held", ["ada", "cas"]],
    ["held:no", ["ben"]],
    ["held:banks", ["ada"]],
    ["held:Pilots", ["cas"]],
    // Without a name: of layers that everyone needs one group of.
    ["unplaced", ["cas"]],
    ["unplaced:pilots", ["ada", "ben"]],
    ["unplaced:Banks", ["cas"]],
    ["unplaced:no", ["ada", "ben"]],
    ["ada or cas", ["ada", "cas"]],
    ["not (ada or cas)", ["ben"]],
    ["test", ["ada", "ben", "cas"]],
    ["year:2", ["ada"]],
  ] as [string, string[]][])("%s", (text, wanted) => {
    expect(found(text)).toEqual(wanted);
  });
  test.each([
    ["asof:2026-11-19 group:North", []],
    ['asof:2026-11-19 group:"South Bank"', ["ada", "ben"]],
    // The day's end counts.
    ["asof:2026-11-20 group:North", ["ada"]],
    ['asof:"2026-11-20T00:00" group:North', ["ada"]],
    ['asof:"2026-11-19T23:59" group:North', []],
    ["asof:2026-11-19 held:banks", []],
    ["asof:2026-11-19 unplaced", ["cas"]],
    ["asof:2026-11-19", ["ada", "ben", "cas"]],
    ["ben or (asof:2026-11-19 group:North)", ["ben"]],
    ["not (asof:2026-11-19 group:North)", ["ada", "ben", "cas"]],
  ] as [string, string[]][])("%s", (text, wanted) => {
    expect(found(text)).toEqual(wanted);
  });
  test("at a hand-in it is asked of each hand-in of the columns named, and of nobody who handed nothing in", () => {
    const progress = { handIns: [handIn("ada", instant("2026-11-19T12:00:00Z")), handIn("ben", due, "later")] };
    expect(found('asof:handin group:"South Bank"', progress)).toEqual(["ada", "ben"]);
    expect(found("asof:handin group:North", progress)).toEqual([]);
    expect(found('asof:handin group:"South Bank" status@Later:"handed in"', progress)).toEqual(["ben"]);
    expect(found('asof:handin (group:"South Bank" (late@"Lab 1" or not late@"Lab 1"))', progress)).toEqual(["ada"]);
    expect(found("asof:handin", progress)).toEqual(["ada", "ben"]);
  });
  test("a mark is compared in percent of its column, a total with all that counts", () => {
    const progress = { marks: [mark("ada", 10), mark("ben", 20), mark("ada", 5, false, "talk")] };
    expect(found('mark@"Lab 1"=50', progress)).toEqual(["ada"]);
    expect(found('mark@"Lab 1">50', progress)).toEqual(["ben"]);
    expect(found('mark@"Lab 1">=50', progress)).toEqual(["ada", "ben"]);
    expect(found("mark@Talk>99", progress)).toEqual(["ada"]);
    expect(found("total=60", progress)).toEqual(["ada"]);
    expect(found("total<=60", progress)).toEqual(["ada"]);
    expect(found("total<60", progress)).toEqual([]);
    expect(found("total>60", progress)).toEqual(["ben"]);
  });
  test("late is told in one column, or in any", () => {
    const progress = { handIns: [handIn("ada", due + 1000), handIn("ben", due), handIn("ada", due - 5)] };
    expect(found("late", progress)).toEqual(["ada"]);
    expect(found('late@"Lab 1"', progress)).toEqual(["ada"]);
    expect(found("late@Later", progress)).toEqual([]);
    expect(found("late:no", progress)).toEqual(["ben", "cas"]);
  });
});
