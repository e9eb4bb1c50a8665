/**
 * Plan rows to and from SQL rows: one description a table, one function that turns a difference into SQL.
 */
import { setImmediate as others } from "node:timers/promises";
import type { PoolConnection } from "mysql2/promise";
import type { Row, RowChange } from "../../core/plan/difference.ts";
import { type Course, type Plan, type TableName, tableNames } from "../../core/plan/types.ts";
import { fromJson, insertMany, rows, run } from "./database.ts";

type Codec = "plain" | "flag" | "json";
const plain = (...names: string[]) => names.map((name) => [name, "plain"] as [string, Codec]);
const flag = (...names: string[]) => names.map((name) => [name, "flag"] as [string, Codec]);
const json = (...names: string[]) => names.map((name) => [name, "json"] as [string, Codec]);

const columns: Record<TableName | "course", [string, Codec][]> = {
  course: [
    ...plain(
      "id",
      "code",
      "title",
      "term",
      "termStart",
      "termEnd",
      "timeZone",
      "datePolicy",
      "visitorCode",
      "meetingLayerId",
      "unequalShare",
    ),
    ...flag("mayWriteToStaff", "mayCompareWithOthers"),
    ...json("noClassDays", "layerOrder", "indexes", "classList", "tellingWords", "splitting", "grading", "staffMay"),
  ],
  sections: [...plain("id", "code", "title", "studentTitle"), ...json("pattern", "noClassDays", "moved", "added")],
  people: [...plain("id", "sourcedId", "username", "email", "givenName", "familyName"), ...json("attributes")],
  enrolments: [...plain("id", "personId", "sectionId", "role", "since", "until", "origin"), ...flag("home")],
  layers: [
    ...plain("id", "position", "name", "rule", "archivedAt"),
    ...flag("private"),
    ...json("following", "keepApart", "forming", "selfPlacement"),
  ],
  groups: [
    ...plain(
      "id",
      "layerId",
      "position",
      "name",
      "label",
      "min",
      "max",
      "description",
      "scopeGroupId",
      "code",
      "archivedAt",
    ),
    ...json("stripe", "leads", "pattern", "noClassDays", "moved", "added", "page"),
  ],
  sets: [...plain("id", "name"), ...json("groupIds")],
  placements: [...plain("id", "groupId", "personId", "since", "until"), ...flag("held")],
  items: [
    ...plain("id", "parentId", "position", "kind", "title", "body", "points", "pageOf", "categoryId"),
    ...flag("published", "seals", "announced", "readableAfterClose", "leadHandsIn"),
    ...json("audience", "condition", "variants", "dates", "split", "quiz", "file", "owners", "combines"),
  ],
  entrances: plain("id", "itemId", "folderId", "position"),
  overrides: [...plain("id", "itemId"), ...json("target", "dates")],
  allowances: [...plain("id", "minutesFactor", "extraDays", "extraAttempts"), ...json("target")],
  acceptances: plain("id", "finding", "state", "reason", "at"),
};

/** The fields of the rows of each table, in their order. */
export const rowNames = Object.fromEntries(
  Object.entries(columns).map(([table, fields]) => [table, fields.map(([name]) => name)]),
);

/** Rows of one table that are written at once, from which on their order matters. */
const manyRows = 5000;
/** Rows that are read before others have their turn. */
const turnRows = 2000;
const snake = (name: string) => name.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`);
type Value = string | number | boolean | null;

const write = (value: unknown, codec: Codec): Value =>
  value === null || value === undefined ? null : codec === "json" ? JSON.stringify(value) : (value as Value);
const read = (value: unknown, codec: Codec): unknown =>
  value === null ? null : codec === "json" ? fromJson(value) : codec === "flag" ? Boolean(value) : value;

function fromSql(table: TableName | "course", row: Record<string, unknown>): Row {
  return Object.fromEntries(columns[table].map(([name, codec]) => [name, read(row[snake(name)], codec)])) as Row;
}

/** Writes a difference. The caller holds the course row and moves its revision in the same transaction. */
export async function writeDifference(
  courseId: string,
  changes: RowChange[],
  connection: PoolConnection,
  told: (done: number, of: number) => void = () => {},
): Promise<void> {
  let done = 0;
  const wrote = (count: number) => {
    done += count;
    if (count > 0) told(done, changes.length);
  };
  const of = (table: TableName | "course", removed: boolean) =>
    changes.filter((change) => change.table === table && (change.after === null) === removed);
  // Children go before parents, and come after them.
  for (const table of [...tableNames].reverse()) {
    const ids = of(table, true).map(({ id }) => id);
    for (let from = 0; from < ids.length; from += 1000) {
      const chunk = ids.slice(from, from + 1000);
      await run(
        `DELETE FROM \`${table}\` WHERE course_id = ? AND id IN (${chunk.map(() => "?").join(", ")})`,
        [courseId, ...chunk],
        connection,
      );
      wrote(chunk.length);
    }
  }
  for (const { after } of of("course", false)) {
    const set = columns.course.filter(([name]) => name !== "id");
    const values = set.map(([name, codec]) => write((after as Row)[name], codec));
    await run(
      `UPDATE courses SET ${set.map(([name]) => `${snake(name)} = ?`).join(", ")} WHERE id = ?`,
      [...values, courseId],
      connection,
    );
  }
  for (const table of tableNames) {
    const valuesOf = ({ after }: RowChange) => [
      courseId,
      ...columns[table].map(([name, codec]) => write((after as Row)[name], codec)),
    ];
    const written = of(table, false);
    // In the order of the key: a table that does not fit into the database's memory is written from end to end, and not at random.
    if (written.length > manyRows) written.sort((one, other) => (one.id < other.id ? -1 : 1));
    const names = columns[table].map(([name]) => snake(name));
    const updates = names.filter((name) => name !== "id").map((name) => `\`${name}\` = VALUES(\`${name}\`)`);
    const put = (changed: RowChange[], ending: string) =>
      insertMany(table, ["course_id", ...names], changed.map(valuesOf), connection, ending, wrote);
    // What is new is written without looking for what it would replace.
    await put(
      written.filter(({ before }) => before === null),
      "",
    );
    await put(
      written.filter(({ before }) => before !== null),
      `ON DUPLICATE KEY UPDATE ${updates.join(", ")}`,
    );
  }
}

export interface StoredPlan {
  revision: number;
  plan: Plan;
}

/** The published plan, read in one snapshot; null where there is no such course. */
export async function readPlan(courseId: string, connection: PoolConnection): Promise<StoredPlan | null> {
  const [found] = await rows<Record<string, unknown>>("SELECT * FROM courses WHERE id = ?", [courseId], connection);
  if (!found) return null;
  const plan = { course: fromSql("course", found) as unknown as Course } as Plan;
  for (const table of tableNames) {
    const stored = await rows<Record<string, unknown>>(
      `SELECT * FROM \`${table}\` WHERE course_id = ?`,
      [courseId],
      connection,
    );
    const byId: Record<string, Row> = {};
    for (const [at, sql] of stored.entries()) {
      const row = fromSql(table, sql);
      byId[row.id] = row;
      // A hundred thousand rows take half a second: others have their turn meanwhile.
      if (at % turnRows === turnRows - 1) await others();
    }
    Object.assign(plan, { [table]: byId });
  }
  return { revision: found.revision as number, plan };
}

/** A new course row, with nothing in it. Every course is made here. */
export async function insertCourse(course: Course, connection: PoolConnection): Promise<void> {
  const names = columns.course.map(([name]) => snake(name));
  await insertMany(
    "courses",
    names,
    [columns.course.map(([name, codec]) => write(course[name as keyof Course], codec))],
    connection,
  );
  // Nothing was asked of it yet: the audit does, within seconds.
  await run(
    "INSERT INTO course_findings (course_id, revision, at, students, leaks, stranded, others) VALUES (?, -1, 0, -1, 0, 0, 0)",
    [course.id],
    connection,
  );
}
