import { describe, expect, test } from "vitest";
import type { Anchor, Plan } from "../plan/types.ts";
import { addLayer, addSection, addStudent, coursePlan, t0 } from "../tests/fixture.ts";
import { calendarOf, sayMoment, wallByCalendar } from "./anchors.ts";

const anchor = (fields: Partial<Anchor>): Anchor => ({
  meeting: 1,
  edge: "start",
  days: 0,
  time: null,
  fallback: null,
  ...fields,
});

/** Mondays and Wednesdays 09:00 to 10:00 from 28 Sep; the clocks go back on 25 Oct. */
function course(): Plan {
  const plan = coursePlan();
  addSection(plan, "D1");
  addSection(plan, "DL");
  const slot = { start: "09:00", end: "10:00", place: "" };
  plan.sections.D1 = {
    ...(plan.sections.D1 as Plan["sections"][string]),
    pattern: [
      { weekday: 1, ...slot },
      { weekday: 3, ...slot },
    ],
  };
  addLayer(plan, "Labs", ["Lab A", "Lab B"]);
  plan.groups["Lab A"] = { ...(plan.groups["Lab A"] as Plan["groups"][string]), pattern: [{ weekday: 5, ...slot }] };
  addStudent(plan, "ada", ["D1"], ["Lab A"]);
  addStudent(plan, "ben", ["D1"], ["Lab B"]);
  addStudent(plan, "cas", ["DL"]);
  return plan;
}
const wallOf = (plan: Plan, personId: string, moment: Anchor) => {
  const groups = Object.values(plan.placements).filter((row) => row.personId === personId);
  const calendar = calendarOf(plan, personId, new Set(groups.map(({ groupId }) => groupId)), t0);
  return wallByCalendar(moment, calendar, plan.course.timeZone);
};

describe("meeting anchors (section 6)", () => {
  test("the nth meeting, its start or end, whole days away, at a given time", () => {
    const plan = course();
    expect(wallOf(plan, "ada", anchor({ meeting: 2 }))).toBe("2026-09-30T09:00");
    expect(wallOf(plan, "ada", anchor({ meeting: 2, edge: "end", days: 2 }))).toBe("2026-10-02T10:00");
    expect(wallOf(plan, "ada", anchor({ meeting: 4, days: -1, time: "23:59" }))).toBe("2026-10-06T23:59");
    // Over the change of clocks the time of day stays.
    expect(wallOf(plan, "ada", anchor({ meeting: 8, days: 7 }))).toBe("2026-10-28T09:00");
  });
  test("without the no-class days; a meeting moved by hand keeps its number", () => {
    const plan = course();
    plan.course = { ...plan.course, noClassDays: [{ day: "2026-09-30", title: "" }] };
    expect(wallOf(plan, "ada", anchor({ meeting: 2 }))).toBe("2026-10-05T09:00");
    const moved = [{ day: "2026-10-05", start: "09:00", to: "2026-10-09T14:00" }];
    plan.sections.D1 = { ...(plan.sections.D1 as Plan["sections"][string]), moved };
    expect(wallOf(plan, "ada", anchor({ meeting: 2 }))).toBe("2026-10-09T14:00");
    expect(wallOf(plan, "ada", anchor({ meeting: 3 }))).toBe("2026-10-07T09:00");
    // The last before goes by the actual day, strictly before.
    expect(wallOf(plan, "ada", anchor({ meeting: { lastBefore: "2026-10-10" } }))).toBe("2026-10-09T14:00");
    expect(wallOf(plan, "ada", anchor({ meeting: { lastBefore: "2026-10-09" } }))).toBe("2026-10-07T09:00");
  });
  test("through the group of the meeting layer that has a pattern, otherwise the home section", () => {
    const plan = course();
    plan.course = { ...plan.course, meetingLayerId: "Labs" };
    expect(wallOf(plan, "ada", anchor({ meeting: 1 }))).toBe("2026-10-02T09:00");
    expect(wallOf(plan, "ben", anchor({ meeting: 1 }))).toBe("2026-09-28T09:00");
  });
  test("without such a meeting the fallback holds, and without one there is no date", () => {
    const plan = course();
    expect(wallOf(plan, "cas", anchor({}))).toBeNull();
    expect(wallOf(plan, "cas", anchor({ fallback: "2026-10-01T12:00" }))).toBe("2026-10-01T12:00");
    expect(wallOf(plan, "ada", anchor({ meeting: 400 }))).toBeNull();
    expect(wallOf(plan, "ada", anchor({ meeting: { lastBefore: "2026-09-28" } }))).toBeNull();
  });
  test("is said in words", () => {
    expect(sayMoment(anchor({ meeting: 6 }))).toBe("start of meeting 6");
    expect(sayMoment(anchor({ meeting: 4, edge: "end", days: 2, time: "23:59" }))).toBe(
      "2 days after the end of meeting 4, 23:59",
    );
    expect(sayMoment(anchor({ meeting: { lastBefore: "2026-12-01" }, days: -1 }))).toBe(
      "1 day before the start of the last meeting before Tue 1 Dec",
    );
    expect(sayMoment("2026-10-05T09:00")).toBe("Mon 5 Oct, 09:00");
  });
});
