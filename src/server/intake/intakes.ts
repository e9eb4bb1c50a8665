/** Applying an intake: reconciled again on the server, then written in one transaction. Source: semantics.md section 2. */

import type { PoolConnection } from "mysql2/promise";
import type { LookedAt, PastIntake } from "../../api/intake.ts";
import { type ColumnMatch, headerKey } from "../../core/intake/columns.ts";
import { reconcile } from "../../core/intake/reconcile.ts";
import type { RosterRow } from "../../core/intake/rows.ts";
import { heldToLimits } from "../../core/intake/rows.ts";
import { takeIn } from "../../core/intake/take-in.ts";
import { undoChanges } from "../../core/intake/undo.ts";
import type { Reconciled, ReconcileOptions } from "../../core/intake/verdict.ts";
import { difference, type RowChange } from "../../core/plan/difference.ts";
import { fullName } from "../../core/plan/lookup.ts";
import type { Person } from "../../core/plan/types.ts";
import { digest } from "../accounts/digest.ts";
import { now } from "../clock.ts";
import { compressJson, expandJson } from "../store/compressed-json.ts";
import { lockCourse, moveCourse } from "../store/courses.ts";
import { fromJson, rows, run, transaction } from "../store/database.ts";
import { changesOf, type Entry } from "../store/journal.ts";

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

export const applyIntake = (courseId: string, accountId: string, request: IntakeRequest): Promise<IntakeAnswer> =>
  transaction((connection) => applyIntakeWithin(courseId, accountId, request, connection));

/** The same as a part of a transaction that does more. */
export async function applyIntakeWithin(
  courseId: string,
  accountId: string,
  request: IntakeRequest,
  connection: PoolConnection,
): Promise<IntakeAnswer> {
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
  const reconciled = reconcile(stored.plan, heldToLimits(request.rows), { ...request.options, now: at });
  const { samePeople } = request.options;
  const next = takeIn(stored.plan, reconciled, request.intakeId, at, request.sectionLayer, samePeople);
  const changes = difference(stored.plan, next);
  const written = changes.length;
  const counts = { ...reconciled.counts, missing: reconciled.missing.length, written };
  const answer = {
    applied: true as const,
    counts: reconciled.counts,
    missing: reconciled.missing.length,
    written,
  };
  if (written === 0) return { ...answer, revision: stored.revision };
  const entry: Entry = {
    accountId,
    at,
    kind: "intake",
    lines: [{ says: `Intake of ${request.files.join(", ")}`, detail: counts }],
  };
  const revision = await moveCourse(courseId, stored, next, entry, connection);
  await run(
    "INSERT INTO intakes (id, course_id, account_id, revision, at, files, counts, looked_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
    [
      request.intakeId,
      courseId,
      accountId,
      revision,
      at,
      JSON.stringify(request.files),
      JSON.stringify(counts),
      await compressJson(lookedAt(reconciled)),
    ],
    connection,
  );
  return { ...answer, revision };
}

const lookedAt = ({ rows: judged, missing }: Reconciled): LookedAt => ({
  rows: judged.map(({ row, verdict, says, changes }) => ({
    file: row.file,
    line: row.line,
    verdict,
    says: [
      verdict === "changed" ? "" : says,
      ...changes.map(({ field, from, to }) => `${field}: ${from || "nothing"} to ${to}`),
    ]
      .filter(Boolean)
      .join("; "),
    name: fullName(row),
    sourcedId: row.sourcedId,
    sectionCode: row.sectionCode,
  })),
  missing: missing.map(({ person }) => ({ name: fullName(person), sourcedId: person.sourcedId })),
});

/** One applied intake opened again; null where the course has no such intake. */
export async function openIntake(courseId: string, intakeId: string): Promise<LookedAt | null> {
  const [found] = await rows<{ looked_at: Buffer | null }>(
    "SELECT looked_at FROM intakes WHERE course_id = ? AND id = ?",
    [courseId, intakeId],
  );
  return found?.looked_at ? expandJson<LookedAt>(found.looked_at) : null;
}

export type UndoAnswer =
  | { undone: true; revision: number }
  | { undone: false; reason: "gone" }
  | { undone: false; reason: "undone" }
  | { undone: false; reason: "depends"; dependents: string[] };

/** Takes an applied intake back whole, in one transaction, or says what depends on it by now. */
export function undoIntake(courseId: string, accountId: string, intakeId: string): Promise<UndoAnswer> {
  return transaction(async (connection): Promise<UndoAnswer> => {
    const stored = await lockCourse(courseId, connection);
    const [found] = await rows<{ revision: number; files: string; undone_at: number | null }>(
      "SELECT revision, files, undone_at FROM intakes WHERE course_id = ? AND id = ? FOR UPDATE",
      [courseId, intakeId],
      connection,
    );
    const changes = found && (await changesOf(courseId, found.revision, connection));
    if (!stored || !found || !changes) return { undone: false, reason: "gone" };
    if (found.undone_at !== null) return { undone: false, reason: "undone" };
    const result = undoChanges(stored.plan, changes);
    const born = changes.filter(({ table, before }) => table === "people" && before === null);
    const dependents = [
      ...("dependents" in result ? result.dependents : []),
      ...(await workOf(courseId, born, connection)),
    ];
    if (dependents.length > 0 || "dependents" in result) return { undone: false, reason: "depends", dependents };
    const at = now();
    const says = `Undid the intake of ${fromJson<string[]>(found.files).join(", ")}`;
    const entry: Entry = { accountId, at, kind: "intake", lines: [{ says }] };
    const revision = await moveCourse(courseId, stored, result.plan, entry, connection);
    await run("UPDATE intakes SET undone_at = ?, undone_by = ? WHERE id = ?", [at, accountId, intakeId], connection);
    return { undone: true, revision };
  });
}

const workTables = { marks: "a mark", hand_ins: "a hand-in", posts: "a post", openings: "an opened item" };

/** What people whom an intake brought have done since, in words. */
export async function workOf(courseId: string, born: RowChange[], connection: PoolConnection): Promise<string[]> {
  const found: string[] = [];
  const names = new Map(born.map(({ id, after }) => [id, fullName(after as unknown as Person)]));
  const ids = [...names.keys()];
  for (const [table, what] of Object.entries(workTables)) {
    for (let from = 0; from < ids.length; from += 1000) {
      const chunk = ids.slice(from, from + 1000);
      const those = await rows<{ person_id: string }>(
        `SELECT DISTINCT person_id FROM ${table} WHERE course_id = ? AND person_id IN (${chunk.map(() => "?").join(", ")})`,
        [courseId, ...chunk],
        connection,
      );
      found.push(...those.map((row) => `${names.get(row.person_id)} has ${what}`));
    }
  }
  return found;
}

export async function pastIntakes(courseId: string): Promise<PastIntake[]> {
  const found = await rows<Omit<PastIntake, "files" | "counts"> & { files: string; counts: string }>(
    `SELECT i.id, i.at, a.display_name AS \`by\`, i.files, i.counts, i.undone_at AS undoneAt, u.display_name AS undoneBy
    FROM intakes i JOIN accounts a ON a.id = i.account_id LEFT JOIN accounts u ON u.id = i.undone_by
    WHERE i.course_id = ? ORDER BY i.at DESC, i.id DESC LIMIT 200`,
    [courseId],
  );
  return found.map((row) => ({
    ...row,
    files: fromJson<string[]>(row.files),
    counts: fromJson<PastIntake["counts"]>(row.counts),
  }));
}

const hashOf = (header: string[]) => digest(headerKey(header));

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
