/** Sections that leave, and courses that become one: nobody sees more or less than before. Source: semantics.md section 4. */
import fc from "fast-check";
import { expect, test } from "vitest";
import { noProgress, type Progress } from "../plan/progress.ts";
import type { Plan } from "../plan/types.ts";
import { faultsIn } from "../plan/valid.ts";
import { indexKinds, studentIndex, studentOutline, studentPage } from "../reach/student-page.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, t0 } from "../tests/fixture.ts";
import { randomCourse } from "../tests/random-course.ts";
import { joinCourses } from "./join.ts";
import { courseOfSections, withoutSections } from "./part-of.ts";

const joinId = "0192f0c1-0000-7000-8000-000000000001";
const own = { id: "0192f0c1-0000-7000-8000-000000000002", code: "WSH 240 D1", title: "Day one" };

/** All that a student finds anywhere, with its dates as they read them. `nameOf`: what an item is called in both courses. */
function findsOf(plan: Plan, progress: Progress, personId: string, nameOf = (id: string) => id): string[] {
  const page = studentPage(plan, progress, personId, t0);
  if (!page) return [];
  const entries = [...studentOutline(page), ...indexKinds.flatMap((kind) => studentIndex(page, kind) ?? [])];
  return [
    ...new Set(
      entries.map(({ id, visibility, handedIn, dates }) =>
        JSON.stringify([nameOf(id), visibility, handedIn, dates.map(({ field, at, told }) => [field, at, told])]),
      ),
    ),
  ].sort();
}
const under = (progress: Progress, idOf: (id: string) => string): Progress =>
  Object.fromEntries(
    Object.entries(progress).map(([kind, rows]) => [
      kind,
      (rows as { personId: string; itemId: string }[]).map((row) => ({
        ...row,
        personId: idOf(row.personId),
        itemId: idOf(row.itemId),
      })),
    ]),
  ) as unknown as Progress;
const backOf = (plan: Plan, idOf: (id: string) => string) => {
  const old = new Map(Object.keys(plan.items).map((id) => [idOf(id), id]));
  return (id: string) => old.get(id) ?? id;
};

test("whoever goes into a course of their own finds there what they found, and whoever stays finds the same", () => {
  fc.assert(
    fc.property(randomCourse, ({ plan, progress, students }) => {
      const sections = new Set(["D1"]);
      const gone = courseOfSections(plan, sections, own, t0);
      expect(faultsIn(gone.plan)).toEqual([]);
      const moved = under(progress, gone.idOf);
      const codes = (id: string) =>
        Object.values(plan.enrolments).flatMap((row) => (row.personId === id ? [row.sectionId] : []));
      const left = withoutSections(plan, sections, t0, joinId);
      expect(faultsIn(left.plan)).toEqual([]);
      for (const id of students) {
        const in1 = codes(id).includes("D1");
        expect(gone.people.has(id)).toBe(in1);
        // Who is in a second section as well finds here what is for the first alone.
        if (in1 && codes(id).length === 1)
          expect(findsOf(gone.plan, moved, gone.idOf(id), backOf(plan, gone.idOf))).toEqual(
            findsOf(plan, progress, id),
          );
        if (in1) expect(left.gone.includes(id)).toBe(codes(id).length === 1);
        else expect(findsOf(left.plan, progress, id)).toEqual(findsOf(plan, progress, id));
      }
    }),
    { numRuns: 150 },
  );
});

/** The course as another one, of other people. */
function ofOthers(plan: Plan): Plan {
  const people = Object.fromEntries(
    Object.values(plan.people).map((one) => [one.id, { ...one, sourcedId: `other ${one.sourcedId}`, username: null }]),
  );
  return { ...plan, people, course: { ...plan.course, id: "other", code: "WSH 241" } };
}

test("of two courses that become one, each student finds what they found in their own, and nothing of the other", () => {
  fc.assert(
    fc.property(randomCourse, randomCourse, (into, drawn) => {
      const { indexes, datePolicy } = into.plan.course;
      const other = ofOthers(drawn.plan);
      const from = { ...other, course: { ...other.course, indexes, datePolicy, meetingLayerId: null } };
      const joined = joinCourses(into.plan, from, t0, joinId);
      if ("wrong" in joined) throw new Error(joined.wrong);
      const { plan, idOf } = joined;
      expect(faultsIn(plan)).toEqual([]);
      const theirs = under(drawn.progress, idOf);
      const progress = Object.fromEntries(
        Object.entries(into.progress).map(([kind, rows]) => [kind, [...rows, ...(theirs as never)[kind]]]),
      ) as unknown as Progress;
      for (const id of into.students)
        expect(findsOf(plan, progress, id)).toEqual(findsOf(into.plan, into.progress, id));
      const folder = idOf("other");
      const names = backOf(from, idOf);
      for (const id of drawn.students)
        expect(findsOf(plan, progress, idOf(id), names).filter((one) => !one.includes(folder))).toEqual(
          findsOf(from, drawn.progress, id),
        );
    }),
    { numRuns: 150 },
  );
});

function twoCourses(): { into: Plan; from: Plan } {
  const into = coursePlan();
  for (const code of ["D1", "D2"]) addSection(into, code);
  addStudent(into, "ada", ["D1"]);
  addLayer(into, "Banks", ["North", "South"]);
  addItem(into, "Kit list", {});
  const from = coursePlan();
  from.course = { ...from.course, id: "other", code: "WSH 241" };
  for (const code of ["D2", "D3"]) addSection(from, code);
  addStudent(from, "ada", ["D2"]);
  addStudent(from, "ben", ["D3"]);
  addLayer(from, "Banks", ["North"]);
  addItem(from, "Kit list", {});
  return { into, from };
}

test("somebody in both is known once; sections, layers and categories of one name are told apart, and said", () => {
  const { into, from } = twoCourses();
  const category = { id: joinId, name: "Labs", weight: 1, dropLowest: 0 };
  for (const plan of [into, from])
    plan.course = { ...plan.course, grading: { ...plan.course.grading, categories: [category] } };
  const joined = joinCourses(into, from, t0, joinId);
  if ("wrong" in joined) throw new Error(joined.wrong);
  const { plan, says } = joined;
  expect(Object.keys(plan.people).sort()).toEqual(["ada", joined.idOf("ben")].sort());
  expect(Object.values(plan.enrolments).filter(({ personId }) => personId === "ada")).toHaveLength(2);
  const codes = Object.values(plan.sections).map(({ code }) => code);
  expect(codes.sort()).toEqual(["D1", "D2", "D2 (WSH 241)", "D3"]);
  expect(Object.values(plan.layers).map(({ name }) => name)).toEqual(["Banks", "Banks (WSH 241)"]);
  expect(plan.course.grading.categories.map(({ name }) => name)).toEqual(["Labs", "Labs (WSH 241)"]);
  expect(new Set(plan.course.grading.categories.map(({ id }) => id)).size).toBe(2);
  expect(plan.course.classList).toEqual({ to: "nobody" });
  const all = says.join("\n");
  expect(all).toContain("2 students of WSH 241 come over");
  expect(all).toContain("1 student is in both, and known once");
  expect(all).toContain("D2 is in both: that of WSH 241 is called D2 (WSH 241).");
  // Ada finds both kit lists, Ben the one of his own course.
  const kit = [Object.keys(into.items)[0] as string, joined.idOf(Object.keys(from.items)[0] as string)];
  const finds = (id: string) =>
    kit.map((item) => findsOf(plan, noProgress, id).some((one) => JSON.parse(one)[0] === item));
  expect(finds("ada")).toEqual([true, true]);
  expect(finds(joined.idOf("ben"))).toEqual([false, true]);
});

test("what one course cannot be is said, and nothing is made", () => {
  const { into, from } = twoCourses();
  const wrong = (other: Plan) => {
    const joined = joinCourses(into, other, t0, joinId);
    return "wrong" in joined ? joined.wrong : "";
  };
  expect(wrong({ ...from, course: { ...from.course, timeZone: "Asia/Tokyo" } })).toContain("Asia/Tokyo");
  const taken = { ...(into.people.ada as Plan["people"][string]), sourcedId: "77", username: "ADA.L" };
  into.people.ada = { ...(into.people.ada as Plan["people"][string]), username: "ada.l" };
  expect(wrong({ ...from, people: { ...from.people, ada: taken } })).toContain("the same login, ADA.L");
  const row = Object.values(from.enrolments).find(({ personId }) => personId === "ada") as Plan["enrolments"][string];
  expect(wrong({ ...from, enrolments: { ...from.enrolments, [row.id]: { ...row, role: "instructor" } } })).toContain(
    "on the staff of the other",
  );
});
