/** The term in steps: moments of the clock, and what happens to each student between them. */
import { describe, expect, test } from "vitest";
import type { Plan } from "../../plan/types.ts";
import { hasBit } from "../../sets/bits.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, group } from "../../tests/fixture.ts";
import { sweep } from "./sweep.ts";
import { stepsOf, studentsOfTerm } from "./term.ts";

const at = (iso: string) => Date.parse(iso);

function course(): Plan {
  const plan = coursePlan();
  addSection(plan, "D1");
  addLayer(plan, "Banks", ["North", "South"]);
  addStudent(plan, "ada", ["D1"], ["North"]);
  addStudent(plan, "ben", ["D1"]);
  return plan;
}
const place = (plan: Plan, personId: string, groupId: string, since: string, until: string | null = null) => {
  const id = `${personId} ${groupId} ${since}`;
  plan.placements[id] = {
    id,
    groupId,
    personId,
    since: at(since),
    until: until === null ? null : at(until),
    held: false,
  };
};
const steps = (plan: Plan) =>
  [...stepsOf(plan, studentsOfTerm(plan))].map(({ t, membershipSets, present, moved }) => ({
    t: new Date(t).toISOString().slice(0, 10),
    moved,
    north: membershipSets.students.filter((_, index) =>
      hasBit(membershipSets.groups.get("North") ?? new Uint32Array(1), index),
    ),
    present: membershipSets.students.filter((_, index) => hasBit(present, index)),
  }));

describe("steps of the term", () => {
  test("one at its beginning, and one for each moment at which something opens or closes", () => {
    const plan = course();
    addItem(plan, "page", { dates: { opens: "2026-10-05T09:00" } });
    expect(steps(plan)).toEqual([
      { t: "2026-09-27", moved: true, north: ["ada"], present: ["ada", "ben"] },
      { t: "2026-10-05", moved: false, north: ["ada"], present: ["ada", "ben"] },
    ]);
  });
  test("what happens to two students between two moments is one step, however far apart", () => {
    const plan = course();
    place(plan, "ben", "North", "2026-10-10T09:00:00Z");
    place(plan, "ada", "South", "2026-11-10T09:00:00Z");
    expect(steps(plan)).toHaveLength(2);
    // A second change of the same student is a second step.
    place(plan, "ben", "South", "2026-10-11T09:00:00Z");
    expect(steps(plan)).toHaveLength(3);
  });
  test("a move from one group into another at one moment leaves nobody without, and nobody in both", () => {
    const plan = course();
    plan.placements = {};
    place(plan, "ben", "South", "2026-10-01T09:00:00Z", "2026-10-10T09:00:00Z");
    place(plan, "ben", "North", "2026-10-10T09:00:00Z");
    addItem(plan, "both", {
      condition: {
        kind: "allOf",
        of: [
          { kind: "in", targets: [group("North")] },
          { kind: "in", targets: [group("South")] },
        ],
      },
    });
    addItem(plan, "none", {
      condition: { kind: "noneOf", of: [{ kind: "in", targets: [group("North"), group("South")] }] },
    });
    const found = sweep(plan);
    const ben = found.indexOf.get("ben") as number;
    expect(hasBit(found.ever.get("both") as Uint32Array, ben)).toBe(false);
    // Before the first placement they are in neither.
    expect(hasBit(found.ever.get("none") as Uint32Array, ben)).toBe(true);
  });
  test("who left before the term, or comes after it, is no student of it; who leaves within is there until then", () => {
    const plan = course();
    const enrolment = (id: string) => plan.enrolments[`${id} in D1`] as Plan["enrolments"][string];
    addStudent(plan, "old", ["D1"]);
    plan.enrolments["old in D1"] = { ...enrolment("old"), until: at("2026-09-01T09:00:00Z") };
    addStudent(plan, "next", ["D1"]);
    plan.enrolments["next in D1"] = { ...enrolment("next"), since: at("2027-02-01T09:00:00Z") };
    plan.enrolments["ben in D1"] = { ...enrolment("ben"), until: at("2026-10-12T09:00:00Z") };
    expect(steps(plan).map(({ present }) => present)).toEqual([["ada", "ben"], ["ada"]]);
  });
  test("twice in a group is in it until the last of the two ends", () => {
    const plan = course();
    place(plan, "ben", "North", "2026-10-01T09:00:00Z", "2026-10-20T09:00:00Z");
    place(plan, "ben", "North", "2026-10-05T09:00:00Z", "2026-10-10T09:00:00Z");
    expect(steps(plan).map(({ north }) => north.includes("ben"))).toEqual([false, true, true, true, false]);
  });
});

test("while somebody could leak is told as spans: from the moment they could, until they no longer can", () => {
  const plan = course();
  plan.course.indexes = { discussions: true, files: false, calendar: false, work: false };
  addItem(plan, "door", { kind: "folder", seals: false, audience: { to: [group("North")], minus: [] } });
  addItem(plan, "talk", {
    kind: "discussion",
    parentId: "door",
    dates: { opens: "2026-10-05T09:00", closes: "2026-10-12T09:00" },
    readableAfterClose: false,
  });
  const spans = sweep(plan).spans.get("talk");
  expect(spans?.map(({ from, until }) => [from, until])).toEqual([
    [at("2026-10-05T08:00:00Z"), at("2026-10-12T08:00:00Z")],
  ]);
});

test("what had closed before somebody came to be meant is never handed in, though it can be read ever after", () => {
  const plan = course();
  addItem(plan, "task", {
    kind: "assignment",
    audience: { to: [group("South")], minus: [] },
    dates: { closes: "2026-10-12T09:00" },
  });
  addItem(plan, "after", { condition: { kind: "handedIn", itemId: "task" } });
  place(plan, "ada", "South", "2026-10-10T09:00:00Z");
  place(plan, "ben", "South", "2026-10-13T09:00:00Z");
  const found = sweep(plan);
  const could = (itemId: string, personId: string) =>
    hasBit(found.ever.get(itemId) as Uint32Array, found.indexOf.get(personId) as number);
  expect([could("task", "ada"), could("task", "ben")]).toEqual([true, true]);
  expect([could("after", "ada"), could("after", "ben")]).toEqual([true, false]);
});
