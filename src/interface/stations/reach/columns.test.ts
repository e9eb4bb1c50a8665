/** Columns of the crossings: groups, sections, students; folded when there are very many, and opened again. */
import { describe, expect, test } from "vitest";
import { noProgress } from "../../../core/plan/progress.ts";
import type { Plan } from "../../../core/plan/types.ts";
import { reachAt } from "../../../core/reach/reach.ts";
import { countBits } from "../../../core/sets/bits.ts";
import {
  addItem,
  addLayer,
  addSection,
  addStudent,
  coursePlan,
  forOnly,
  group,
  t0,
} from "../../../core/tests/fixture.ts";
import { columnsOf, mostColumns } from "./columns.ts";
import { crossing, sayCrossing } from "./crossings.ts";
import { moveBy, moveTo } from "./moving.ts";
import { sayForWhom } from "./sayForWhom.ts";

function course(teams: number): Plan {
  const plan = coursePlan();
  addSection(plan, "D1");
  addSection(plan, "EV");
  addLayer(plan, "Sections", ["Day", "Evening"]);
  addLayer(
    plan,
    "Teams",
    Array.from({ length: teams }, (_, at) => `Team ${at + 1}`),
  );
  for (let at = 0; at < teams; at++) {
    const day = at % 2 === 0;
    addStudent(
      plan,
      `s${String(at).padStart(3, "0")}`,
      [day ? "D1" : "EV"],
      [day ? "Day" : "Evening", `Team ${at + 1}`],
    );
  }
  return plan;
}
const reachOf = (plan: Plan) => reachAt(plan, noProgress, t0);
const teamsView = { kind: "layer" as const, layerId: "Teams" };

describe("columns", () => {
  test("up to forty groups stand one by one; a group opens into its students", () => {
    const reach = reachOf(course(40));
    const columns = columnsOf(reach, teamsView);
    expect(columns).toHaveLength(40);
    const within = columns[0]?.within;
    expect(within && columnsOf(reach, within).map(({ name }) => name)).toEqual(["Test, s000"]);
  });
  test("more are folded by what they were formed within, with everyone in the fold", () => {
    const plan = course(60);
    for (let at = 0; at < 60; at++) {
      const team = plan.groups[`Team ${at + 1}`] as Plan["groups"][string];
      plan.groups[team.id] = { ...team, scopeGroupId: at % 2 === 0 ? "Day" : "Evening" };
    }
    const reach = reachOf(plan);
    const columns = columnsOf(reach, teamsView);
    expect(columns.map(({ name, members }) => [name, countBits(members)])).toEqual([
      ["Day", 30],
      ["Evening", 30],
    ]);
    const within = columns[1]?.within;
    expect(within && columnsOf(reach, within)).toHaveLength(30);
  });
  test("without a scope neighbours are folded together, never more than forty, nobody twice", () => {
    const reach = reachOf(course(500));
    const columns = columnsOf(reach, teamsView);
    expect(columns.length).toBeLessThanOrEqual(mostColumns);
    expect(columns[0]?.name).toBe("Team 1 to Team 13");
    expect(columns.reduce((sum, { members }) => sum + countBits(members), 0)).toBe(500);
    const within = columns[0]?.within;
    expect(
      within &&
        columnsOf(reach, within)
          .map(({ name }) => name)
          .slice(0, 2),
    ).toEqual(["Team 1", "Team 2"]);
  });
  test("the registrar's sections, by their codes", () => {
    expect(
      columnsOf(reachOf(course(4)), { kind: "sections" }).map(({ name, members }) => [name, countBits(members)]),
    ).toEqual([
      ["D1", 2],
      ["EV", 2],
    ]);
  });
});

describe("a crossing in a word", () => {
  test("open, hidden, for some, leak and stranded", () => {
    const plan = course(4);
    addItem(plan, "all");
    addItem(plan, "day", { audience: forOnly(group("Day")) });
    addItem(plan, "team", { audience: forOnly(group("Team 1")) });
    addItem(plan, "later", { dates: { opens: "2026-12-01T09:00" } });
    const reach = reachOf(plan);
    const [day, evening] = ["Day", "Evening"].map((id) => reach.members(group(id))) as [Uint32Array, Uint32Array];
    const says = (id: string, members: Uint32Array, lost?: Uint32Array) =>
      sayCrossing(crossing(reach, plan.items[id] as never, members, lost));
    expect(says("all", day)).toBe("open to all 2");
    expect(says("day", evening)).toBe("hidden from all 2");
    expect(says("team", day)).toBe("open to 1 of 2");
    expect(says("later", day)).toBe("opens later or on a condition for 2 of 2");
    expect(says("later", day, day)).toBe("stranded: 2 of 2 can never reach it, open to 0");
    expect(crossing(reach, plan.items.later as never, day, day).kind).toBe("problem");
  });
  test("for whom an item is, in a line, its folder's narrowing told where it has none of its own", () => {
    const plan = course(4);
    addItem(plan, "folder", { kind: "folder", audience: forOnly(group("Evening"), group("Team 1"), group("Team 3")) });
    addItem(plan, "inner", { parentId: "folder" });
    addItem(plan, "all");
    addItem(plan, "but", { audience: { to: "everyone", minus: [group("Day")] } });
    const say = (id: string, meant: number) => sayForWhom(plan, plan.items[id] as never, meant, 104);
    expect([say("folder", 39), say("inner", 39), say("all", 104), say("but", 52)]).toEqual([
      "Evening and 2 more, 39 of 104",
      "Evening and 2 more, 39 of 104",
      "everyone",
      "all but Day, 52 of 104",
    ]);
  });
});

describe("moving", () => {
  const outline = () => {
    const plan = coursePlan();
    addItem(plan, "a");
    addItem(plan, "folder", { kind: "folder" });
    addItem(plan, "in", { parentId: "folder" });
    addItem(plan, "b");
    return plan;
  };
  const item = (plan: Plan, id: string) => plan.items[id] as Plan["items"][string];
  test("by keys: up, down, into the folder above, out behind the folder", () => {
    const plan = outline();
    expect(moveBy(plan, item(plan, "b"), ["b"], "ArrowUp")).toMatchObject({ parentId: null, before: "folder" });
    expect(moveBy(plan, item(plan, "a"), ["a"], "ArrowDown")).toMatchObject({ parentId: null, before: "b" });
    expect(moveBy(plan, item(plan, "a"), ["a"], "ArrowUp")).toBeNull();
    expect(moveBy(plan, item(plan, "b"), ["b"], "ArrowRight")).toMatchObject({ parentId: "folder", before: null });
    expect(moveBy(plan, item(plan, "in"), ["in"], "ArrowLeft")).toMatchObject({ parentId: null, before: "b" });
    expect(moveBy(plan, item(plan, "a"), ["a"], "ArrowLeft")).toBeNull();
  });
  test("by dragging: before, after, into; never onto itself", () => {
    const plan = outline();
    expect(moveTo(plan, { itemIds: ["b"], overId: "a", where: "before" })).toMatchObject({ before: "a" });
    expect(moveTo(plan, { itemIds: ["a"], overId: "folder", where: "after" })).toMatchObject({ before: "b" });
    expect(moveTo(plan, { itemIds: ["a"], overId: "b", where: "after" })).toMatchObject({ before: null });
    expect(moveTo(plan, { itemIds: ["a"], overId: "folder", where: "into" })).toMatchObject({ parentId: "folder" });
    expect(moveTo(plan, { itemIds: ["a"], overId: "a", where: "before" })).toBeNull();
  });
});
