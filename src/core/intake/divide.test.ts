/** A section that holds two classes. */
import { describe, expect, test } from "vitest";
import { apply, type Command } from "../commands.ts";
import { isRefusal } from "../plan/command.ts";
import { addSection, addStudent, coursePlan, t0 } from "../tests/fixture.ts";
import { divide, divisionOf } from "./divide.ts";

function course() {
  const plan = coursePlan();
  addSection(plan, "D1");
  addSection(plan, "D2");
  for (const id of ["ada", "ben", "cy"]) addStudent(plan, id, ["D1"]);
  addStudent(plan, "dee", ["D2"]);
  return plan;
}
const group = (name: string, ...personIds: string[]) => ({ name, personIds, leads: [], pattern: [] });
const pattern = [{ weekday: 1, start: "09:00", end: "10:15", place: "" }];

describe("dividing a section", () => {
  const plan = course();
  const section = plan.sections.D1 as (typeof plan.sections)[string];
  test("whoever is left over goes into the class that lists nobody; nobody of another section goes into any", () => {
    const division = divisionOf(plan, section, [group("Morning", "ada", "dee"), group("Afternoon")], t0);
    expect(division).toEqual({
      groups: [group("Morning", "ada"), group("Afternoon", "ben", "cy")],
      left: [],
      notHere: ["dee"],
    });
  });
  test("of two that list nobody neither takes them, and they are told", () => {
    const { groups, left } = divisionOf(plan, section, [group("A", "ada"), group("B"), group("C")], t0);
    expect(groups.map(({ personIds }) => personIds)).toEqual([["ada"], [], []]);
    expect(left).toEqual(["ben", "cy"]);
  });
  test("is one change: a layer after the section, its groups with people and meetings of their own", () => {
    const division = divisionOf(plan, section, [{ ...group("Morning", "ada"), pattern }, group("Afternoon")], t0);
    const command = { ...divide(plan, section, division), id: "018f6b3e-0000-7000-8000-000000000002" } as Command;
    const next = apply(plan, command, { now: t0 });
    if (isRefusal(next)) throw new Error(next.sentence);
    const layer = Object.values(next.layers).find(({ name }) => name === "D1 classes");
    const groups = Object.values(next.groups).filter(({ layerId }) => layerId === layer?.id);
    expect(groups.map(({ name, pattern: meets }) => [name, meets.length])).toEqual([
      ["Morning", 1],
      ["Afternoon", 0],
    ]);
    expect(next.course.meetingLayerId).toBe(layer?.id);
    const afternoon = groups[1]?.id;
    const there = Object.values(next.placements).filter(({ groupId }) => groupId === afternoon);
    expect(there.map(({ personId }) => personId).sort()).toEqual(["ben", "cy"]);
  });
});
