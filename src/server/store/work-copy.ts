/** What people did, copied from one course to another under other ids: marks, hand-ins, posts, entries, notes, files. */
import type { PoolConnection } from "mysql2/promise";
import { insertMany, parameters, rows, run } from "./database.ts";
import { touched } from "./progress.ts";

/** A row as the database gives it. */
export type WorkRow = Record<string, string | number | boolean | null>;

/** By table, the columns that hold ids of rows, people, groups, items and files. Accounts keep theirs. */
const workTables: Record<string, string[]> = {
  marks: ["item_id", "person_id"],
  hand_ins: ["id", "item_id", "person_id", "file_id"],
  // Before their answers.
  attempts: ["id", "item_id", "holder_id", "begun_by", "hand_in_id"],
  attempt_answers: ["attempt_id", "item_id", "holder_id", "file_id", "saved_by"],
  openings: ["item_id", "person_id"],
  // Before posts: threads that were begun on a group's page hold some.
  group_entries: ["id", "group_id", "person_id", "file_id", "edited_by"],
  posts: ["id", "place_id", "group_id", "person_id", "parent_id", "file_id"],
  group_marks: ["item_id", "group_id"],
  remarks: ["item_id", "holder_id"],
  staff_notes: ["id", "about_id", "person_id"],
};
/** What was said before each change, by the table that it belongs to. */
const versionTables: Record<string, { table: string; key: string; ids: string[] }> = {
  posts: { table: "post_versions", key: "post_id", ids: ["post_id"] },
  group_entries: { table: "group_entry_versions", key: "entry_id", ids: ["entry_id", "person_id"] },
};

export interface WorkCopy {
  from: string;
  to: string;
  /** The id in the course that it goes to. */
  idOf(id: string): string;
  /** Which rows go. */
  keeps(table: string, row: WorkRow): boolean;
}

const renamed = (row: WorkRow, ids: string[], idOf: (id: string) => string): WorkRow =>
  Object.fromEntries(
    Object.entries(row).map(([name, value]) => [
      name,
      ids.includes(name) && typeof value === "string" ? idOf(value) : value,
    ]),
  );

async function write(table: string, written: WorkRow[], connection: PoolConnection): Promise<void> {
  const [first] = written;
  if (!first) return;
  const columns = Object.keys(first);
  const updates = columns.map((name) => `\`${name}\` = VALUES(\`${name}\`)`).join(", ");
  const values = written.map((row) => columns.map((name) => row[name] ?? null));
  await insertMany(table, columns, values, connection, `ON DUPLICATE KEY UPDATE ${updates}`);
}

const inChunks = async (ids: string[], work: (chunk: string[]) => Promise<unknown>): Promise<void> => {
  for (let from = 0; from < ids.length; from += 1000) await work(ids.slice(from, from + 1000));
};

/** Copies rows; one that was copied before is as it is now. Gives how many of each table went. */
export async function copyWork(copy: WorkCopy, connection: PoolConnection): Promise<Record<string, number>> {
  const counts: Record<string, number> = {};
  for (const [table, ids] of Object.entries(workTables)) {
    const all = await rows<WorkRow>(`SELECT * FROM ${table} WHERE course_id = ?`, [copy.from], connection);
    const kept = all.filter((row) => copy.keeps(table, row));
    counts[table] = kept.length;
    const files = kept.flatMap(({ file_id: id }) => (typeof id === "string" ? [id] : []));
    for (const id of new Set(files)) await copyFile(copy.from, id, copy.to, copy.idOf(id), connection);
    const written = kept.map((row) => ({ ...renamed(row, ids, copy.idOf), course_id: copy.to }));
    await write(table, written, connection);
    await copyVersions(table, kept, copy, connection);
  }
  await run(touched, [copy.to], connection);
  return counts;
}

async function copyVersions(table: string, kept: WorkRow[], { idOf }: WorkCopy, connection: PoolConnection) {
  const versions = versionTables[table];
  if (!versions) return;
  const { table: name, key, ids } = versions;
  await inChunks(
    kept.map(({ id }) => String(id)),
    async (chunk) => {
      const those = `${key} IN (${parameters(chunk)})`;
      const found = await rows<WorkRow>(`SELECT * FROM ${name} WHERE ${those}`, chunk, connection);
      await run(`DELETE FROM ${name} WHERE ${those}`, chunk.map(idOf), connection);
      await write(
        name,
        found.map((row) => renamed(row, ids, idOf)),
        connection,
      );
    },
  );
}

/** Everything that people did in a course, by no order. */
export async function workRows(courseId: string, connection: PoolConnection): Promise<WorkRow[]> {
  const all: WorkRow[][] = [];
  for (const table of Object.keys(workTables))
    all.push(await rows<WorkRow>(`SELECT * FROM ${table} WHERE course_id = ?`, [courseId], connection));
  return all.flat();
}

/** Every id that the work of a course names. */
export async function workIds(courseId: string, connection: PoolConnection): Promise<string[]> {
  const names = [...new Set(Object.values(workTables).flat())];
  const all = await workRows(courseId, connection);
  return all.flatMap((row) => names.flatMap((name) => (typeof row[name] === "string" ? [row[name] as string] : [])));
}

/** Takes away copies that were made: nothing that exists once alone. */
export async function dropWork(courseId: string, keeps: WorkCopy["keeps"], connection: PoolConnection): Promise<void> {
  for (const table of Object.keys(workTables)) {
    const all = await rows<WorkRow>(`SELECT * FROM ${table} WHERE course_id = ?`, [courseId], connection);
    const going = all.filter((row) => keeps(table, row));
    const versions = versionTables[table];
    if (versions)
      await inChunks(
        going.map(({ id }) => String(id)),
        (chunk) =>
          run(`DELETE FROM ${versions.table} WHERE ${versions.key} IN (${parameters(chunk)})`, chunk, connection),
      );
    await dropRows(table, going, connection);
  }
  await run(touched, [courseId], connection);
}

const keyOf: Record<string, string[]> = {
  marks: ["course_id", "item_id", "person_id"],
  openings: ["course_id", "item_id", "person_id"],
  attempt_answers: ["attempt_id", "question_id"],
  group_marks: ["course_id", "item_id", "group_id"],
  remarks: ["course_id", "item_id", "holder_id"],
};
async function dropRows(table: string, going: WorkRow[], connection: PoolConnection): Promise<void> {
  const key = keyOf[table] ?? ["id"];
  for (let from = 0; from < going.length; from += 500) {
    const chunk = going.slice(from, from + 500);
    const places = chunk.map(() => `(${key.map(() => "?").join(", ")})`).join(", ");
    const values = chunk.flatMap((row) => key.map((name) => String(row[name])));
    await run(`DELETE FROM ${table} WHERE (${key.join(", ")}) IN (${places})`, values, connection);
  }
}

/** A stored file under another id in another course, counted to it; false where there was none. Once however often. */
export async function copyFile(
  fromCourse: string,
  fileId: string,
  toCourse: string,
  newId: string,
  connection: PoolConnection,
): Promise<boolean> {
  const [there] = await rows("SELECT 1 FROM files WHERE id = ?", [newId], connection);
  if (there) return true;
  const copied = await run(
    `INSERT INTO files (id, course_id, name, type, size, stored_by, at)
     SELECT ?, ?, name, type, size, stored_by, at FROM files WHERE id = ? AND course_id = ?`,
    [newId, toCourse, fileId, fromCourse],
    connection,
  );
  if (copied === 0) return false;
  await run(
    "INSERT INTO file_parts (file_id, part, bytes) SELECT ?, part, bytes FROM file_parts WHERE file_id = ?",
    [newId, fileId],
    connection,
  );
  await run(
    `INSERT INTO stored_bytes (holder, bytes) SELECT course_id, size FROM files WHERE id = ?
     ON DUPLICATE KEY UPDATE bytes = bytes + VALUES(bytes)`,
    [newId],
    connection,
  );
  return true;
}
