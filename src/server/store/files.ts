/** Stored files, in rows of a part each, so that no process holds what another would miss. Source: semantics.md section 4. */
import type { PoolConnection } from "mysql2/promise";
import { v7 } from "uuid";
import { fileTrouble, sayBytes, typeOf } from "../../core/formats/stored-files.ts";
import type { Item } from "../../core/plan/types.ts";
import { config } from "../config.ts";
import { attachment } from "../http/attachment.ts";
import { rows, run, transaction } from "./database.ts";
import type { ArrivedFile } from "./uploads.ts";

export type StoredFile = NonNullable<Item["file"]>;

/** What an account and a course may keep in all, in bytes, as the configuration says. */
const quotas = () => ({
  account: config().AMBER_QUOTA_ACCOUNT_MB * 1024 * 1024,
  course: config().AMBER_QUOTA_COURSE_MB * 1024 * 1024,
});

/** Counts a file to its course and its owner; a sentence where one of them has no room for it. Both stay locked until the end. */
async function countStored(
  { courseId, accountId, size }: { courseId: string; accountId: string; size: number },
  connection: PoolConnection,
): Promise<string | null> {
  const most = quotas();
  for (const [holder, room, whose] of [
    [courseId, most.course, "This course has"],
    [accountId, most.account, "You have"],
  ] as const) {
    await run(
      "INSERT INTO stored_bytes (holder, bytes) VALUES (?, ?) ON DUPLICATE KEY UPDATE bytes = bytes + VALUES(bytes)",
      [holder, size],
      connection,
    );
    const [stored] = await rows<{ bytes: number }>(
      "SELECT bytes FROM stored_bytes WHERE holder = ?",
      [holder],
      connection,
    );
    if (Number(stored?.bytes ?? 0) > room)
      return `${whose} no room for it: ${sayBytes(room)} of files is the most. Link to it, or ask whoever runs this server for more room.`;
  }
  return null;
}

/** Files go, with their bytes, which are counted to their course and their owner no more. */
export async function deleteStored(
  files: { id: string; size: number; courseId: string; accountId: string }[],
  connection: PoolConnection,
): Promise<void> {
  for (const { id, size, courseId, accountId } of files) {
    await run("DELETE FROM files WHERE id = ?", [id], connection);
    const count = "UPDATE stored_bytes SET bytes = GREATEST(0, bytes - ?) WHERE holder IN (?, ?)";
    await run(count, [size, courseId, accountId], connection);
  }
}

/** Stores a file that arrived, or gives the sentence that says why not. Its bytes stay in the database: no process holds them. */
export async function storeArrived(
  courseId: string,
  accountId: string,
  { id, name, size }: ArrivedFile,
  at: number,
): Promise<StoredFile | { trouble: string }> {
  const trouble = fileTrouble(name, size);
  if (trouble) return { trouble };
  const stored: StoredFile = { id: v7(), name, type: typeOf(name)?.type ?? "", size };
  return transaction(async (connection) => {
    const full = await countStored({ courseId, accountId, size }, connection);
    if (full) {
      await connection.rollback();
      return { trouble: `${name} was not stored. ${full}` };
    }
    await run(
      "INSERT INTO files (id, course_id, name, type, size, stored_by, at) VALUES (?, ?, ?, ?, ?, ?, ?)",
      [stored.id, courseId, stored.name, stored.type, stored.size, accountId, at],
      connection,
    );
    await run(
      `INSERT INTO file_parts (file_id, part, bytes)
       SELECT ?, ROW_NUMBER() OVER (ORDER BY position) - 1, bytes FROM upload_pieces WHERE upload_id = ?`,
      [stored.id, id],
      connection,
    );
    return stored;
  });
}

/** Whether somebody stored all of some files in a course: only then may they put them anywhere. */
export async function storedAll(courseId: string, accountId: string, fileIds: string[]): Promise<boolean> {
  if (fileIds.length === 0) return true;
  const found = await rows(
    `SELECT id FROM files WHERE course_id = ? AND stored_by = ? AND id IN (${fileIds.map(() => "?").join(", ")})`,
    [courseId, accountId, ...fileIds],
  );
  return found.length === new Set(fileIds).size;
}

/** A file of the course, as a stream of its parts; null where there is none. */
export async function fileOf(
  courseId: string,
  fileId: string,
): Promise<{ file: StoredFile; body: ReadableStream } | null> {
  const [file] = await rows<StoredFile>("SELECT id, name, type, size FROM files WHERE course_id = ? AND id = ?", [
    courseId,
    fileId,
  ]);
  if (!file) return null;
  let part = 0;
  const body = new ReadableStream({
    async pull(controller) {
      const [found] = await rows<{ bytes: Buffer }>("SELECT bytes FROM file_parts WHERE file_id = ? AND part = ?", [
        fileId,
        part++,
      ]);
      if (found) controller.enqueue(new Uint8Array(found.bytes));
      else controller.close();
    },
  });
  return { file, body };
}

/** Served so that it can do nothing: its own type, never another, shown only where showing runs nothing. */
export async function serveFile(courseId: string, fileId: string): Promise<Response | null> {
  const found = await fileOf(courseId, fileId);
  if (!found) return null;
  const { file, body } = found;
  const isShown = typeOf(file.name)?.shown ?? false;
  return new Response(body, {
    headers: {
      "content-type": file.type,
      "content-length": String(file.size),
      "content-disposition": attachment(file.name, { isShown }),
      // Whatever it holds runs nothing and fetches nothing.
      "x-file-policy": "default-src 'none'; sandbox",
    },
  });
}
