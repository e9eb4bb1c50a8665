/** What staff and students are told: explanations, needs, dates, threads, groups, findings. */
import { describe, expect, test } from "vitest";
import { noProgress, type Progress } from "../plan/progress.ts";
import type { Item, Plan } from "../plan/types.ts";
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
import { datesOutOfOrder, emptyAudiences, leaks } from "./audit.ts";
import { judge, stillNeeded } from "./conditions.ts";
import { explain, nameOf, sayAudience, standingOf } from "./explain.ts";
import { reachAt } from "./reach.ts";
import { studentDue, studentGroups, studentIndex, studentItem, studentOutline, studentPage } from "./student-page.ts";

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
const pageOf = (plan: Plan, personId: string, progress: Progress = noProgress, t = t0) => {
  const page = studentPage(plan, progress, personId, t);
  if (!page) throw new Error(`${personId} is no student`);
  return page;
};

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
    expect(stepsOf(plan, "page", "ada", t0 - 1)?.standing).toBe("open");
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
    return condition ? stillNeeded(judge(condition, { plan, progress, memberships, t: t0 })) : [];
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
  test("a condition that holds needs nothing, and one on a removed item says so", () => {
    expect(needs({ kind: "allOf", of: [] })).toEqual([]);
    expect(needs({ kind: "atLeast", itemId: "gone", percent: 50 })).toEqual([
      "no mark yet on a removed item, needs 50 %",
    ]);
  });
  test("opens and condition together are both told, opens first", () => {
    const waiting = course();
    addItem(waiting, "sketch", { title: "Site sketch", kind: "assignment", points: 50 });
    const item = addItem(waiting, "draft", {
      dates: { opens: "2026-12-01T09:00" },
      condition: { kind: "handedIn", itemId: "sketch" },
    });
    expect(standingOf(reachAt(waiting, noProgress, t0), item, 0)).toEqual({
      standing: "announced",
      needs: ["opens Tue 1 Dec, 09:00", "Site sketch not handed in yet"],
    });
  });
});

describe("the student's page", () => {
  test("lists an entry under each of its entrances, and nothing of a folder that is only announced", () => {
    const plan = course();
    addItem(plan, "one", { kind: "folder" });
    addItem(plan, "two", { kind: "folder", dates: { opens: "2026-12-01T09:00" } });
    addItem(plan, "page", { parentId: "one" });
    addItem(plan, "inner", { parentId: "two" });
    plan.entrances.top = { id: "top", itemId: "page", folderId: null, position: 99 };
    const outline = studentOutline(pageOf(plan, "ada"));
    expect(outline.map(({ id, depth, standing }) => [id, depth, standing])).toEqual([
      ["one", 0, "open"],
      ["page", 1, "open"],
      ["two", 0, "announced"],
      ["page", 0, "open"],
    ]);
  });
  test("a folder that is entered from within itself is listed once", () => {
    const plan = course();
    addItem(plan, "outer", { kind: "folder" });
    addItem(plan, "inner", { kind: "folder", parentId: "outer" });
    plan.entrances.back = { id: "back", itemId: "outer", folderId: "inner", position: 1 };
    expect(studentOutline(pageOf(plan, "ada")).map(({ id }) => id)).toEqual(["outer", "inner"]);
  });
  test("dates say where they came from for named layers and sections, and are simply theirs otherwise", () => {
    const plan = course();
    addItem(plan, "lab", { kind: "assignment", dates: { due: "2026-12-01T17:00", attempts: 2 } });
    const add = (id: string, target: ReturnType<typeof group>, due: string) => {
      plan.overrides[id] = { id, itemId: "lab", target, dates: { due } };
    };
    add("bank", group("South"), "2026-12-03T17:00");
    add("plan", group("Extra time"), "2026-12-05T17:00");
    const told = (personId: string) =>
      studentItem(pageOf(plan, personId), "lab")?.dates.map(({ field, says, told: from }) => [field, says, from]);
    expect(told("ada")).toEqual([
      ["due", "Sat 5 Dec, 17:00", null],
      ["attempts", "2", null],
    ]);
    expect(told("ben")?.[0]).toEqual(["due", "Thu 3 Dec, 17:00", "for South"]);
    expect(told("cas")?.[0]).toEqual(["due", "Tue 1 Dec, 17:00", null]);
  });
  test("what is due next leaves out what was handed in, what is past and what is not open", () => {
    const plan = course();
    addItem(plan, "soon", { kind: "assignment", dates: { due: "2026-11-27T17:00" } });
    addItem(plan, "sooner", { kind: "assignment", dates: { due: "2026-11-26T17:00" } });
    addItem(plan, "done", { kind: "assignment", dates: { due: "2026-11-28T17:00" } });
    addItem(plan, "past", { kind: "assignment", dates: { due: "2026-11-20T17:00" } });
    addItem(plan, "closed", { kind: "assignment", dates: { opens: "2026-11-26T09:00", due: "2026-11-29T17:00" } });
    const progress = { ...noProgress, handIns: [{ id: "h", personId: "ada", itemId: "done", at: 1 }] };
    expect(studentDue(pageOf(plan, "ada", progress)).map(({ id }) => id)).toEqual(["sooner", "soon"]);
  });
  test("an index that is off is not there; one that is on lists its kind", () => {
    const plan = course();
    Object.assign(plan.course.indexes, { discussions: true, work: true, calendar: true });
    addItem(plan, "talk", { kind: "discussion" });
    addItem(plan, "marked talk", { kind: "discussion", points: 5 });
    addItem(plan, "lab", { kind: "assignment" });
    addItem(plan, "trip", { kind: "event" });
    addItem(plan, "dated page", { dates: { due: "2026-12-01T09:00" } });
    const page = pageOf(plan, "ada");
    const ids = (kind: "discussions" | "files" | "calendar" | "work") => studentIndex(page, kind)?.map(({ id }) => id);
    expect(ids("files")).toBeUndefined();
    expect(ids("discussions")).toEqual(["marked talk", "talk"]);
    expect(ids("work")).toEqual(["lab", "marked talk"]);
    expect(ids("calendar")).toEqual(["dated page", "trip"]);
  });
  test.each([
    ["sealed", "ada", [["North", true]]],
    [
      "readable",
      "ada",
      [
        ["North", true],
        ["South", false],
      ],
    ],
    [
      "shared",
      "ada",
      [
        ["North", true],
        ["South", true],
      ],
    ],
    ["sealed", "cas", []],
    ["readable", "cas", []],
  ] as const)("a %s split shows %s the threads %j", (between, personId, threads) => {
    const plan = course();
    addItem(plan, "talk", { kind: "discussion", split: { layerId: "Banks", between } });
    const shown = studentItem(pageOf(plan, personId), "talk")?.threads?.map(({ group: one, own }) => [one.label, own]);
    expect(shown).toEqual(threads);
  });
  test("hand-ins are taken until it closes and while attempts are left, and only for assignments", () => {
    const plan = course();
    addItem(plan, "lab", { kind: "assignment", dates: { attempts: 1, closes: "2026-11-26T09:00" } });
    addItem(plan, "page");
    const handIn = { ...noProgress, handIns: [{ id: "h", personId: "ada", itemId: "lab", at: 1 }] };
    const state = (progress: Progress, t = t0) => studentItem(pageOf(plan, "ada", progress, t), "lab")?.handIn;
    expect(state(noProgress)).toEqual({ taken: true, why: "" });
    expect(state(handIn)).toEqual({ taken: false, why: "You have used 1 of 1 attempts." });
    expect(state(noProgress, t0 + 86_400_000)).toEqual({ taken: false, why: "It closed on Thu 26 Nov, 09:00." });
    expect(studentItem(pageOf(plan, "ada"), "page")?.handIn).toBeNull();
  });
  test("a mark shows once it is given, and groups of private layers never", () => {
    const plan = course();
    addItem(plan, "lab", { kind: "assignment", points: 20 });
    const progress = { ...noProgress, marks: [{ personId: "ada", itemId: "lab", points: 15, excused: false, at: t0 }] };
    expect(studentItem(pageOf(plan, "ada", progress, t0 - 1), "lab")?.mark).toBeNull();
    expect(studentItem(pageOf(plan, "ada", progress), "lab")?.mark).toEqual({ points: 15, excused: false });
    expect(studentGroups(pageOf(plan, "ada")).map(({ group: one }) => one.label)).toEqual(["North"]);
  });
  test("nobody but a student of the course has one", () => {
    const plan = course();
    Object.assign(plan.enrolments["cas in EV"] as object, { role: "instructor" });
    expect(studentPage(plan, noProgress, "cas", t0)).toBeNull();
    expect(studentPage(plan, noProgress, "nobody", t0)).toBeNull();
  });
});

describe("findings", () => {
  test("an empty audience is nobody, and is warned of while it is published", () => {
    const plan = course();
    addItem(plan, "empty", { audience: forOnly() });
    addItem(plan, "draft", { audience: forOnly(), published: false });
    expect(emptyAudiences(reachAt(plan, noProgress, t0)).map(({ says }) => says)).toEqual(["empty is for nobody."]);
  });
  test("a leak names how many and whom", () => {
    const plan = course();
    addItem(plan, "door", { kind: "folder", seals: false, audience: forOnly(person("ada"), person("ben")) });
    addItem(plan, "page", { parentId: "door" });
    plan.entrances.top = { id: "top", itemId: "page", folderId: null, position: 9 };
    expect(leaks(reachAt(plan, noProgress, t0))).toMatchObject([
      { personIds: ["cas"], says: "1 student can open page and is not meant to." },
    ]);
  });
  test("dates out of order are reported with everyone they touch, each kind apart", () => {
    const plan = course();
    addItem(plan, "lab", { dates: { opens: "2026-12-01T09:00", due: "2026-12-04T09:00", closes: "2026-12-05T09:00" } });
    plan.overrides.n = { id: "n", itemId: "lab", target: group("North"), dates: { opens: "2026-12-04T10:00" } };
    plan.overrides.e = { id: "e", itemId: "lab", target: section("EV"), dates: { due: "2026-12-06T09:00" } };
    const found = datesOutOfOrder(reachAt(plan, noProgress, t0)).map(({ says, personIds }) => [says, personIds]);
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
    expect(datesOutOfOrder(reachAt(plan, noProgress, t0)).map(({ says }) => says)).toEqual([
      "lab: closes before it opens, for 2 students.",
    ]);
  });
});
