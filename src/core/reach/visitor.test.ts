import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { foldersAbove } from "../plan/lookup.ts";
import { noProgress } from "../plan/progress.ts";
import type { Plan } from "../plan/types.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, forOnly, group, t0 } from "../tests/fixture.ts";
import { randomCourse } from "../tests/random-course.ts";
import { studentItem, studentOutline, studentPage } from "./student-page.ts";
import { visitorPage } from "./visitor.ts";

function withVisitor(plan: Plan): Plan {
  plan.people.guest = {
    id: "guest",
    sourcedId: "guest",
    username: null,
    email: null,
    givenName: "Gwen",
    familyName: "Guest",
    attributes: {},
  };
  plan.enrolments.visit = {
    id: "visit",
    personId: "guest",
    sectionId: null,
    role: "visitor",
    since: t0 - 1,
    until: null,
    origin: "code",
    home: false,
  };
  return plan;
}
const titles = (plan: Plan, t = t0) => {
  const page = visitorPage(plan, "guest", t);
  return page && studentOutline(page).map(({ title }) => title);
};

describe("a visitor", () => {
  test("reads what is for everyone, minus nobody, and nothing beneath a folder for some", () => {
    const plan = withVisitor(coursePlan());
    addSection(plan, "D1");
    addLayer(plan, "Banks", ["North"]);
    addItem(plan, "kit list");
    addItem(plan, "north", { audience: forOnly(group("North")) });
    addItem(plan, "all but north", { audience: { to: "everyone", minus: [group("North")] } });
    addItem(plan, "doorway", { kind: "folder", seals: false, audience: forOnly(group("North")) });
    addItem(plan, "within", { parentId: "doorway", kind: "discussion" });
    plan.entrances.e = { id: "e", itemId: "within", folderId: null, position: 9 };
    expect(titles(plan)).toEqual(["kit list"]);
    expect(studentItem(visitorPage(plan, "guest", t0) as never, "within")).toBeNull();
  });
  test("hands nothing in and has no marks", () => {
    const plan = withVisitor(coursePlan());
    addItem(plan, "lab", { kind: "assignment", points: 10 });
    expect(studentItem(visitorPage(plan, "guest", t0) as never, "lab")).toMatchObject({ handIn: null, mark: null });
  });
  test("is one only while the visit lasts, and a student is none", () => {
    const plan = withVisitor(coursePlan());
    addStudent(plan, "ada");
    plan.enrolments.visit = { ...(plan.enrolments.visit as Plan["enrolments"][string]), until: t0 + 1 };
    expect(titles(plan)).toEqual([]);
    expect([titles(plan, t0 + 1), titles(plan, t0 - 2)]).toEqual([null, null]);
  });
  test("on any course, reads no more than a student in no section and no group would, and only what is for all", () => {
    fc.assert(
      fc.property(randomCourse, ({ plan: drawn }) => {
        const plan = withVisitor(drawn);
        const stranger = { ...(plan.enrolments.visit as Plan["enrolments"][string]), role: "student" as const };
        const asStudent = { ...plan, enrolments: { ...plan.enrolments, visit: stranger } };
        const [visit, student] = [visitorPage(plan, "guest", t0), studentPage(asStudent, noProgress, "guest", t0)];
        for (const item of Object.values(plan.items)) {
          if (!visit || !student || studentItem(visit, item.id) === null) continue;
          expect([item.id, studentItem(student, item.id) !== null]).toEqual([item.id, true]);
          for (const { audience } of [item, ...foldersAbove(plan, item)])
            expect([audience.to, audience.minus]).toEqual(["everyone", []]);
        }
      }),
      { numRuns: 200 },
    );
  });
});
