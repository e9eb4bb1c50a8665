/**
 * The filter of the gradebook bench asked of MariaDB and of arquero, each as its documentation advises; and a pasted
 * block of 5,000 marks stored, beside a bare batched write of the same rows. Equal answers, checked.
 */

import { join } from "node:path";
import * as arquero from "arquero";
import { v4, v7 } from "uuid";
import { isMistake, parseFilter } from "../src/core/gradebook/filter.ts";
import { matcher } from "../src/core/gradebook/match.ts";
import { sheetOf } from "../src/core/gradebook/sheet.ts";
import { wholeRoster } from "../src/core/intake/verdict.ts";
import { reachAt } from "../src/core/reach/reach.ts";
import { createAccount } from "../src/server/accounts/accounts.ts";
import { recordMarks } from "../src/server/course/marking.ts";
import { applyIntake } from "../src/server/intake/intakes.ts";
import { course } from "../src/server/store/courses.ts";
import { closeDatabase, database, insertMany, rows, transaction } from "../src/server/store/database.ts";
import { migrate } from "../src/server/store/migrate.ts";
import { insertCourse } from "../src/server/store/plan-rows.ts";
import { asked, markedCourse } from "./gradebook.ts";
import { fastest, keep, type Row, sized } from "./measure.ts";
import { now } from "./reach.ts";
import { emptyCourse, read, rosterText } from "./roster.ts";

async function filterRow(): Promise<Row> {
  const { plan, progress } = markedCourse();
  const sheet = sheetOf(reachAt(plan, progress, now));
  const { students } = sheet.reach;
  const totals = sheet.percentages();
  const filter = parseFilter(asked);
  if (isMistake(filter)) throw new Error(filter.says);
  const ours = () => matcher(filter, sheet).rows();
  const wanted = ours().map((id) => students.indexOf(id));
  const section = Object.values(plan.sections).find(({ code }) => code === "S03")?.id;
  const group = Object.values(plan.groups).find(({ name }) => name === "Layer 1 group 2")?.id;
  const sectionOf = new Map(Object.values(plan.enrolments).map(({ personId, sectionId }) => [personId, sectionId]));
  const inGroup = new Set(
    Object.values(plan.placements)
      .filter(({ groupId }) => groupId === group)
      .map(({ personId }) => personId),
  );
  const own = students.map((id, at) => ({
    id: at,
    section: sectionOf.get(id) === section ? 3 : 0,
    groups: inGroup.has(id) ? 2 : 0,
    total: Number.isNaN(totals[at]) ? null : (totals[at] as number),
  }));
  const cells = sheet.columns.flatMap((item, column) =>
    Array.from(sheet.column(item).states, (state, student) => ({ student, column, state })),
  );

  const connection = database();
  await connection.query(
    "CREATE OR REPLACE TABLE peer_students (id INT PRIMARY KEY, section INT, grouped INT, total DOUBLE, KEY (section, grouped))",
  );
  await connection.query(
    "CREATE OR REPLACE TABLE peer_cells (student INT, item INT, state TINYINT, PRIMARY KEY (student, item), KEY (student, state))",
  );
  await connection.query("INSERT INTO peer_students VALUES ?", [
    own.map((one) => [one.id, one.section, one.groups, one.total]),
  ]);
  for (let from = 0; from < cells.length; from += 20_000)
    await connection.query("INSERT INTO peer_cells VALUES ?", [
      cells.slice(from, from + 20_000).map((one) => [one.student, one.column, one.state]),
    ]);
  await connection.query("ANALYZE TABLE peer_students, peer_cells");
  const byDatabase = async () => {
    const [found] = await connection.query(
      `SELECT id FROM peer_students WHERE section = 3 AND grouped = 2 AND total < 60
       AND EXISTS (SELECT 1 FROM peer_cells WHERE student = peer_students.id AND state = 4) ORDER BY id`,
    );
    return (found as { id: number }[]).map(({ id }) => id);
  };
  const studentTable = arquero.table({
    id: own.map(({ id }) => id),
    section: own.map((one) => one.section),
    groups: own.map((one) => one.groups),
    total: own.map(({ total }) => total ?? Number.NaN),
  });
  const cellTable = arquero.table({
    id: Int32Array.from(cells, ({ student }) => student),
    state: Uint8Array.from(cells, ({ state }) => state),
  });
  type Student = { section: number; groups: number; total: number };
  const byFrame = (): number[] =>
    studentTable
      .filter(arquero.escape((d: Student) => d.section === 3 && d.groups === 2 && d.total < 60))
      .semijoin(cellTable.filter(arquero.escape((d: { state: number }) => d.state === 4)), "id")
      .array("id") as number[];
  for (const found of [await byDatabase(), [...byFrame()]])
    if (JSON.stringify(found) !== JSON.stringify(wanted)) throw new Error("The filter and a peer differ.");
  const best = await fastest(
    { ours: () => keep(ours().length), database: byDatabase, frame: () => keep(byFrame().length) },
    15,
  );
  return {
    name: "Gradebook: a filter of four terms, and peers",
    ours: best.ours,
    against: [
      { name: "MariaDB, indexed", milliseconds: best.database, kind: "peer" },
      { name: "arquero", milliseconds: best.frame, kind: "peer" },
    ],
    note: "5,000 students, 600,000 cells; target faster than both",
  };
}

async function pasteRow(): Promise<Row> {
  const courseId = v4();
  await createAccount({ username: "bench", sourcedId: "bench", displayName: "Bench", passwordHash: "x" });
  const accountId = (await rows<{ id: string }>("SELECT id FROM accounts"))[0]?.id ?? "";
  await transaction((connection) => insertCourse(emptyCourse(courseId).course, connection));
  await course(courseId);
  await applyIntake(courseId, accountId, {
    intakeId: v7(),
    revision: 1,
    rows: read(rosterText(sized(5000, 200), false)),
    options: wholeRoster,
    sectionLayer: null,
    files: ["roster.csv"],
  });
  const people = (await rows<{ id: string }>("SELECT id FROM people WHERE course_id = ? LIMIT 5000", [courseId])).map(
    ({ id }) => id,
  );
  const value = { points: 12.5, excused: false };
  const best = await fastest(
    {
      ours: async () => {
        const itemId = v4();
        const marks = people.map((personId) => ({ itemId, personId, ...value, seen: null }));
        const { stored } = await recordMarks({ courseId, by: accountId, at: Date.now(), copiesOf: () => [] }, marks);
        if (stored.length !== people.length) throw new Error("Not every mark was stored.");
      },
      bare: async () => {
        const itemId = v4();
        await transaction((connection) =>
          insertMany(
            "marks",
            ["course_id", "item_id", "person_id", "points", "excused", "at", "marked_by"],
            people.map((personId) => [courseId, itemId, personId, 12.5, false, Date.now(), accountId]),
            connection,
          ),
        );
      },
    },
    9,
  );
  return {
    name: `Gradebook: a block of ${people.length.toLocaleString("en-GB")} marks stored`,
    ours: best.ours,
    against: [{ name: "a bare batched write of the same rows", milliseconds: best.bare, kind: "floor" }],
    note: "each held against what is stored; target at most 1.5",
  };
}

export async function gradebookPeerRows(): Promise<Row[]> {
  await migrate(join(process.cwd(), "database"), () => undefined);
  const found = [await filterRow(), await pasteRow()];
  await closeDatabase();
  return found;
}
