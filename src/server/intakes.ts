/** Applying an intake: reconciled again on the server, then written in one transaction. Source: semantics.md section 2. */
import { createHash } from "node:crypto";
import { v7 } from "uuid";
import { type ColumnMatch, headerKey } from "../core/intake/columns.ts";
import { type Reconciled, type ReconcileOptions, reconcile } from "../core/intake/reconcile.ts";
import type { RosterRow } from "../core/intake/rows.ts";
import { takeIn } from "../core/intake/take-in.ts";
import { difference } from "../core/plan/difference.ts";
import { now } from "./clock.ts";
import { lockCourse, moveCourse } from "./courses.ts";
import { fromJson, rows, run, transaction } from "./database.ts";

export interface IntakeRequest {
  /** Made by the browser: the same intake sent twice is applied once. */
  intakeId: string;
  /** The revision that was reconciled and looked at. */
  revision: number;
  rows: RosterRow[];
  options: Omit<ReconcileOptions, "now">;
  /** Name of the layer to make with a group for each section; null for none. */
  sectionLayer: string | null;
  files: string[];
}
export type IntakeAnswer =
  | {
      applied: true;
      revision: number;
      counts: Reconciled["counts"];
      missing: number;
      written: number;
    }
  | { applied: false; revision: number };

export function applyIntake(courseId: string, accountId: string, request: IntakeRequest): Promise<IntakeAnswer> {
  return transaction(async (connection): Promise<IntakeAnswer> => {
    const stored = await lockCourse(courseId, connection);
    if (!stored) return { applied: false, revision: 0 };
    const [done] = await rows<{ revision: number; counts: string }>(
      "SELECT revision, counts FROM intakes WHERE id = ? AND course_id = ?",
      [request.intakeId, courseId],
      connection,
    );
    if (done) {
      const { missing, written, ...counts } = fromJson<PastIntake["counts"]>(done.counts);
      return { applied: true, revision: done.revision, counts, missing, written };
    }
    // What was looked at must be what is applied.
    if (stored.revision !== request.revision) return { applied: false, revision: stored.revision };
    const at = now();
    const reconciled = reconcile(stored.plan, request.rows, { ...request.options, now: at });
    const next = takeIn(stored.plan, reconciled, request.intakeId, at, request.sectionLayer);
    const written = difference(stored.plan, next).length;
    const counts = { ...reconciled.counts, missing: reconciled.missing.length, written };
    const answer = {
      applied: true as const,
      counts: reconciled.counts,
      missing: reconciled.missing.length,
      written,
    };
    if (written === 0) return { ...answer, revision: stored.revision };
    const revision = await moveCourse(courseId, stored, next, connection);
    await run(
      "INSERT INTO intakes (id, course_id, account_id, revision, at, files, counts) VALUES (?, ?, ?, ?, ?, ?, ?)",
      [request.intakeId, courseId, accountId, revision, at, JSON.stringify(request.files), JSON.stringify(counts)],
      connection,
    );
    await run(
      "INSERT INTO journal (id, course_id, account_id, revision, at, says, detail) VALUES (?, ?, ?, ?, ?, ?, ?)",
      [v7(), courseId, accountId, revision, at, `Intake of ${request.files.join(", ")}`, JSON.stringify(counts)],
      connection,
    );
    return { ...answer, revision };
  });
}

export interface PastIntake {
  id: string;
  at: number;
  by: string;
  files: string[];
  counts: Reconciled["counts"] & { missing: number; written: number };
}

export async function pastIntakes(courseId: string): Promise<PastIntake[]> {
  const found = await rows<{ id: string; at: number; by: string; files: string; counts: string }>(
    "SELECT i.id, i.at, a.display_name AS `by`, i.files, i.counts FROM intakes i JOIN accounts a ON a.id = i.account_id WHERE i.course_id = ? ORDER BY i.at DESC, i.id DESC LIMIT 50",
    [courseId],
  );
  return found.map((row) => ({
    ...row,
    files: fromJson<string[]>(row.files),
    counts: fromJson<PastIntake["counts"]>(row.counts),
  }));
}

const hashOf = (header: string[]) => createHash("sha256").update(headerKey(header)).digest("hex");

/** A column match that a person made is remembered for the next file with the same header. */
export async function rememberMatch(courseId: string, header: string[], match: ColumnMatch): Promise<void> {
  await run(
    "INSERT INTO column_matches (course_id, header_hash, column_match) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE column_match = VALUES(column_match)",
    [courseId, hashOf(header), JSON.stringify({ header: headerKey(header), match })],
  );
}

export async function rememberedMatches(courseId: string): Promise<Record<string, ColumnMatch>> {
  const found = await rows<{ column_match: string }>("SELECT column_match FROM column_matches WHERE course_id = ?", [
    courseId,
  ]);
  return Object.fromEntries(
    found.map((row) => {
      const { header, match } = fromJson<{ header: string; match: ColumnMatch }>(row.column_match);
      return [header, match];
    }),
  );
}
