/** Meetings added, working time, the usual date of a group, and how dates are decided. Source: semantics.md section 6. */

import { v7 } from "uuid";
import { describe, expect, test } from "vitest";
import { instantOf } from "../clock/local-time.ts";
import { apply, type Command, sayCommand } from "../commands.ts";
import { isRefusal } from "../plan/command.ts";
import { noProgress } from "../plan/progress.ts";
import type { Anchor, Group, Item, Plan } from "../plan/types.ts";
import { reachAt } from "../reach/reach.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, group, patternOnly, t0 } from "../tests/fixture.ts";
import { calendarOfRow } from "./anchors.ts";
import { meetingsOf } from "./meetings.ts";
import { unequalBy, workingTime } from "./moving/working-time.ts";
import { dateTable } from "./resolving/table.ts";
import { groupCalendar, usualInGroup, usualOf } from "./resolving/usual.ts";

const slot = (weekday: number, start: string, end: string) => ({ weekday, start, end, place: "" });

describe("meetings beside the pattern", () => {
  const course = { ...coursePlan().course, termEnd: "2026-10-09" };
  test("one that was added is counted by when it begins, on a no-class day too; it ends on its day", () => {
    const added = [{ start: "2026-10-01T18:00", end: "20:00", place: "Weir hut" }];
    const days = { ...patternOnly([slot(1, "09:00", "10:00")]), noClassDays: ["2026-10-01"], added };
    expect(
      meetingsOf(course, days).map(({ number, day, place, slot: place_ }) => [number, day, place, place_?.day]),
    ).toEqual([
      [1, "2026-09-28", "", "2026-09-28"],
      [2, "2026-10-01", "Weir hut", undefined],
      [3, "2026-10-05", "", "2026-10-05"],
    ]);
    const [, extra] = meetingsOf(course, days);
    expect((extra?.end ?? 0) - (extra?.start ?? 0)).toBe(2 * 3600_000);
  });
  test("a section without a pattern has those alone that were added", () => {
    const added = [
      { start: "2026-10-03T10:00", end: "12:00", place: "" },
      { start: "2026-09-29T10:00", end: "12:00", place: "" },
    ];
    expect(meetingsOf(course, { ...patternOnly([]), added }).map(({ number, day }) => [number, day])).toEqual([
      [1, "2026-09-29"],
      [2, "2026-10-03"],
    ]);
    expect(meetingsOf(course, patternOnly([]))).toEqual([]);
  });
  test.each([
    ["America/St_Johns", "2026-11-01T01:30", "2026-11-01T04:00:00.000Z"],
    ["Australia/Lord_Howe", "2026-10-04T02:15", "2026-10-03T15:45:00.000Z"],
    ["Europe/Dublin", "2026-10-25T01:30", "2026-10-25T00:30:00.000Z"],
  ])(
    "a meeting in the hour that a clock change of %s skips or doubles is at one moment",
    (timeZone, start, instant) => {
      const added = [{ start, end: "04:00", place: "" }];
      const [meeting] = meetingsOf({ ...course, timeZone }, { ...patternOnly([]), added });
      expect(new Date(meeting?.start ?? 0).toISOString()).toBe(instant);
      expect((meeting?.end ?? 0) > (meeting?.start ?? 0)).toBe(true);
    },
  );
});

describe("working time", () => {
  const plan = coursePlan();
  addSection(plan, "D1");
  Object.assign(plan.sections.D1 as object, { pattern: [slot(1, "09:00", "10:00"), slot(3, "09:00", "10:00")] });
  const calendar = calendarOfRow(plan, plan.sections.D1 as never);
  const time = (opens: string, due: string) =>
    workingTime(instantOf(opens, "Europe/Dublin"), instantOf(due, "Europe/Dublin"), calendar, "Europe/Dublin");
  test("counts calendar days over a clock change, and meetings that begin from opens on and before the due", () => {
    expect(time("2026-10-24T23:00", "2026-10-26T01:00")).toEqual({ days: 2, meetings: 0 });
    // Opens as one meeting begins, due as another does: the first counts, the second does not.
    expect(time("2026-10-05T09:00", "2026-10-07T09:00")).toEqual({ days: 2, meetings: 1 });
    expect(time("2026-10-05T09:01", "2026-10-07T09:01")).toEqual({ days: 2, meetings: 1 });
    expect(time("2026-10-05T09:00", "2026-10-05T17:00")).toEqual({ days: 0, meetings: 1 });
  });
  test("there is none without both ends, or backwards", () => {
    expect(workingTime(Number.NaN, 5, calendar, "Europe/Dublin")).toBeNull();
    expect(workingTime(1, Number.POSITIVE_INFINITY, calendar, "Europe/Dublin")).toBeNull();
    expect(time("2026-10-07T09:00", "2026-10-05T09:00")).toBeNull();
  });
  test("is unequal by how much of the longest the shortest lacks", () => {
    const days = (...all: number[]) => unequalBy(all.map((one) => ({ days: one, meetings: 0 })));
    expect([days(10, 10), days(10, 7), days(0, 4), days(0, 0), days()]).toEqual([0, 30, 100, 0, 0]);
  });
});

describe("a group's usual date", () => {
  function course(): Plan {
    const plan = coursePlan();
    addSection(plan, "D1");
    addSection(plan, "EV");
    Object.assign(plan.sections.D1 as object, { pattern: [slot(1, "09:00", "10:00")] });
    Object.assign(plan.sections.EV as object, { pattern: [slot(2, "18:00", "20:00")] });
    addLayer(plan, "Banks", ["North", "South", "Empty"]);
    for (const id of ["ada", "ben", "cas"]) addStudent(plan, id, ["D1"], ["North"]);
    addStudent(plan, "dee", ["EV"], ["South"]);
    return plan;
  }
  const table = (plan: Plan) => dateTable(reachAt(plan, noProgress, t0));
  const usual = (plan: Plan, id: string) => {
    const made = table(plan);
    const { number, differ } = usualInGroup(made, plan.items.lab as Item, plan.groups[id] as Group, "due");
    return [made.valueOf("due", number), differ];
  };
  test("is that of most members, and counts those who have another", () => {
    const plan = course();
    addItem(plan, "lab", { dates: { due: "2026-12-01T17:00" } });
    plan.overrides.a = { id: "a", itemId: "lab", target: { kind: "person", id: "ada" }, dates: { due: "none" } };
    expect([usual(plan, "North"), usual(plan, "South")]).toEqual([
      ["2026-12-01T17:00", 1],
      ["2026-12-01T17:00", 0],
    ]);
    expect(usualOf(Float64Array.of(Number.NaN, Number.NaN, 4), reachAt(plan, noProgress, t0).everyone)).toMatchObject({
      differ: 2,
    });
  });
  test("of an empty group is what its own override says, by the meetings of the section that it follows", () => {
    const plan = course();
    const anchor: Anchor = { meeting: 2, edge: "start", days: 0, time: null, fallback: null };
    addItem(plan, "lab", { dates: { due: anchor } });
    const layer = plan.layers.Banks as NonNullable<Plan["layers"][string]>;
    layer.following = [{ sectionIds: ["EV"], attribute: null, groupId: "Empty" }];
    expect(usual(plan, "Empty")).toEqual(["2026-10-06T18:00", 0]);
    expect(usual(plan, "North")).toEqual(["2026-10-05T09:00", 0]);
    plan.overrides.e = { id: "e", itemId: "lab", target: group("Empty"), dates: { due: "2026-12-09T12:00" } };
    expect(usual({ ...plan, overrides: { ...plan.overrides } }, "Empty")).toEqual(["2026-12-09T12:00", 0]);
  });
  test("goes by the meetings that most members go by, or by its own in the meeting layer", () => {
    const plan = course();
    addStudent(plan, "eve", ["EV"], ["North"]);
    const reach = reachAt(plan, noProgress, t0);
    expect(groupCalendar(reach, plan.groups.North as Group).key).toBe("D1");
    const own = { ...(plan.groups.North as Group), pattern: [slot(5, "08:00", "09:00")] };
    const next: Plan = {
      ...plan,
      groups: { ...plan.groups, North: own },
      course: { ...plan.course, meetingLayerId: "Banks" },
    };
    expect(groupCalendar(reachAt(next, noProgress, t0), own).key).toBe("North");
  });
});

describe("how dates are decided", () => {
  const rule = (plan: Plan, rules: object) =>
    apply(plan, { id: v7(), kind: "course.dateRules", rules } as Command, { now: t0 });
  function course(): Plan {
    const plan = coursePlan();
    addLayer(plan, "Banks", ["North"]);
    return plan;
  }
  test("each rule alone or together, said in a line", () => {
    const plan = course();
    const next = rule(plan, { datePolicy: "layer order", layerOrder: ["sections", "Banks"], unequalShare: 10 }) as Plan;
    expect(next.course).toMatchObject({
      datePolicy: "layer order",
      layerOrder: ["sections", "Banks"],
      unequalShare: 10,
    });
    expect(next.course.meetingLayerId).toBe(plan.course.meetingLayerId);
    const says = (rules: object) => sayCommand(plan, { id: v7(), kind: "course.dateRules", rules } as Command);
    expect(says({ datePolicy: "most generous", unequalShare: 10 })).toBe(
      "Where two overrides meet, the more generous one holds; working time may differ by 10 %",
    );
    expect(says({ meetingLayerId: "Banks", layerOrder: ["sections"] })).toBe(
      "order of layers: the registrar's sections; meetings by the groups of Banks",
    );
    expect(says({})).toBe("Date rules as they are");
  });
  test("a layer that is gone, or stands twice, is refused", () => {
    for (const rules of [{ layerOrder: ["Gone"] }, { meetingLayerId: "Gone" }, { layerOrder: ["Banks", "Banks"] }])
      expect(isRefusal(rule(course(), rules))).toBe(true);
    expect(isRefusal(rule(course(), { meetingLayerId: null, layerOrder: ["sections", "Banks"] }))).toBe(false);
  });
});
