/** Calendars hold what their readers may see, and nothing else. Source: semantics.md sections 4, 6 and 9. */
import { describe, expect, test } from "vitest";
import { noProgress } from "../plan/progress.ts";
import type { Group, Plan } from "../plan/types.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, forOnly, group, t0 } from "../tests/fixture.ts";
import { dateTable } from "../timing/resolving/table.ts";
import { type Entry, groupEntries, staffEntries, studentEntries } from "./calendars.ts";
import { reachAt } from "./reach.ts";
import { type StudentPage, studentPage } from "./student-page.ts";

function course(): Plan {
  const plan = coursePlan();
  addSection(plan, "D1");
  addSection(plan, "EV");
  const slot = { weekday: 1, start: "09:00", end: "10:00", place: "Weir hut" };
  Object.assign(plan.sections.D1 as object, { pattern: [slot], studentTitle: "Mondays" });
  plan.course.termEnd = "2026-10-06";
  addLayer(plan, "Banks", ["North", "South"]);
  addLayer(plan, "Plans", ["Hidden"], { private: true });
  addStudent(plan, "ada", ["D1"], ["North", "Hidden"]);
  addStudent(plan, "ben", ["D1"], ["North"]);
  addStudent(plan, "cas", ["EV"], ["South"]);
  addItem(plan, "lab", { dates: { due: "2026-12-04T17:00" } });
  addItem(plan, "north", { audience: forOnly(group("North")), dates: { due: "2026-12-05T17:00" } });
  addItem(plan, "later", { dates: { opens: "2026-12-01T09:00", due: "2026-12-06T17:00" } });
  addItem(plan, "trip", {
    kind: "event",
    dates: { opens: "2026-12-01T09:00", due: "2026-12-07T09:00", closes: "2026-12-07T12:00" },
  });
  addItem(plan, "notes", { kind: "page" });
  plan.overrides.h = { id: "h", itemId: "lab", target: group("Hidden"), dates: { due: "2026-12-09T17:00" } };
  return plan;
}
const titles = (entries: Entry[]) => entries.map(({ title }) => title);
const student = (plan: Plan, id: string) => studentEntries(studentPage(plan, noProgress, id, t0) as StudentPage);
const tableOf = (plan: Plan) => dateTable(reachAt(plan, noProgress, t0));
const of = (plan: Plan, id: string) => groupEntries(reachAt(plan, noProgress, t0), plan.groups[id] as Group);

describe("a student's", () => {
  test("holds what they see now with their own date, and their meetings by the title that students see", () => {
    const plan = course();
    expect(titles(student(plan, "ada"))).toEqual(["Mondays, meeting 1", "Mondays, meeting 2", "north due", "lab due"]);
    expect(titles(student(plan, "cas"))).toEqual(["lab due"]);
    const lab = student(plan, "ada").at(-1);
    expect([lab?.start, lab?.end]).toEqual([Date.parse("2026-12-09T17:00Z"), null]);
    expect(JSON.stringify(student(plan, "ada"))).not.toContain("Hidden");
  });
  test("an event lasts from what others call due to what they call closes; meetings of a private group are only a class", () => {
    const plan = course();
    const page = studentPage(plan, noProgress, "cas", Date.parse("2026-12-07T10:00Z")) as StudentPage;
    const trip = studentEntries(page).find(({ title }) => title === "trip");
    expect([trip?.start, trip?.end]).toEqual([Date.parse("2026-12-07T09:00Z"), Date.parse("2026-12-07T12:00Z")]);
    Object.assign(plan.groups.Hidden as object, { pattern: [{ weekday: 2, start: "09:00", end: "10:00", place: "" }] });
    plan.course.meetingLayerId = "Plans";
    expect(titles(student(plan, "ada"))).toContain("Class, meeting 1");
  });
  test("keys stay with what they are about: a date or a meeting that moves keeps its own", () => {
    const plan = course();
    const moved = structuredClone(plan);
    Object.assign(moved.items.lab as object, { dates: { due: "2026-12-24T17:00" } });
    Object.assign(moved.sections.D1 as object, {
      moved: [{ day: "2026-10-05", start: "09:00", to: "2026-10-01T09:00" }],
    });
    const keys = (one: Plan) => new Set(student(one, "ben").map(({ key }) => key));
    expect(keys(moved)).toEqual(keys(plan));
    expect(keys(plan).size).toBe(student(plan, "ben").length);
  });
});

describe("a group's and the staff's", () => {
  test("a group's holds only what all its members see, with the date that is theirs together; an empty one's nothing", () => {
    const plan = course();
    expect(titles(of(plan, "North"))).toEqual(["Mondays, meeting 1", "Mondays, meeting 2", "lab due", "north due"]);
    plan.items.only = { ...(plan.items.north as NonNullable<Plan["items"][string]>), id: "only", title: "only" };
    plan.items.only.audience = forOnly({ kind: "person", id: "ada" });
    expect(titles(of(plan, "North"))).not.toContain("only due");
    addLayer(plan, "Empty", ["Nobody"]);
    expect(of(plan, "Nobody")).toEqual([]);
  });
  test("the staff's holds every date that somebody has, with whose it is where they differ, and all sections' meetings", () => {
    const plan = course();
    const all = titles(staffEntries(tableOf(plan)));
    expect(all).toEqual([
      "D1, meeting 1",
      "D1, meeting 2",
      "lab due (2 students)",
      "north due",
      "later due",
      "trip",
      "lab due (1 student)",
    ]);
    const keys = staffEntries(tableOf(plan)).map(({ key }) => key);
    expect(new Set(keys).size).toBe(keys.length);
  });
});
