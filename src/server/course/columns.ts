/**
 * The plan and the progress of a course in columns, gzipped: what every workbench begins with is made once a revision. It is
 * kept in memory, and of a large course in the database, since a process that has just started would read all rows for it.
 */
import { createHash } from "node:crypto";
import { Readable } from "node:stream";
import { buffer } from "node:stream/consumers";
import { setImmediate as others } from "node:timers/promises";
import { createGzip } from "node:zlib";
import { type Piece, planPieces, progressPieces, writtenAs } from "../../core/plan/columns.ts";
import type { Progress } from "../../core/plan/progress.ts";
import { log } from "../log.ts";
import { copiesUpTo } from "../store/copies.ts";
import { rows, run, transaction } from "../store/database.ts";
import { onceAtATime } from "../store/once-at-a-time.ts";
import { rowNames, type StoredPlan } from "../store/plan-rows.ts";
import type { StoredProgress } from "../store/progress.ts";
import { hasRoom } from "../store/room.ts";

/** What is written in columns, at one revision of its own. */
export interface Written {
  courseId: string;
  kind: "plan" | "progress";
  revision: number;
}

// A course of 5,000 takes about 2 MB.
const kept = copiesUpTo<Uint8Array>(100_000_000, (bytes) => bytes.length);
const making = onceAtATime<Uint8Array>();
/** Bytes from which on making them anew takes longer than a reader would wait. */
const worthStoring = 100_000;
const partBytes = 4_000_000;
/** Another one as soon as an older or newer program would write the same rows otherwise. */
const shape = createHash("sha256")
  .update(JSON.stringify([writtenAs, rowNames]))
  .digest("hex")
  .slice(0, 16);

/** The JSON of an object with its pieces, piece by piece, with everybody else's turn between them. */
async function* jsonOf(head: object, pieces: Iterable<Piece>): AsyncGenerator<string> {
  yield JSON.stringify({ ...head, pieces: [] }).slice(0, -2);
  let isFirst = true;
  for (const piece of pieces) {
    yield `${isFirst ? "" : ","}${JSON.stringify(piece)}`;
    isFirst = false;
    await others();
  }
  yield "]}";
}

/** An answer in columns, gzipped: `head` is what stands beside its pieces. */
export const compressPieces = (head: object, pieces: Iterable<Piece>): Promise<Uint8Array> =>
  buffer(Readable.from(jsonOf(head, pieces)).pipe(createGzip({ level: 3 })));

/** The same, kept for as long as the revision is the newest. */
export async function keptPieces(written: Written, make: () => Promise<Uint8Array>): Promise<Uint8Array> {
  const name = `${written.kind} ${written.courseId} ${written.revision}`;
  const there = kept.get(name);
  if (there) return there;
  return making(name, async () => {
    const known = await storedPieces(written);
    const bytes = known ?? (await make());
    kept.set(name, bytes);
    // Whoever waits for the bytes does not wait for that.
    if (!known)
      void storePieces(written, bytes).catch((error) => log.warn({ error: String(error) }, "columns not stored"));
    return bytes;
  });
}

/** All of a published plan, as whoever sees all of it is answered. */
export const wholePlanPieces = ({ revision, plan }: StoredPlan): Promise<Uint8Array> =>
  compressPieces({ revision, scope: null, course: plan.course }, planPieces(plan));
/** All that people did in a course. */
export const wholeProgressPieces = (progress: Progress): Promise<Uint8Array> =>
  compressPieces({}, progressPieces(progress));

/** Stores both where they are not stored yet, so that who opens the course next does not wait until they are made. */
export async function storeAhead(courseId: string, stored: StoredPlan, done: StoredProgress): Promise<void> {
  const plan: Written = { courseId, kind: "plan", revision: stored.revision };
  const progress: Written = { courseId, kind: "progress", revision: done.revision };
  if (!(await isStored(plan))) await storePieces(plan, await wholePlanPieces(stored));
  if (!(await isStored(progress))) await storePieces(progress, await wholeProgressPieces(done.progress));
}

async function isStored({ courseId, kind, revision }: Written): Promise<boolean> {
  const sql = "SELECT 1 FROM course_columns WHERE course_id = ? AND kind = ? AND revision = ? AND shape = ? LIMIT 1";
  return (await rows(sql, [courseId, kind, revision, shape])).length > 0;
}

/** What an earlier process stored of that very revision; null where there is nothing. */
export async function storedPieces({ courseId, kind, revision }: Written): Promise<Uint8Array | null> {
  const parts = await rows<{ bytes: Buffer }>(
    `SELECT bytes FROM course_columns WHERE course_id = ? AND kind = ? AND revision = ? AND shape = ? ORDER BY part`,
    [courseId, kind, revision, shape],
  );
  return parts.length === 0 ? null : Buffer.concat(parts.map(({ bytes }) => bytes));
}

/** Stores what is large, instead of what an earlier revision was. */
export async function storePieces({ courseId, kind, revision }: Written, bytes: Uint8Array): Promise<void> {
  // A disk that is almost full is left to what people write.
  if (bytes.length < worthStoring || !(await hasRoom())) return;
  await transaction(async (connection) => {
    await run("DELETE FROM course_columns WHERE course_id = ? AND kind = ?", [courseId, kind], connection);
    for (let part = 0; part * partBytes < bytes.length; part++)
      await run(
        "INSERT INTO course_columns (course_id, kind, part, revision, shape, bytes) VALUES (?, ?, ?, ?, ?, ?)",
        [courseId, kind, part, revision, shape, bytes.subarray(part * partBytes, (part + 1) * partBytes)],
        connection,
      );
  });
}
