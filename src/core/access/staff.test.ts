/** Who is on the staff, and what they are given, from one moment to the next. */
import { v7 } from "uuid";
import { describe, expect, test } from "vitest";
import { isRefusal } from "../plan/command.ts";
import { type Enrolment, type Plan, Role } from "../plan/types.ts";
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
  test("who is given one section more keeps the row of the other, and gets one", () => {
    const invited = done(inviteStaff(course(), v7(), card("sam"), given, t0));
    const plan = done(
      changeStaff(invited, v7(), idOf(invited, "sam"), { ...given, sectionIds: ["D1", "EV"] }, t0 + hour),
    );
    expect(told(plan, t0 + hour)[1]?.[2]).toEqual(["D1", "EV"]);
    const fresh = Object.values(plan.enrolments).filter(({ id }) => !invited.enrolments[id]);
    expect(fresh.map(({ sectionId, since }) => [sectionId, since])).toEqual([["EV", t0 + hour]]);
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

describe("what somebody is given, row by row", () => {
  const two: Given = { role: "support", sectionIds: ["D1", "EV"], groupIds: ["Extra time", "Breaks"], may: [] };
  const rows = (plan: Plan) => {
    const id = idOf(plan, "sam");
    const own = <Row extends { personId: string }>(table: Record<string, Row>) =>
      Object.values(table).filter(({ personId }) => personId === id);
    return { enrolments: own(plan.enrolments), placements: own(plan.placements) };
  };
  test("each section and group is a row of its own, from that moment on, by hand and by nobody's rule", () => {
    const { enrolments, placements } = rows(done(inviteStaff(course(), v7(), card("sam"), two, t0)));
    expect(
      enrolments.map(({ sectionId, role, since, until, origin, home }) => [
        sectionId,
        role,
        since,
        until,
        origin,
        home,
      ]),
    ).toEqual([
      ["D1", "support", t0, null, "hand", false],
      ["EV", "support", t0, null, "hand", false],
    ]);
    expect(placements.map(({ groupId, held, since, until }) => [groupId, held, since, until])).toEqual([
      ["Extra time", true, t0, null],
      ["Breaks", true, t0, null],
    ]);
    expect(new Set([...enrolments, ...placements].map(({ id }) => id)).size).toBe(4);
  });
  test("what stays is not touched, what goes ends, what comes begins: by section, by group and by role", () => {
    const invited = done(inviteStaff(course(), v7(), card("sam"), two, t0));
    const fewer: Given = { ...two, sectionIds: ["EV"], groupIds: ["Breaks"] };
    const later = t0 + hour;
    const plan = done(changeStaff(invited, v7(), idOf(invited, "sam"), fewer, later));
    expect(rows(plan).enrolments.map(({ sectionId, since, until }) => [sectionId, since, until])).toEqual([
      ["D1", t0, later],
      ["EV", t0, null],
    ]);
    expect(rows(plan).placements.map(({ groupId, since, until }) => [groupId, since, until])).toEqual([
      ["Extra time", t0, later],
      ["Breaks", t0, null],
    ]);
    const teaching = done(changeStaff(plan, v7(), idOf(plan, "sam"), { ...fewer, role: "instructor" }, later + hour));
    const open = rows(teaching).enrolments.filter(({ until }) => until === null);
    expect(open.map(({ sectionId, role, since }) => [sectionId, role, since])).toEqual([
      ["EV", "instructor", later + hour],
    ]);
  });
  test("without a section they are on the staff of the course, by name, with the most that any row says", () => {
    const none: Given = { role: "support", sectionIds: [], groupIds: [], may: [] };
    const invited = done(inviteStaff(course(), v7(), card("abe"), none, t0));
    expect(told(invited, t0).map(([who]) => who)).toEqual(["abe", "co"]);
    const row = Object.values(invited.enrolments).find(({ personId }) => personId === idOf(invited, "abe"));
    expect(row?.sectionId).toBeNull();
    const more = { ...(row as Enrolment), id: "more", role: "instructor" as const, sectionId: "EV" };
    const both = { ...invited, enrolments: { ...invited.enrolments, more } };
    expect(told(both, t0)[0]?.slice(0, 3)).toEqual(["abe", "instructor", ["EV"]]);
  });
  test("a coordinator stays one where nobody else is, however many others are on the staff; a second one frees the first", () => {
    const withSam = done(inviteStaff(course(), v7(), card("sam"), given, t0));
    const co = idOf(withSam, "co");
    const coordinates: Given = { role: "coordinator", sectionIds: [], groupIds: [], may: [] };
    expect(changeStaff(withSam, v7(), co, given, t0)).toEqual({
      refused: true,
      code: "staff.last",
      sentence: "co, Test is the only coordinator. Make somebody else one first.",
    });
    expect(code(changeStaff(withSam, v7(), co, coordinates, t0))).toBe("done");
    const second = done(changeStaff(withSam, v7(), idOf(withSam, "sam"), coordinates, t0));
    expect(code(changeStaff(second, v7(), co, given, t0))).toBe("done");
    expect(code(withdrawStaff(second, co, t0))).toBe("done");
  });
  test("a refusal says what is the matter, and what to do", () => {
    const plan = done(inviteStaff(course(), v7(), card("sam"), given, t0));
    const ada = { ...card("x"), sourcedId: plan.people.ada?.sourcedId ?? "" };
    const out = done(withdrawStaff(plan, idOf(plan, "sam"), t0));
    const sentences = [
      inviteStaff(plan, v7(), card("sam"), given, t0),
      inviteStaff(plan, v7(), ada, given, t0),
      inviteStaff(plan, v7(), card("sue"), { ...given, sectionIds: ["gone"] }, t0),
      inviteStaff(plan, v7(), card("sue"), { ...given, groupIds: ["gone"] }, t0),
      changeStaff(out, v7(), idOf(out, "sam"), given, t0),
      withdrawStaff(out, idOf(out, "sam"), t0),
    ].map((next) => (isRefusal(next) ? next.sentence : "done"));
    expect(sentences).toEqual([
      "sam, Test is on the staff already. Change what they were given instead.",
      "x, Test is a student of this course, and cannot be on its staff too.",
      "One of these sections is no longer there. Choose again.",
      "One of these groups is no longer there. Choose again.",
      "They are not on the staff any more. Invite them again.",
      "They are not on the staff any more.",
    ]);
    const taken = { ...card("new"), username: "ada" };
    const named = {
      ...plan,
      people: { ...plan.people, ada: { ...(plan.people.ada as Plan["people"][string]), username: "ada" } },
    };
    expect(code(inviteStaff(named, v7(), taken, given, t0))).toBe("person.login");
  });
});

test("coordinator and instructors mark; support marks where the coordinator lets them, and nobody else does", () => {
  const plan = coursePlan();
  const allowed = { ...plan, course: { ...plan.course, staffMay: { sam: ["mark" as const] } } };
  expect(Role.options.filter((role) => mayMark(allowed, "ina", role))).toEqual(["coordinator", "instructor"]);
  expect(mayMark(allowed, "sam", "support")).toBe(true);
  expect(mayMark(allowed, "ina", "support")).toBe(false);
  expect((["student", "visitor"] as const).some((role) => mayMark(allowed, "sam", role))).toBe(false);
});
