import { v7 } from "uuid";
import { afterAll, beforeAll, expect, test } from "vitest";
import { coordinatorOf, type Desk, openDesk, sendFile } from "../../tests/desk.ts";
import { course } from "../store/courses.ts";
import { closeDatabase, rows, run } from "../store/database.ts";
import { keepToRetention, retentionGrace } from "./retention.ts";
import { keepTerm, termsOf } from "./terms.ts";

let desk: Desk;
let by: string;
const name = `Kept ${v7()}`;
const termId = v7();
beforeAll(async () => {
  desk = await openDesk();
  by = await coordinatorOf(desk);
  // A term of its own: the other courses of this database are none of its business.
  await run("UPDATE courses SET term = ? WHERE id = ?", [name, desk.courseId]);
});
afterAll(closeDatabase);

const day = (text: string) => Date.parse(`${text}T12:00:00Z`);
const said = { by: "", at: day("2027-02-01") };
const keep = (workUntil: string | null, coursesUntil: string | null, at = said.at) =>
  keepTerm(
    termId,
    { name, starts: "2026-09-28", ends: "2027-01-29", noClassDays: [], workUntil, coursesUntil },
    { by, at },
  );
const count = async (sql: string): Promise<number> =>
  Number((await rows<{ count: number }>(`SELECT COUNT(*) AS count FROM ${sql}`, [desk.courseId]))[0]?.count);
const own = async () => (await termsOf()).find(({ id }) => id === termId);

test("nothing goes where no day is named, before its day is over, or within a week of naming it", async () => {
  await keep(null, null);
  await keepToRetention(day("2099-01-01"));
  await keep("2027-03-01", null);
  await keepToRetention(day("2027-03-01"));
  await keep("2027-02-28", null, day("2027-03-02"));
  await keepToRetention(day("2027-03-02") + retentionGrace - 1);
  expect(await own()).toMatchObject({ courses: 1, withWork: 1 });
  expect(await count("hand_ins WHERE body <> '' AND course_id = ?")).toBeGreaterThan(0);
  // Keeping a term as it was does not begin the week again.
  await keep("2027-02-28", null, day("2027-03-08"));
  await keepToRetention(day("2027-03-02") + retentionGrace);
  expect(await own()).toMatchObject({ courses: 1, withWork: 0 });
});

test("words and files of students go, and are counted to nobody; marks, groups, materials and history stay", async () => {
  const { courseId, moment } = desk;
  const other = await openDesk();
  await run("UPDATE courses SET term = ? WHERE id = ?", [name, other.courseId]);
  const [posted] = await rows<{ id: string }>("SELECT id FROM posts WHERE course_id = ? LIMIT 1", [other.courseId]);
  const accountId = await coordinatorOf(other);
  const file = await sendFile(other.courseId, accountId, { name: "mine.csv", bytes: Buffer.from("a,b") }, moment);
  const fileId = "id" in file ? file.id : "";
  await run("UPDATE posts SET file_id = ? WHERE id = ?", [fileId, posted?.id ?? ""]);
  const bytes = () => rows("SELECT bytes FROM stored_bytes WHERE holder IN (?, ?)", [other.courseId, accountId]);
  const kept = () =>
    Promise.all(
      ["marks", "placements", "items", "revisions", "posts", "hand_ins"].map(async (table) =>
        rows(`SELECT COUNT(*) FROM ${table} WHERE course_id = ?`, [other.courseId]),
      ),
    );
  const [before, stored] = [await kept(), await bytes()];
  expect(await keepToRetention(day("2027-04-01"))).toMatchObject({ work: 1, courses: 0 });
  expect(await kept()).toEqual(before);
  expect(await bytes()).not.toEqual(stored);
  const words = "SELECT id FROM posts WHERE course_id = ? AND body NOT LIKE 'Deleted:%'";
  expect(await rows(words, [other.courseId])).toEqual([]);
  expect(await rows("SELECT id FROM hand_ins WHERE course_id = ? AND body <> ''", [other.courseId])).toEqual([]);
  expect(await rows("SELECT id FROM files WHERE id = ?", [fileId])).toEqual([]);
  expect(await count("journal WHERE says LIKE 'The words and files%' AND course_id = ?")).toBe(1);
  expect((await course(courseId))?.plan.course.id).toBe(courseId);
  // Done once: nothing is left to do.
  expect(await keepToRetention(day("2027-04-02"))).toEqual({ work: 0, courses: 0 });
  await run("UPDATE courses SET term = 'Another' WHERE id = ?", [other.courseId]);
});

test("a course whose day is over goes out of every table, and no other course loses a row", async () => {
  const { courseId } = desk;
  const tables = (await rows<Record<string, string>>("SHOW TABLES")).flatMap((row) => Object.values(row));
  const counts = async () => {
    const found = new Map<string, number>();
    for (const table of tables)
      found.set(table, Number((await rows<{ n: number }>(`SELECT COUNT(*) AS n FROM \`${table}\``))[0]?.n));
    return found;
  };
  const rowsOf = async (table: string): Promise<number> => {
    const [column] = await rows(
      "SELECT 1 FROM information_schema.columns WHERE table_schema = DATABASE() AND column_name = 'course_id' AND table_name = ?",
      [table],
    );
    return column ? await count(`\`${table}\` WHERE course_id = ?`) : 0;
  };
  const theirs = new Map<string, number>();
  for (const table of tables) theirs.set(table, await rowsOf(table));
  const before = await counts();
  await keep("2027-03-01", "2027-06-30", day("2027-03-01"));
  expect(await keepToRetention(day("2027-07-01"))).toMatchObject({ courses: 1 });
  expect(await course(courseId)).toBeNull();
  for (const table of tables) {
    const sql = `SELECT * FROM \`${table}\``;
    const holds = (await rows<Record<string, unknown>>(sql)).some((row) => Object.values(row).includes(courseId));
    expect([table, holds]).toEqual([table, false]);
  }
  const after = await counts();
  const beside = new Set(["courses", "stored_bytes", "security_events", "post_versions", "file_parts"]);
  for (const table of tables.filter((one) => !beside.has(one) && !one.endsWith("_versions")))
    expect([table, after.get(table)]).toEqual([table, (before.get(table) ?? 0) - (theirs.get(table) ?? 0)]);
  expect(after.get("courses")).toBe((before.get("courses") ?? 0) - 1);
  const orphans = "SELECT v.post_id FROM post_versions v LEFT JOIN posts p ON p.id = v.post_id WHERE p.id IS NULL";
  expect(await rows(orphans)).toEqual([]);
  const parts = "SELECT b.file_id FROM file_parts b LEFT JOIN files f ON f.id = b.file_id WHERE f.id IS NULL";
  expect(await rows(parts)).toEqual([]);
});
