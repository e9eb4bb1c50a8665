/** Who is on the staff, and what they are given, from one moment to the next. */
import { v7 } from "uuid";
import { describe, expect, test } from "vitest";
import { isRefusal } from "../plan/command.ts";
import { type Plan, Role } from "../plan/types.ts";
import { addLayer, addSection, addStudent, coursePlan, t0 } from "../tests/fixture.ts";
import { membershipOf } from "./roles.ts";
import { scopeOf } from "./scope.ts";
import { changeStaff, type Given, inviteStaff, mayMark, staffAt, withdrawStaff } from "./staff.ts";

const card = (sourcedId: string) => ({
  sourcedId,
  username: null,
  email: null,
  givenName: "Test",
  familyName: sourcedId,
});
const given: Given = { role: "support", sectionIds: ["D1"], groupIds: ["Extra time"], may: ["publish"] };
const hour = 3600_000;

function course(): Plan {
  const plan = coursePlan();
  for (const code of ["D1", "EV"]) addSection(plan, code);
  addLayer(plan, "Access plans", ["Extra time", "Breaks"], { private: true, rule: "any number" });
  addStudent(plan, "ada", ["D1"], ["Extra time"]);
  addStudent(plan, "eve", ["EV"], ["Breaks"]);
  return done(inviteStaff(plan, v7(), card("co"), { role: "coordinator", sectionIds: [], groupIds: [], may: [] }, t0));
}
function done(next: ReturnType<typeof inviteStaff>): Plan {
  if (isRefusal(next)) throw new Error(next.sentence);
  return next;
}
const code = (next: ReturnType<typeof inviteStaff>) => (isRefusal(next) ? next.code : "done");
const idOf = (plan: Plan, sourcedId: string) =>
  Object.values(plan.people).find((person) => person.sourcedId === sourcedId)?.id ?? "";
const told = (plan: Plan, t: number) =>
  staffAt(plan, t).map(({ person, role, sectionIds, groupIds, may }) => [
    person.sourcedId,
    role,
    sectionIds,
    groupIds,
    may,
  ]);

describe("the staff", () => {
  test("somebody is invited with what they are given, and sees just that", () => {
    const plan = done(inviteStaff(course(), v7(), card("sam"), given, t0));
    expect(told(plan, t0)).toEqual([
      ["co", "coordinator", [], [], []],
      ["sam", "support", ["D1"], ["Extra time"], ["publish"]],
    ]);
    expect([...scopeOf(plan, idOf(plan, "sam"), t0).personIds]).toEqual(["ada"]);
  });
  test("what they are given changes from one moment to the next, and what was stays on record", () => {
    const invited = done(inviteStaff(course(), v7(), card("sam"), given, t0));
    const later = t0 + hour;
    const wanted: Given = { role: "instructor", sectionIds: ["EV"], groupIds: ["Breaks"], may: [] };
    const plan = done(changeStaff(invited, v7(), idOf(invited, "sam"), wanted, later));
    expect(told(plan, later)[1]).toEqual(["sam", "instructor", ["EV"], ["Breaks"], []]);
    expect(told(plan, later - 1)[1]?.slice(0, 4)).toEqual(["sam", "support", ["D1"], ["Extra time"]]);
    expect([...scopeOf(plan, idOf(plan, "sam"), later).personIds]).toEqual(["eve"]);
    const same = done(changeStaff(plan, v7(), idOf(plan, "sam"), wanted, later + hour));
    expect(Object.keys(same.enrolments)).toEqual(Object.keys(plan.enrolments));
    expect(Object.keys(same.placements)).toEqual(Object.keys(plan.placements));
  });
  test("whoever is withdrawn is nobody in the course from that moment, and may come back", () => {
    const invited = done(inviteStaff(course(), v7(), card("sam"), given, t0));
    const plan = done(withdrawStaff(invited, idOf(invited, "sam"), t0 + hour));
    expect(membershipOf(plan, "sam", t0 + hour)).toBeNull();
    expect(membershipOf(plan, "sam", t0 + hour - 1)?.role).toBe("support");
    expect(plan.course.staffMay).toEqual({});
    expect(code(withdrawStaff(plan, idOf(plan, "sam"), t0 + hour))).toBe("staff.gone");
    const back = done(inviteStaff(plan, v7(), card("sam"), given, t0 + 2 * hour));
    expect(membershipOf(back, "sam", t0 + 2 * hour)?.role).toBe("support");
  });
  test("somebody always coordinates, nobody is invited twice, and no student is put over others", () => {
    const plan = course();
    expect(code(withdrawStaff(plan, idOf(plan, "co"), t0))).toBe("staff.last");
    expect(code(changeStaff(plan, v7(), idOf(plan, "co"), given, t0))).toBe("staff.last");
    const invited = done(inviteStaff(plan, v7(), card("sam"), given, t0));
    expect(code(inviteStaff(invited, v7(), card("sam"), given, t0))).toBe("staff.there");
    const ada = { ...card("x"), sourcedId: plan.people.ada?.sourcedId ?? "" };
    expect(code(inviteStaff(plan, v7(), ada, given, t0))).toBe("staff.student");
    expect(code(inviteStaff(plan, v7(), card("sue"), { ...given, sectionIds: ["gone"] }, t0))).toBe("section.gone");
    expect(code(inviteStaff(plan, v7(), card("sue"), { ...given, groupIds: ["gone"] }, t0))).toBe("group.gone");
  });
});

test("coordinator and instructors mark; support marks where the coordinator lets them, and nobody else does", () => {
  const plan = coursePlan();
  const allowed = { ...plan, course: { ...plan.course, staffMay: { sam: ["mark" as const] } } };
  expect(Role.options.filter((role) => mayMark(allowed, "ina", role))).toEqual(["coordinator", "instructor"]);
  expect(mayMark(allowed, "sam", "support")).toBe(true);
});
