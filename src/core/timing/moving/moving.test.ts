/** Moving dates and losing a meeting. Source: semantics.md section 6. */
import { v7 } from "uuid";
import { describe, expect, test } from "vitest";
import { apply, type Command, type NewCommand } from "../../commands.ts";
import { isRefusal } from "../../plan/command.ts";
import { noProgress } from "../../plan/progress.ts";
import type { Group, Item, Plan } from "../../plan/types.ts";
import { reachAt } from "../../reach/reach.ts";
import {
  addItem,
  addLayer,
  addSection,
  addStudent,
  coursePlan,
  meetingAnchor,
  section,
  t0,
} from "../../tests/fixture.ts";
import { meetingsOf } from "../meetings.ts";
import { membershipsAt, resolveField } from "../resolving/resolve.ts";
import { moveCommands, movesOf } from "./moving.ts";
import { shiftCommands, shiftOf } from "./shift.ts";

/** D1 meets Mon Wed Fri 09:00, EV Tue 18:00; Day follows D1, Evening EV. Mon 26 Oct to Fri 30 Oct are free. */
function course(): Plan {
  const plan = coursePlan();
  const slot = (weekday: number, start: string, end: string) => ({ weekday, start, end, place: "" });
  plan.course.noClassDays = ["2026-10-26", "2026-10-27", "2026-10-28", "2026-10-29", "2026-10-30"].map((day) => ({
    day,
    title: "Break",
  }));
  addSection(plan, "D1");
  addSection(plan, "EV");
  Object.assign(plan.sections.D1 as object, { pattern: [1, 3, 5].map((day) => slot(day, "09:00", "10:00")) });
  Object.assign(plan.sections.EV as object, { pattern: [slot(2, "18:00", "20:00")] });
  addLayer(plan, "Times", ["Day", "Evening"]);
  addStudent(plan, "ada", ["D1"], ["Day"]);
  addStudent(plan, "ben", ["EV"], ["Evening"]);
  return plan;
}
const draft = (plan: Plan, commands: NewCommand[]): Plan =>
  commands.reduce((next, command) => {
    const after = apply(next, { ...command, id: v7() } as Command, { now: t0 });
    if (isRefusal(after)) throw new Error(after.sentence);
    return after;
  }, plan);
const bar = (plan: Plan, item: string, group: string) => ({
  item: plan.items[item] as Item,
  group: plan.groups[group] as Group,
});
const dueOf = (plan: Plan, person: string, item = "lab") =>
  resolveField(plan, plan.items[item] as Item, membershipsAt(plan, person, t0), "due").value;
describe("moving", () => {
  const moved = (dates: Item["dates"], unit: "days" | "meetings", count: number, group = "Day") => {
    const plan = course();
    addItem(plan, "lab", { dates });
    const moves = movesOf(reachAt(plan, noProgress, t0), [bar(plan, "lab", group)], { unit, count });
    return { plan, moves, says: moves.map(({ field, before, after, stays }) => [field, before, after?.wall ?? stays]) };
  };
  test("by days does not count days without class, and lands on none", () => {
    expect(moved({ opens: "2026-10-20T09:00", due: "2026-10-23T17:00" }, "days", 4).says).toEqual([
      ["opens", "2026-10-20T09:00", "2026-10-24T09:00"],
      ["due", "2026-10-23T17:00", "2026-11-01T17:00"],
    ]);
    expect(moved({ due: "2026-11-01T17:00" }, "days", -2).says).toEqual([
      ["due", "2026-11-01T17:00", "2026-10-25T17:00"],
    ]);
  });
  test("by meetings keeps the way from the meeting, each group by its own", () => {
    // Thursday evening, after Wednesday's meeting: Saturday evening, after Friday's.
    expect(moved({ due: "2026-10-08T20:00" }, "meetings", 1).says).toEqual([
      ["due", "2026-10-08T20:00", "2026-10-10T20:00"],
    ]);
    // Before the meeting of its own day a date belongs to that one.
    expect(moved({ opens: "2026-10-05T08:00" }, "meetings", 1).says).toEqual([
      ["opens", "2026-10-05T08:00", "2026-10-07T08:00"],
    ]);
    expect(moved({ due: "2026-10-08T20:00" }, "meetings", 1, "Evening").says).toEqual([
      ["due", "2026-10-08T20:00", "2026-10-15T20:00"],
    ]);
  });
  test("an anchor moves to another meeting or by days and stays an anchor", () => {
    const { moves } = moved({ due: meetingAnchor(4) }, "meetings", 2);
    expect(moves[0]?.after?.given).toEqual(meetingAnchor(6));
    // Meeting 11 is on Wed 21 Oct; four class days on is Sun 25.
    expect(moved({ due: meetingAnchor(11) }, "days", 4).moves[0]?.after).toEqual({
      given: meetingAnchor(11, { days: 4 }),
      wall: "2026-10-25T09:00",
    });
  });
  test("nothing is clamped: past the last meeting it stays, and says so", () => {
    expect(moved({ due: meetingAnchor(12) }, "meetings", 40).says).toEqual([
      ["due", "2026-10-23T09:00", "there is no meeting after the last"],
    ]);
  });
  test("drafts one override a group with the fields that move, and the others keep theirs", () => {
    const { plan, moves } = moved({ opens: "2026-10-05T09:00", due: "2026-10-08T20:00" }, "days", 1);
    const after = draft(plan, moveCommands(moves));
    expect(Object.values(after.overrides)).toHaveLength(1);
    expect([dueOf(after, "ada"), dueOf(after, "ben")]).toEqual(["2026-10-09T20:00", "2026-10-08T20:00"]);
  });
});

describe("a lost meeting", () => {
  const lose = (dates: Item["dates"], number = 4, change: (plan: Plan) => void = () => {}) => {
    const plan = course();
    addItem(plan, "lab", { dates });
    change(plan);
    const shift = shiftOf(reachAt(plan, noProgress, t0), "D1", number);
    return { plan, shift: shift as NonNullable<typeof shift> };
  };
  test("moves what is anchored at it or later, and nothing before", () => {
    const { plan, shift } = lose({ opens: meetingAnchor(3), due: meetingAnchor(5) });
    expect(shift.anchored.map(({ field, before, after }) => [field, before, after])).toEqual([
      ["due", "2026-10-07T09:00", "2026-10-09T09:00"],
    ]);
    const after = draft(plan, shiftCommands(shift, new Set()));
    expect([dueOf(plan, "ada"), dueOf(after, "ada")]).toEqual(["2026-10-07T09:00", "2026-10-09T09:00"]);
  });
  test("offers the rest: what lost working time moves, what lies after or takes place stays", () => {
    const offers = (dates: Item["dates"], change?: (plan: Plan) => void) =>
      lose(dates, 4, change).shift.offers.map(({ field, after, moves, why }) => [field, after, moves, why]);
    // Meeting 4 is on Mon 5 Oct.
    expect(offers({ opens: "2026-10-02T09:00", due: "2026-10-08T20:00" })).toEqual([
      ["due", "2026-10-10T20:00", true, "meeting 4 was part of its working time"],
    ]);
    expect(offers({ opens: "2026-10-07T09:00", due: "2026-10-09T09:00" }).map(([, , moves]) => moves)).toEqual([
      false,
      false,
    ]);
    expect(offers({ due: "2026-12-31T09:00" })[0]?.slice(2)).toEqual([false, "it would fall after the end of term"]);
    expect(offers({ due: "2027-01-01T09:00" })[0]?.slice(2)).toEqual([
      false,
      "there is no later meeting to move it by",
    ]);
    const event = (plan: Plan) => Object.assign(plan.items.lab as object, { kind: "event" });
    expect(offers({ due: "2026-10-08T20:00" }, event)[0]?.slice(2)).toEqual([
      false,
      "an event takes place when it takes place",
    ]);
  });
  test("sets what was taken for the section, or for a group within it that has its own date", () => {
    const { plan, shift } = lose({ opens: "2026-10-02T09:00", due: "2026-10-08T20:00" });
    const after = draft(plan, shiftCommands(shift, new Set(shift.offers)));
    expect(Object.values(after.overrides)).toMatchObject([
      { target: section("D1"), dates: { due: "2026-10-10T20:00" } },
    ]);
    expect([dueOf(after, "ada"), dueOf(after, "ben")]).toEqual(["2026-10-10T20:00", "2026-10-08T20:00"]);
    const own = lose({ opens: "2026-10-02T09:00", due: "2026-10-08T20:00" }, 4, (one) => {
      one.overrides.day = {
        id: "day",
        itemId: "lab",
        target: { kind: "group", id: "Day" },
        dates: { due: "2026-10-09T20:00" },
      };
    }).shift;
    expect(own.offers[0]).toMatchObject({ target: { kind: "group", id: "Day" }, after: "2026-10-12T20:00" });
  });
  test("one that was added or moved by hand can be lost too", () => {
    const added = lose({ due: meetingAnchor(4) }, 4, (plan) =>
      Object.assign(plan.sections.D1 as object, { added: [{ start: "2026-10-03T10:00", end: "12:00", place: "" }] }),
    );
    expect(added.shift.lost.slot).toBeNull();
    const after = draft(added.plan, shiftCommands(added.shift, new Set()));
    expect(after.sections.D1?.added).toEqual([]);
    expect(meetingsOf(after.course, after.sections.D1 as never)[3]?.day).toBe("2026-10-05");
    expect(shiftOf(reachAt(course(), noProgress, t0), "D1", 99)).toBeNull();
  });
});
