/** What a student's own page lists, and what it says of dates, hand-ins and marks. */
import { describe, expect, test } from "vitest";
import { noProgress, type Progress } from "../plan/progress.ts";
import type { Plan } from "../plan/types.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, group, t0 } from "../tests/fixture.ts";
import {
  studentClassList,
  studentDue,
  studentGroups,
  studentIndex,
  studentItem,
  studentOutline,
  studentPage,
  studentSearch,
} from "./student-page.ts";

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
const pageOf = (plan: Plan, personId: string, progress: Progress = noProgress, t = t0) => {
  const page = studentPage(plan, progress, personId, t);
  if (!page) throw new Error(`${personId} is no student`);
  return page;
};

describe("the student's page", () => {
  test("lists an entry under each of its entrances, and nothing of a folder that is only announced", () => {
    const plan = course();
    addItem(plan, "one", { kind: "folder" });
    addItem(plan, "two", { kind: "folder", dates: { opens: "2026-12-01T09:00" } });
    addItem(plan, "page", { parentId: "one" });
    addItem(plan, "inner", { parentId: "two" });
    plan.entrances.top = { id: "top", itemId: "page", folderId: null, position: 99 };
    const outline = studentOutline(pageOf(plan, "ada"));
    expect(outline.map(({ id, depth, visibility }) => [id, depth, visibility])).toEqual([
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
    addItem(plan, "also soon", { kind: "quiz", dates: { due: "2026-11-27T17:00" } });
    addItem(plan, "sooner", { kind: "assignment", dates: { due: "2026-11-26T17:00" } });
    addItem(plan, "done", { kind: "assignment", dates: { due: "2026-11-28T17:00" } });
    addItem(plan, "past", { kind: "assignment", dates: { due: "2026-11-20T17:00" } });
    addItem(plan, "closed", { kind: "assignment", dates: { opens: "2026-11-26T09:00", due: "2026-11-29T17:00" } });
    const progress = { ...noProgress, handIns: [{ id: "h", personId: "ada", itemId: "done", at: 1 }] };
    expect(studentDue(pageOf(plan, "ada", progress)).map(({ id }) => id)).toEqual(["sooner", "also soon", "soon"]);
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
    plan.course.indexes.files = true;
    addItem(plan, "handout", { kind: "file" });
    expect(studentIndex(pageOf(plan, "ada"), "files")?.map(({ id }) => id)).toEqual(["handout"]);
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
    expect(state(noProgress)).toEqual({ taken: true, why: "", left: 1, together: [] });
    expect(state(handIn)).toEqual({ taken: false, why: "You have used 1 of 1 attempts.", left: 0, together: [] });
    expect(state(noProgress, t0 + 86_400_000)).toEqual({
      taken: false,
      why: "It closed on Thu 26 Nov, 09:00.",
      left: 1,
      together: [],
    });
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

describe("the class list (section 4, who sees whom)", () => {
  const listOf = (personId: string, classList: Plan["course"]["classList"]) => {
    const plan = course();
    plan.course = { ...plan.course, classList };
    return studentClassList(pageOf(plan, personId));
  };
  test("everyone, those who share a group of a layer, or nobody", () => {
    expect(listOf("ada", { to: "everyone" })).toEqual(["ada", "ben", "cas"]);
    expect(listOf("ada", { to: "layer", layerId: "Banks" })).toEqual(["ada"]);
    expect(listOf("ben", { to: "layer", layerId: "Banks" })).toEqual(["ben"]);
    // In none of the groups, a student finds themselves.
    expect(listOf("cas", { to: "layer", layerId: "Banks" })).toEqual(["cas"]);
    expect(listOf("ada", { to: "nobody" })).toBeNull();
  });
  test("a visitor has none", () => {
    const page = { ...pageOf(course(), "ada"), visits: true };
    expect(studentClassList(page)).toBeNull();
  });
});

describe("search", () => {
  test("finds words of titles and texts of what is open, titles alone of what is announced, and nothing else", () => {
    const plan = course();
    addItem(plan, "open", { title: "Kit list", body: "<p>Waders and <em>two</em> pencils</p>" });
    addItem(plan, "later", {
      title: "Weir map",
      body: "<p>Waders on page two</p>",
      dates: { opens: "2026-12-01T09:00" },
    });
    addItem(plan, "hidden", { title: "Weir notes", audience: { to: [group("South")], minus: [] } });
    const found = (words: string) => studentSearch(pageOf(plan, "ada"), words).map(({ id }) => id);
    expect(found("WADERS two")).toEqual(["open"]);
    expect(found("weir")).toEqual(["later"]);
    expect(found("em")).toEqual([]);
    expect(found("  ")).toEqual([]);
  });
});

describe("writing and reading", () => {
  test("a discussion takes posts until it closes; a page is read once it is marked so", () => {
    const plan = course();
    addItem(plan, "talk", { kind: "discussion", dates: { closes: "2026-11-25T10:00" } });
    addItem(plan, "page");
    const before = studentItem(pageOf(plan, "ada", noProgress, t0 - 1), "talk");
    expect(before?.post).toEqual({ taken: true, why: "" });
    expect(studentItem(pageOf(plan, "ada"), "talk")?.post).toEqual({
      taken: false,
      why: "It closed on Wed 25 Nov, 10:00. It can still be read.",
    });
    const progress = { ...noProgress, openings: [{ personId: "ada", itemId: "page", at: 1, readAt: t0 }] };
    expect(studentItem(pageOf(plan, "ada", progress, t0 - 1), "page")?.read).toBe(false);
    expect(studentItem(pageOf(plan, "ada", progress), "page")?.read).toBe(true);
    expect(studentItem(pageOf(plan, "ada"), "talk")?.read).toBeNull();
  });
});
