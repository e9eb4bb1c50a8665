/**
 * The administrator's lists at 20,000 courses and 500,000 people, beside a reading of one page by its primary key: the least
 * that the database could do. Goal: each under 100 ms.
 */
import { join } from "node:path";
import type { PoolConnection } from "mysql2/promise";
import { v7 } from "uuid";
import { coursePlan } from "../src/core/tests/fixture.ts";
import { coursesListed } from "../src/server/institution/courses.ts";
import { accountsListed } from "../src/server/institution/people.ts";
import { closeDatabase, database, insertMany, rows } from "../src/server/store/database.ts";
import { migrate } from "../src/server/store/migrate.ts";
import { insertCourse } from "../src/server/store/plan-rows.ts";
import { fastest, type Row, sized } from "./measure.ts";

const [courses, people] = [sized(20_000, 60), sized(500_000, 600)];
const at = Date.parse("2026-11-25T10:00:00Z");
const names = ["Keating", "Mbeki", "Reyes", "Anghel", "Fennelly", "Castellano", "Walczak", "Darwish"];

/** Copies of one course. */
async function fillCourses(connection: PoolConnection): Promise<string[]> {
  const ids = Array.from({ length: courses }, () => v7());
  const { course } = coursePlan();
  await insertCourse({ ...course, id: ids[0] as string, code: "CRS 00000" }, connection);
  const [first] = await rows<Record<string, string | number | null>>("SELECT * FROM courses WHERE id = ?", [
    ids[0] as string,
  ]);
  if (!first) throw new Error("no course");
  const columns = Object.keys(first);
  const copied = ids.slice(1).map((id, place) => {
    const late = place % 4 === 0;
    const own = {
      ...first,
      ...{
        id,
        code: `CRS ${String(place + 1).padStart(5, "0")}`,
        title: `${names[place % 8]} rivers`,
        term: `T${place % 4}`,
      },
      ...(late ? { term_start: "2027-01-10", term_end: "2027-05-20" } : {}),
    };
    return columns.map((name) => {
      const value = (own as typeof first)[name] ?? null;
      return typeof value === "object" && value !== null ? JSON.stringify(value) : value;
    });
  });
  await insertMany("courses", columns, copied, connection);
  return ids;
}

/** People with an account, each in one of the courses. */
async function fillPeople(ids: string[], connection: PoolConnection): Promise<void> {
  for (let from = 0; from < people; from += 50_000) {
    const some = Array.from({ length: Math.min(50_000, people - from) }, (_, place) => {
      const number = from + place;
      const name = `${names[number % 8]}, ${number.toString(36)}`;
      return { id: v7(), number, name, courseId: ids[number % courses] as string };
    });
    await insertMany(
      "accounts",
      ["id", "username", "login", "sourced_id", "display_name", "email"],
      some.map(({ id, number, name }) => [
        id,
        `u${number}`,
        `u${number}`,
        `s${number}`,
        name,
        `u${number}@example.org`,
      ]),
      connection,
    );
    await insertMany(
      "people",
      ["id", "course_id", "sourced_id", "given_name", "family_name", "attributes"],
      some.map(({ id, number, name, courseId }) => [id, courseId, `s${number}`, "A", name, "{}"]),
      connection,
    );
    await insertMany(
      "enrolments",
      ["id", "course_id", "person_id", "role", "since", "origin", "home"],
      some.map(({ id, courseId, number }) => [
        v7(),
        courseId,
        id,
        number < courses ? "coordinator" : "student",
        0,
        "roster",
        false,
      ]),
      connection,
    );
  }
}

/** Some courses are empty, and some the audit has not asked yet. */
const studentsSaid = (place: number): number => (place % 100 === 0 ? 0 : place % 200 === 1 ? -1 : 24);

async function fill(): Promise<string[]> {
  const connection = await database().getConnection();
  const ids = await fillCourses(connection);
  await fillPeople(ids, connection);
  connection.release();
  await insertMany(
    "course_findings",
    ["course_id", "revision", "at", "students", "leaks", "stranded", "others"],
    ids.map((id, place) => [id, 1, at, studentsSaid(place), place % 50 === 0 ? 2 : 0, 0, place % 10]),
    connection,
    "ON DUPLICATE KEY UPDATE students = VALUES(students)",
  );
  await rows("ANALYZE TABLE courses, accounts, people, enrolments");
  return ids;
}

const asked = { words: "", term: "", state: "", page: 1 } as const;
const listed = (question: Partial<Parameters<typeof coursesListed>[0]>) =>
  coursesListed({ ...asked, ...question }, { day: "2026-11-25", at });

export async function listRows(): Promise<Row[]> {
  await migrate(join(process.cwd(), "database"), () => {});
  const ids = (await fill()).slice(0, 50);
  const tasks = {
    floor: () => rows(`SELECT * FROM courses WHERE id IN (${ids.map(() => "?").join(", ")})`, ids),
    "Courses, the first page": () => listed({}),
    "Courses, the last page": () => listed({ page: 1e6 }),
    "Courses by words": () => listed({ words: "reyes 00" }),
    "Courses that run": () => listed({ state: "running" }),
    "Courses that are empty": () => listed({ state: "empty" }),
    "Courses with findings": () => listed({ state: "with findings" }),
    "People, the first page": () => accountsListed("", 1),
    "People, the last page": () => accountsListed("", 1e6),
    "People by name": () => accountsListed("reyes, 1", 1),
    "People by username": () => accountsListed("u4321", 1),
  };
  const best = await fastest(tasks as Record<string, () => unknown>, 5);
  await closeDatabase();
  return Object.keys(tasks)
    .filter((name) => name !== "floor")
    .map((name) => ({
      name,
      ours: best[name] as number,
      against: [{ name: "50 courses by their ids", milliseconds: best.floor as number, kind: "floor" as const }],
      note: `${courses} courses, ${people} people; goal under 100 ms`,
    }));
}
