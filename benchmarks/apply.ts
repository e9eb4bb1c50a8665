import { v4, v7 } from "uuid";
import { wholeRoster } from "../src/core/intake/verdict.ts";
import { applyIntake } from "../src/server/intake/intakes.ts";
import { course } from "../src/server/store/courses.ts";
import { closeDatabase, database, insertMany, transaction } from "../src/server/store/database.ts";
import { insertCourse } from "../src/server/store/plan-rows.ts";
import { type Row, sized } from "./measure.ts";
import { emptyCourse, read, rosterText } from "./roster.ts";
import { readyAccount } from "./store.ts";

/**
 * Applying an intake (the rows reconciled again, written in one transaction, kept so that it can be opened and
 * undone), beside a bare batched INSERT of the same people and enrolments in one transaction.
 */
export async function applyRows(): Promise<Row[]> {
  const accountId = await readyAccount();
  const size = sized(20_000, 300);
  const judged = read(rosterText(size, false));
  const best = { ours: Number.POSITIVE_INFINITY, bare: Number.POSITIVE_INFINITY };
  for (let round = 0; round < sized(3, 1); round++) {
    const courseId = v4();
    await transaction((connection) => insertCourse(emptyCourse(courseId).course, connection));
    await course(courseId);
    const started = performance.now();
    await applyIntake(courseId, accountId, {
      intakeId: v7(),
      revision: 1,
      rows: judged,
      options: wholeRoster,
      sectionLayer: null,
      files: ["roster.csv"],
    });
    best.ours = Math.min(best.ours, performance.now() - started);

    const stored = async (table: string) => {
      const [found] = await database().query(`SELECT * FROM ${table} WHERE course_id = ?`, [courseId]);
      return found as Record<string, string | number | null>[];
    };
    const tables: [string, Record<string, string | number | null>[]][] = [
      ["people", await stored("people")],
      ["enrolments", await stored("enrolments")],
    ];
    await database().query("DELETE FROM enrolments WHERE course_id = ?", [courseId]);
    await database().query("DELETE FROM people WHERE course_id = ?", [courseId]);
    const again = performance.now();
    await transaction(async (connection) => {
      for (const [table, found] of tables) {
        const names = Object.keys(found[0] ?? {});
        await insertMany(
          table,
          names,
          found.map((row) =>
            names.map((name) =>
              typeof row[name] === "object" && row[name] !== null ? JSON.stringify(row[name]) : (row[name] ?? null),
            ),
          ),
          connection,
        );
      }
    });
    best.bare = Math.min(best.bare, performance.now() - again);
  }
  await closeDatabase();
  return [
    {
      name: "Intake: apply 20,000 new people",
      ours: best.ours,
      against: [{ name: "bare batched INSERT of the same rows", milliseconds: best.bare, kind: "floor" }],
      note: "people and enrolments, into an empty course",
    },
  ];
}
