/** Stored files, a megabyte a row, so that no process holds what another would miss. Source: semantics.md section 4. */
import { v7 } from "uuid";
import { fileTrouble, plainName, typeOf } from "../../core/formats/stored-files.ts";
import type { Item } from "../../core/plan/types.ts";
import { rows, run, transaction } from "./database.ts";

export type StoredFile = NonNullable<Item["file"]>;
const partBytes = 1024 * 1024;

/** Stores a file whole, or gives the sentence that says why not. */
export async function storeFile(
  courseId: string,
  accountId: string,
  file: { name: string; bytes: Uint8Array },
  at: number,
): Promise<StoredFile | { trouble: string }> {
  const name = plainName(file.name);
  const trouble = fileTrouble(name, file.bytes.length);
  if (trouble) return { trouble };
  const stored: StoredFile = { id: v7(), name, type: typeOf(name)?.type ?? "", size: file.bytes.length };
  await transaction(async (connection) => {
    await run(
      "INSERT INTO files (id, course_id, name, type, size, stored_by, at) VALUES (?, ?, ?, ?, ?, ?, ?)",
      [stored.id, courseId, stored.name, stored.type, stored.size, accountId, at],
      connection,
    );
    for (let part = 0; part * partBytes < file.bytes.length; part++) {
      const bytes = Buffer.from(file.bytes.subarray(part * partBytes, (part + 1) * partBytes));
      await run("INSERT INTO file_parts (file_id, part, bytes) VALUES (?, ?, ?)", [stored.id, part, bytes], connection);
    }
  });
  return stored;
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
  const way = typeOf(file.name)?.shown ? "inline" : "attachment";
  return new Response(body, {
    headers: {
      "content-type": file.type,
      "content-length": String(file.size),
      "content-disposition": `${way}; filename*=UTF-8''${encodeURIComponent(file.name)}`,
      // Whatever it holds runs nothing and fetches nothing.
      "x-file-policy": "default-src 'none'; sandbox",
    },
  });
}
