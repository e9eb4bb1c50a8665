/** What members keep on a group's page: notices, pages, begun threads, files, the note, the meeting link; with what each said before. */
import { v5, v7 } from "uuid";
import { parameters, rows, run, transaction } from "../store/database.ts";
import { type Attached, attachedOf, type FileColumns, fileColumns } from "../student/posts-and-hand-ins.ts";

export type EntryKind = "notice" | "page" | "thread" | "file" | "note" | "meeting link";
export interface Entry {
  id: string;
  kind: EntryKind;
  personId: string;
  at: number;
  title: string;
  /** HTML; it is made safe when it is shown. */
  body: string;
  file: Attached | null;
  /** Counts changes: whoever changes it says which they saw. */
  version: number;
  editedBy: string | null;
  editedAt: number | null;
}
export interface EntryText {
  title: string;
  body: string;
}

/** The one note or meeting link of a group has the same id, whoever writes it first. */
export const onlyId = (groupId: string, kind: EntryKind) => v5(kind, groupId);

/** What stands on a group's page, the first first, without what was taken away. */
export async function entriesOf(courseId: string, groupId: string): Promise<Entry[]> {
  const found = await rows<Omit<Entry, "file"> & FileColumns>(
    `SELECT e.id, e.kind, e.person_id AS personId, e.at, e.title, e.body, e.version, e.edited_by AS editedBy,
       e.edited_at AS editedAt, ${fileColumns}
     FROM group_entries e LEFT JOIN files f ON f.id = e.file_id
     WHERE e.course_id = ? AND e.group_id = ? AND e.ended_at IS NULL ORDER BY e.at, e.id`,
    [courseId, groupId],
  );
  return found.map(({ fileId, fileName, fileSize, ...entry }) => ({
    ...entry,
    file: attachedOf({ fileId, fileName, fileSize }),
  }));
}

export interface EntryVersion extends EntryText {
  entryId: string;
  personId: string;
  at: number;
}
/** What entries said before they were changed, the first first. */
export const versionsOfEntries = (ids: string[]): Promise<EntryVersion[]> =>
  ids.length === 0
    ? Promise.resolve([])
    : rows<EntryVersion>(
        `SELECT entry_id AS entryId, person_id AS personId, at, title, body FROM group_entry_versions
         WHERE entry_id IN (${parameters(ids)}) ORDER BY version`,
        ids,
      );

export interface NewEntry extends EntryText {
  kind: EntryKind;
  fileId?: string | null;
}
async function insert(courseId: string, groupId: string, id: string, entry: NewEntry, personId: string, at: number) {
  return run(
    `INSERT IGNORE INTO group_entries (id, course_id, group_id, kind, person_id, at, title, body, file_id)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)`,
    [id, courseId, groupId, entry.kind, personId, at, entry.title, entry.body, entry.fileId ?? null],
  );
}

export async function addEntry(
  courseId: string,
  groupId: string,
  entry: NewEntry,
  personId: string,
  at: number,
): Promise<string> {
  const id = v7();
  await insert(courseId, groupId, id, entry, personId, at);
  return id;
}

/** Changes an entry that was seen at a version and keeps what it said; `stale` where another change came between. */
export const changeEntry = (
  courseId: string,
  groupId: string,
  entryId: string,
  version: number,
  { title, body }: EntryText,
  personId: string,
  at: number,
): Promise<"changed" | "stale" | "gone"> =>
  transaction(async (connection) => {
    const [found] = await rows<EntryText & { version: number; by: string; at: number }>(
      `SELECT title, body, version, COALESCE(edited_by, person_id) AS \`by\`, COALESCE(edited_at, at) AS at
       FROM group_entries WHERE course_id = ? AND group_id = ? AND id = ? AND ended_at IS NULL FOR UPDATE`,
      [courseId, groupId, entryId],
      connection,
    );
    if (!found) return "gone";
    if (found.version !== version) return "stale";
    await run(
      "INSERT INTO group_entry_versions (entry_id, version, person_id, at, title, body) VALUES (?, ?, ?, ?, ?, ?)",
      [entryId, version, found.by, found.at, found.title, found.body],
      connection,
    );
    await run(
      "UPDATE group_entries SET title = ?, body = ?, version = version + 1, edited_by = ?, edited_at = ? WHERE id = ?",
      [title, body, personId, at, entryId],
      connection,
    );
    return "changed";
  });

/** Writes the one note or meeting link of a group; version 0 where none was seen. */
export async function writeOnly(
  courseId: string,
  groupId: string,
  kind: "note" | "meeting link",
  version: number,
  text: EntryText,
  personId: string,
  at: number,
): Promise<"changed" | "stale" | "gone"> {
  const id = onlyId(groupId, kind);
  if (version > 0) return changeEntry(courseId, groupId, id, version, text, personId, at);
  return (await insert(courseId, groupId, id, { kind, ...text }, personId, at)) > 0 ? "changed" : "stale";
}

/** Takes away what somebody put there; false where it is none of theirs. It stays in the database. */
export const endEntry = async (
  courseId: string,
  groupId: string,
  entryId: string,
  personId: string,
  at: number,
): Promise<boolean> =>
  (await run(
    `UPDATE group_entries SET ended_at = ? WHERE course_id = ? AND group_id = ? AND id = ? AND person_id = ?
     AND ended_at IS NULL AND kind IN ('notice', 'page', 'file')`,
    [at, courseId, groupId, entryId, personId],
  )) > 0;
