/** The spans as values: rows, lanes, what is hit, what a drag comes to. */
import { describe, expect, test } from "vitest";
import { instantOf } from "../../../../core/clock/local-time.ts";
import { noProgress } from "../../../../core/plan/progress.ts";
import type { Group, Item, Plan } from "../../../../core/plan/types.ts";
import { reachAt } from "../../../../core/reach/reach.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, t0 } from "../../../../core/tests/fixture.ts";
import { dateTable } from "../../../../core/timing/resolving/table.ts";
import { type Drag, daysMoved, dragged, dropped, snapTo, withMoment } from "./drag.ts";
import { atX, barTop, day, hitAt, layOut, type Row, rowsOf, type View, xOf } from "./model.ts";

const zone = "Europe/Dublin";
const at = (wall: string) => instantOf(wall, zone);
function course(): Plan {
  const plan = coursePlan();
  addSection(plan, "D1");
  Object.assign(plan.sections.D1 as object, { pattern: [{ weekday: 1, start: "09:00", end: "10:00", place: "" }] });
  addLayer(plan, "Banks", ["North", "South"]);
  addStudent(plan, "ada", ["D1"], ["North"]);
  addStudent(plan, "ben", ["D1"], ["South"]);
  addItem(plan, "one", { dates: { opens: "2026-10-05T09:00", due: "2026-10-15T17:00", closes: "2026-10-20T17:00" } });
  addItem(plan, "two", { dates: { due: "2026-10-12T17:00" } });
  addItem(plan, "far", { dates: { opens: "2026-12-01T09:00", due: "2026-12-04T09:00" } });
  addItem(plan, "none", { kind: "page" });
  addItem(plan, "south", {
    audience: { to: [{ kind: "group", id: "South" }], minus: [] },
    dates: { due: "2026-11-10T09:00" },
  });
  plan.overrides.s = {
    id: "s",
    itemId: "one",
    target: { kind: "group", id: "South" },
    dates: { opens: "2026-10-13T09:00" },
  };
  return plan;
}
const rows = (plan: Plan, available = 400): Row[] => {
  const table = dateTable(reachAt(plan, noProgress, t0));
  const groups = Object.values(plan.groups) as Group[];
  return layOut(rowsOf(table, groups, Object.values(plan.items) as Item[]), available);
};
const bar = (list: Row[], row: number, title: string) => {
  const found = list[row]?.bars.find(({ item }) => item.title === title);
  if (!found) throw new Error(`no bar ${title}`);
  return found;
};
const view: View = { from: at("2026-09-28T00:00"), scale: day / 20 };

describe("rows", () => {
  test("hold a bar for what a group has a date of; bars that overlap stand in lanes, others share one", () => {
    const list = rows(course());
    expect(list.map(({ bars }) => bars.map(({ item }) => item.title))).toEqual([
      ["one", "two", "far"],
      ["two", "one", "south", "far"],
    ]);
    expect([bar(list, 0, "one").lane, bar(list, 0, "two").lane, bar(list, 0, "far").lane]).toEqual([0, 1, 0]);
  });
  test("much less working time than another group is marked, and dates out of order", () => {
    const plan = course();
    expect([bar(rows(plan), 0, "one").short, bar(rows(plan), 1, "one").short]).toEqual([false, true]);
    plan.overrides.s = { ...(plan.overrides.s as Plan["overrides"][string]), dates: { opens: "2026-10-16T09:00" } };
    expect(bar(rows({ ...plan, overrides: { ...plan.overrides } }), 1, "one").wrong).toBe(true);
  });
  test("two dues of a group on one day are marked, on other days and in other groups not", () => {
    const plan = course();
    addItem(plan, "too", { dates: { due: "2026-10-12T09:00" } });
    const list = rows(plan);
    expect(["one", "two", "too"].map((title) => bar(list, 0, title).clashes)).toEqual([false, true, true]);
  });
  test("are as tall as there is room for, and never thinner than can be hit", () => {
    const [roomy, tight] = [rows(course(), 4000), rows(course(), 10)];
    expect([roomy[0]?.lane, tight[0]?.lane]).toEqual([22, 11]);
    expect(roomy[1]?.top).toBe(roomy[0]?.height);
  });
});

describe("what is under the pointer", () => {
  test("is an edge near one, the body elsewhere, and nothing between bars", () => {
    const list = rows(course());
    const [row] = list as [Row];
    const one = bar(list, 0, "one");
    const y = barTop(row, one) + 3;
    expect(hitAt(list, xOf(at("2026-10-15T17:00"), view) + 2, y, view)?.edge).toBe("due");
    expect(hitAt(list, xOf(at("2026-10-20T17:00"), view) - 2, y, view)?.edge).toBe("closes");
    expect(hitAt(list, xOf(at("2026-10-10T12:00"), view), y, view)).toMatchObject({
      bar: { key: one.key },
      edge: null,
    });
    expect(hitAt(list, xOf(at("2026-11-10T12:00"), view), y, view)).toBeNull();
    expect(hitAt(list, 10, 10_000, view)).toBeNull();
    expect(atX(xOf(at("2026-10-10T12:00"), view), view)).toBe(at("2026-10-10T12:00"));
  });
});

describe("a drag", () => {
  test("snaps to the beginning or end of a meeting that is near, otherwise to the hour", () => {
    const [row] = rows(course()) as [Row];
    expect(snapTo(at("2026-10-12T10:20"), row, view, zone)).toMatchObject({
      at: at("2026-10-12T10:00"),
      given: { meeting: 3, edge: "end" },
      says: "Mon 12 Oct, 10:00, end of meeting 3",
    });
    expect(snapTo(at("2026-10-15T16:40"), row, view, zone)).toMatchObject({ given: "2026-10-15T17:00" });
  });
  test("of an edge is that group's override, and none where it ends where it began; out of order is said before", () => {
    const plan = course();
    const list = rows(plan);
    const [row] = list as [Row];
    const reach = reachAt(plan, noProgress, t0);
    const drag = (to: number): Drag => ({ kind: "edge", row, bar: bar(list, 0, "one"), field: "due", at: to });
    expect(dropped(drag(at("2026-10-16T12:10")), view, reach)).toEqual([
      {
        kind: "override.set",
        itemIds: ["one"],
        target: { kind: "group", id: "North" },
        dates: { due: "2026-10-16T12:00" },
      },
    ]);
    expect(dropped(drag(at("2026-10-15T17:10")), view, reach)).toEqual([]);
    expect(dragged(drag(at("2026-10-01T12:00")), view, zone).says).toBe(
      "one, North: due Thu 1 Oct, 12:00, out of order",
    );
    expect(withMoment(bar(list, 0, "one"), "opens", at("2026-10-18T09:00")).wrong).toBe(true);
  });
  test("of a body moves every date by whole days, without days that have no class", () => {
    const plan = course();
    plan.course.noClassDays = [{ day: "2026-10-16", title: "Holiday" }];
    const list = rows(plan);
    const one = bar(list, 0, "one");
    const drag: Drag = {
      kind: "body",
      bars: [one],
      grabbed: one,
      from: at("2026-10-10T12:00"),
      at: at("2026-10-11T15:00"),
    };
    expect(daysMoved(drag, zone)).toBe(1);
    expect(dragged(drag, view, zone).says).toBe("one, North: +1 day");
    expect(dropped(drag, view, reachAt(plan, noProgress, t0))).toEqual([
      {
        kind: "override.set",
        itemIds: ["one"],
        target: { kind: "group", id: "North" },
        dates: { opens: "2026-10-06T09:00", due: "2026-10-17T17:00", closes: "2026-10-21T17:00" },
      },
    ]);
    expect(dropped({ ...drag, at: drag.from + 1000 }, view, reachAt(plan, noProgress, t0))).toEqual([]);
  });
});
