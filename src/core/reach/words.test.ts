/** What staff and students are told: explanations, needs, findings. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { noProgress, type Progress } from "../plan/progress.ts";
import type { Item, Plan } from "../plan/types.ts";
import { hasBit } from "../sets/bits.ts";
import {
  addItem,
  addLayer,
  addSection,
  addStudent,
  coursePlan,
  forOnly,
  group,
  person,
  section,
  t0,
} from "../tests/fixture.ts";
import { randomCourse } from "../tests/random-course.ts";
import { dateFindings } from "./audit/dates/checks.ts";
import { sweep } from "./audit/sweep.ts";
import { forNobody, leaks } from "./audit/who.ts";
import { judge, stillNeeded } from "./conditions.ts";
import { explain, nameOf, sayAudience, visibilityOf } from "./explain.ts";
import { futureOf } from "./future.ts";
import { reachAt } from "./reach.ts";

function course(): Plan {
  const plan = coursePlan();
  for (const code of ["D1", "EV"]) addSection(plan, code);
  addLayer(plan, "Banks", ["North", "South"]);
  addLayer(plan, "Access plans", ["Extra time"], { private: true, rule: "any number" });
  addStudent(plan, "ada", ["D1"], ["North", "Extra time"]);
  addStudent(plan, "ben", ["EV"], ["South"]);
  addStudent(plan, "cas", ["EV"]);
  return plan;
}
const stepsOf = (plan: Plan, itemId: string, personId: string, t = t0, progress: Progress = noProgress) =>
  explain(reachAt(plan, progress, t), plan.items[itemId] as Item, personId);
const failing = (plan: Plan, itemId: string, personId: string) =>
  stepsOf(plan, itemId, personId)
    ?.steps.filter(({ holds }) => !holds)
    .map(({ says }) => says);
describe("why a student can or cannot open an item", () => {
  test("an audience that leaves them out", () => {
    const plan = course();
    addItem(plan, "page", { audience: { to: [group("North"), section("EV")], minus: [person("ben")] } });
    expect(failing(plan, "page", "ben")).toEqual(["It is for North, EV, not Test, ben, and that leaves them out."]);
    expect(failing(plan, "page", "cas")).toEqual([]);
  });
  test("not published, and a folder above that is not", () => {
    const plan = course();
    addItem(plan, "door", { kind: "folder", seals: false, published: false });
    addItem(plan, "page", { parentId: "door", published: false });
    expect(failing(plan, "page", "ada")).toEqual([
      "It is not published.",
      "The folder door is not published and hides all beneath it.",
      "No entrance leads them to it.",
    ]);
  });
  test("dates that have not come, and dates that are over", () => {
    const plan = course();
    addItem(plan, "later", { dates: { opens: "2026-12-01T09:00" } });
    addItem(plan, "over", { dates: { closes: "2026-11-20T09:00" }, readableAfterClose: false });
    addItem(plan, "kept", { dates: { closes: "2026-11-20T09:00" } });
    expect(failing(plan, "later", "ada")).toEqual(["It opens for them on Tue 1 Dec, 09:00."]);
    expect(failing(plan, "over", "ada")).toEqual(["It closed for them on Fri 20 Nov, 09:00."]);
    expect(failing(plan, "kept", "ada")).toEqual([]);
  });
  test("a seal that is closed to them, said with whom the folder is for", () => {
    const plan = course();
    addItem(plan, "bank", { kind: "folder", title: "North bank", audience: forOnly(group("North")) });
    addItem(plan, "page", { parentId: "bank" });
    expect(failing(plan, "page", "ben")).toEqual([
      "The folder North bank seals it, and is closed to them (it is for North).",
      "No entrance leads them to it.",
    ]);
  });
  test("the ways that lead to it are named: home, extra entrance, index", () => {
    const plan = course();
    plan.course.indexes.discussions = true;
    addItem(plan, "folder", { kind: "folder", title: "Talks" });
    addItem(plan, "talk", { kind: "discussion", parentId: "folder" });
    plan.entrances.top = { id: "top", itemId: "talk", folderId: null, position: 9 };
    expect(stepsOf(plan, "talk", "ada")?.steps.at(-1)?.says).toBe(
      "They come to it through the folder Talks, and at the top of the outline.",
    );
    addItem(plan, "door", { kind: "folder", seals: false, audience: forOnly(group("South")) });
    addItem(plan, "other", { kind: "discussion", parentId: "door" });
    const leaked = stepsOf(plan, "other", "ada");
    expect(leaked?.leak).toBe(true);
    expect(leaked?.steps.map(({ says }) => says)).toContain("They come to it through a course-wide index.");
    expect(leaked?.steps.at(-1)?.says).toBe("It is a leak: its folder door is for South.");
  });
  test("someone who is no student of the course at that moment has no explanation", () => {
    const plan = course();
    Object.assign(plan.enrolments["ada in D1"] as object, { until: t0 });
    addItem(plan, "page");
    expect(stepsOf(plan, "page", "ada")).toBeNull();
    expect(stepsOf(plan, "page", "ada", t0 - 1)?.visibility).toBe("open");
  });
  test("audiences and people in words", () => {
    const plan = course();
    expect([
      sayAudience(plan, { to: "everyone", minus: [] }),
      sayAudience(plan, { to: [], minus: [] }),
      sayAudience(plan, { to: "everyone", minus: [group("North")] }),
      sayAudience(plan, forOnly(group("gone"), section("gone"), person("gone"))),
      nameOf(plan, "ada"),
      nameOf(plan, "gone"),
    ]).toEqual([
      "everyone",
      "nobody",
      "everyone, not North",
      "a removed group, a removed section, a removed person",
      "Test, ada",
      "somebody who was removed",
    ]);
  });
});

describe("what an announced item still needs", () => {
  const plan = course();
  addItem(plan, "sketch", { title: "Site sketch", kind: "assignment", points: 50 });
  addItem(plan, "safety", { title: "Safety page" });
  const needs = (condition: Item["condition"], progress: Progress = noProgress) => {
    const memberships = reachAt(plan, progress, t0).memberships(0);
    return condition
      ? stillNeeded(judge(condition, { plan, progress, memberships, t: t0 }), (id) => id in plan.items)
      : [];
  };
  test("only the parts that fail, in the student's words", () => {
    expect(
      needs({
        kind: "allOf",
        of: [
          { kind: "from", moment: "2026-11-01T09:00" },
          { kind: "from", moment: "2026-12-01T09:00" },
          { kind: "handedIn", itemId: "sketch" },
          { kind: "opened", itemId: "safety" },
          { kind: "read", itemId: "safety" },
          { kind: "atLeast", itemId: "sketch", percent: 60 },
        ],
      }),
    ).toEqual([
      "from Tue 1 Dec, 09:00",
      "Site sketch not handed in yet",
      "Safety page not opened yet",
      "Safety page not marked as read yet",
      "no mark yet on Site sketch, needs 60 %",
    ]);
  });
  test("of any-of only what can still come true, of none-of what stands in the way", () => {
    const opened = { ...noProgress, openings: [{ personId: "ada", itemId: "safety", at: 1, readAt: null }] };
    expect(
      needs({
        kind: "anyOf",
        of: [
          { kind: "before", moment: "2026-11-01T09:00" },
          { kind: "handedIn", itemId: "sketch" },
        ],
      }),
    ).toEqual(["Site sketch not handed in yet"]);
    expect(needs({ kind: "noneOf", of: [{ kind: "opened", itemId: "safety" }] }, opened)).toEqual([
      "not: opened Safety page",
    ]);
  });
  test("a condition that holds needs nothing, and one on a removed item names nothing", () => {
    expect(needs({ kind: "allOf", of: [] })).toEqual([]);
    expect(needs({ kind: "atLeast", itemId: "gone", percent: 50 })).toEqual(["ask your instructor"]);
  });
  test("what they can never reach is not named: another way is told, or whom to ask", () => {
    const apart = course();
    addLayer(apart, "Sides", ["Left", "Right"]);
    const theirs = addItem(apart, "theirs", { title: "For Left", audience: forOnly(group("Left")), points: 10 });
    addItem(apart, "safety", { title: "Safety page" });
    const of = [
      { kind: "opened" as const, itemId: "safety" },
      { kind: "handedIn" as const, itemId: theirs.id },
    ];
    const item = addItem(apart, "either", { condition: { kind: "anyOf", of } });
    const told = (progress: Progress) => visibilityOf(reachAt(apart, progress, t0), item, 0);
    expect(told(noProgress)).toEqual({ visibility: "announced", needs: ["Safety page not opened yet"] });
    // A mark that they were given there may still become enough.
    item.condition = { kind: "atLeast", itemId: theirs.id, percent: 60 };
    const personId = reachAt(apart, noProgress, t0).students[0] as string;
    const marks = [{ personId, itemId: theirs.id, points: 1, excused: false, at: 1 }];
    expect(told({ ...noProgress, marks } as never)).toEqual({
      visibility: "announced",
      needs: ["ask your instructor"],
    });
  });
  test("on random courses nothing is named that its reader can neither open nor come to", () => {
    fc.assert(
      fc.property(randomCourse, ({ plan: drawn, progress }) => {
        const reach = reachAt(drawn, progress, t0);
        const items = Object.values(drawn.items);
        const named = reach.students.flatMap((personId, place) => {
          const mayCome = futureOf(reach, personId);
          const never = items.filter((one) => !hasBit(reach.sees(one), place) && !mayCome(one));
          const needs = items.flatMap((one) => visibilityOf(reach, one, place).needs);
          return never.filter(({ title }) => needs.some((says) => says.includes(title)));
        });
        expect(named).toEqual([]);
      }),
      { numRuns: Number(process.env.AMBER_RUNS ?? 300) },
    );
  });
  test("opens and condition together are both told, opens first", () => {
    const waiting = course();
    addItem(waiting, "sketch", { title: "Site sketch", kind: "assignment", points: 50 });
    const item = addItem(waiting, "draft", {
      dates: { opens: "2026-12-01T09:00" },
      condition: { kind: "handedIn", itemId: "sketch" },
    });
    expect(visibilityOf(reachAt(waiting, noProgress, t0), item, 0)).toEqual({
      visibility: "announced",
      needs: ["opens Tue 1 Dec, 09:00", "Site sketch not handed in yet"],
    });
  });
});

describe("findings", () => {
  test("an empty audience is nobody, and is warned of while it is published", () => {
    const plan = course();
    addItem(plan, "empty", { audience: forOnly() });
    addItem(plan, "draft", { audience: forOnly(), published: false });
    expect(forNobody(reachAt(plan, noProgress, t0)).map(({ says }) => says)).toEqual(["empty is for nobody."]);
  });
  test("a leak names how many and whom", () => {
    const plan = course();
    addItem(plan, "door", { kind: "folder", seals: false, audience: forOnly(person("ada"), person("ben")) });
    addItem(plan, "page", { parentId: "door" });
    plan.entrances.top = { id: "top", itemId: "page", folderId: null, position: 9 };
    expect(leaks(reachAt(plan, noProgress, t0), sweep(plan))).toMatchObject([
      { personIds: ["cas"], says: "1 student can open page and is not meant to." },
    ]);
  });
  test("dates out of order are reported with everyone they touch, each kind apart", () => {
    const plan = course();
    addItem(plan, "lab", { dates: { opens: "2026-12-01T09:00", due: "2026-12-04T09:00", closes: "2026-12-05T09:00" } });
    plan.overrides.n = { id: "n", itemId: "lab", target: group("North"), dates: { opens: "2026-12-04T10:00" } };
    plan.overrides.e = { id: "e", itemId: "lab", target: section("EV"), dates: { due: "2026-12-06T09:00" } };
    const found = dateFindings(reachAt(plan, noProgress, t0), null, null, new Set(["dates"])).map(
      ({ says, personIds }) => [says, personIds],
    );
    expect(found).toEqual([
      ["lab: due before it opens, for 1 student.", ["ada"]],
      ["lab: closes before it is due, for 2 students.", ["ben", "cas"]],
    ]);
  });
  test("a base that is out of order touches everyone it is meant for, and no one else", () => {
    const plan = course();
    addItem(plan, "lab", {
      audience: forOnly(section("EV")),
      dates: { opens: "2026-12-01T09:00", closes: "2026-11-30T09:00" },
    });
    expect(dateFindings(reachAt(plan, noProgress, t0), null, null, new Set(["dates"])).map(({ says }) => says)).toEqual(
      ["lab: closes before it opens, for 2 students."],
    );
  });
});
