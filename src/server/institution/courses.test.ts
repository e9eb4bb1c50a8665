/** The list of courses: found by words, term and state, a page at a time, with what is so of each. */
import { join } from "node:path";
import { v4 } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { coursePlan } from "../../core/tests/fixture.ts";
import { createAccount } from "../accounts/accounts.ts";
import { closeDatabase, run, transaction } from "../store/database.ts";
import { migrate } from "../store/migrate.ts";
import { insertCourse } from "../store/plan-rows.ts";
import { type CourseQuestion, coursesListed } from "./courses.ts";

beforeAll(() => migrate(join(import.meta.dirname, "../../../database"), () => {}));
afterAll(closeDatabase);

const term = `Term ${v4()}`;
const made = (code: string, termStart: string, termEnd: string) => {
  const course = { ...coursePlan().course, id: v4(), code, title: "Rivers 100 %", term, termStart, termEnd };
  return transaction((connection) => insertCourse(course, connection)).then(() => course.id);
};
const asked = { words: "", term, state: "", page: 1 } satisfies CourseQuestion;
const codes = async (question: Partial<CourseQuestion>) =>
  (await coursesListed({ ...asked, ...question }, { day: "2026-11-25", at: Date.now() })).rows.map(({ code }) => code);

describe("the courses of an institution", () => {
  it("are found by every word, by state on the days of their term, and by nothing that a sign would stand for", async () => {
    await made("OLD 1", "2026-01-05", "2026-11-24");
    await made("NOW 1", "2026-11-25", "2026-12-18");
    await made("NOW 2", "2026-09-14", "2026-11-25");
    await made("NEW 1", "2026-11-26", "2027-02-01");
    expect(await codes({})).toEqual(["NEW 1", "NOW 1", "NOW 2", "OLD 1"]);
    expect(await codes({ state: "running" })).toEqual(["NOW 1", "NOW 2"]);
    expect(await codes({ state: "to come" })).toEqual(["NEW 1"]);
    expect(await codes({ state: "over" })).toEqual(["OLD 1"]);
    expect(await codes({ words: "rivers now" })).toEqual(["NOW 1", "NOW 2"]);
    expect(await codes({ words: "100 %" })).toHaveLength(4);
    expect(await codes({ words: "O_D" })).toEqual([]);
    // Nobody is in any of them, and the audit has asked none.
    expect(await codes({ state: "empty" })).toHaveLength(4);
    expect(await codes({ state: "with findings" })).toEqual([]);
    expect(await codes({ state: "drafting" })).toEqual([]);
  });
  it("are archived or not, and say what the audit found in them when it asked", async () => {
    const id = await made("ARC 1", "2026-11-01", "2026-12-18");
    expect(await codes({ words: "ARC", state: "empty" })).toEqual(["ARC 1"]);
    await run("UPDATE course_findings SET students = 3, leaks = 2, stranded = 1 WHERE course_id = ?", [id]);
    const [first] = (await coursesListed({ ...asked, words: "ARC" }, { day: "2026-11-25", at: Date.now() })).rows;
    expect(first).toMatchObject({ state: "running", findings: "2 leaks, 1 stranded" });
    expect(await codes({ words: "ARC", state: "with findings" })).toEqual(["ARC 1"]);
    expect(await codes({ words: "ARC", state: "empty" })).toEqual([]);
    await run("UPDATE course_findings SET students = 0 WHERE course_id = ?", [id]);
    expect(await codes({ words: "ARC", state: "empty" })).toEqual(["ARC 1"]);
    await run("UPDATE courses SET archived_at = 1 WHERE id = ?", [id]);
    expect(await codes({ words: "ARC", state: "archived" })).toEqual(["ARC 1"]);
    for (const state of ["running", "empty"] as const) expect(await codes({ words: "ARC", state })).toEqual([]);
  });
  it("come fifty a page, and a page that there is not is the last one", async () => {
    for (let at = 0; at < 60; at++) await made(`SUM ${String(at).padStart(2, "0")}`, "2026-11-01", "2026-12-18");
    const all = [...(await codes({ words: "SUM" })), ...(await codes({ words: "SUM", page: 2 }))];
    expect(new Set(all).size).toBe(60);
    expect(await codes({ words: "SUM", page: 99 })).toHaveLength(10);
    expect(await codes({ words: "SUM", page: Number.NaN })).toHaveLength(50);
  });
  it("count a draft where something stands in it, not where somebody only looked or took it back", async () => {
    const id = await made("DRA 1", "2026-11-01", "2026-12-18");
    const drafts = async () =>
      (await coursesListed({ ...asked, words: "DRA" }, { day: "2026-11-25", at: Date.now() })).rows[0]?.drafts;
    const username = v4();
    const accountId = await createAccount({ username, sourcedId: v4(), displayName: "A, B", passwordHash: null });
    await run("INSERT INTO drafts (course_id, account_id, version) VALUES (?, ?, 0)", [id, accountId]);
    expect(await drafts()).toBe(0);
    const command =
      "INSERT INTO draft_commands (id, course_id, account_id, position, command, undone) VALUES (?, ?, ?, ?, '{}', ?)";
    await run(command, [v4(), id, accountId, 1, true]);
    expect(await drafts()).toBe(0);
    for (const position of [2, 3]) await run(command, [v4(), id, accountId, position, false]);
    expect(await drafts()).toBe(1);
  });
});
