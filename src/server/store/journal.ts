/** The journal: who did what in a course, when, from what to what; and the plan as it was. Source: semantics.md section 8. */

import type { PoolConnection } from "mysql2/promise";
import { v7 } from "uuid";
import type { Command } from "../../core/commands.ts";
import type { RowAfter, RowChange } from "../../core/plan/difference.ts";
import type { Plan } from "../../core/plan/types.ts";
import type { JournalDetail, JournalKind, JournalLine, MarkLine } from "../../core/review/journal.ts";
import { rowWords } from "../../core/review/row-words.ts";
import { planBefore, revertible } from "../../core/rolling/revert.ts";
import { cut } from "../../core/text/shorten.ts";
import { expandJson } from "./compressed-json.ts";
import { fromJson, insertMany, likeWords, rows, run } from "./database.ts";

/** What is written of one doing: lines of the same kind by one account at one moment. */
export interface Entry {
  accountId: string;
  at: number;
  kind: JournalKind;
  lines: { says: string; detail?: unknown }[];
}

export async function writeJournal(
  courseId: string,
  revision: number,
  { accountId, at, kind, lines }: Entry,
  connection: PoolConnection,
): Promise<void> {
  await insertMany(
    "journal",
    ["id", "course_id", "account_id", "revision", "at", "kind", "says", "detail"],
    lines.map(({ says, detail }) => [
      v7(),
      courseId,
      accountId,
      revision,
      at,
      kind,
      says,
      JSON.stringify(detail ?? {}),
    ]),
    connection,
  );
}

export async function keepRevision(
  courseId: string,
  revision: number,
  at: number,
  packed: Buffer,
  connection: PoolConnection,
): Promise<void> {
  await run(
    "INSERT INTO revisions (course_id, revision, at, changes) VALUES (?, ?, ?, ?)",
    [courseId, revision, at, packed],
    connection,
  );
}

export const changesOf = async (
  courseId: string,
  revision: number,
  connection?: PoolConnection,
): Promise<RowChange[] | null> => {
  const [found] = await rows<{ changes: Buffer }>(
    "SELECT changes FROM revisions WHERE course_id = ? AND revision = ?",
    [courseId, revision],
    connection,
  );
  return found ? expandJson<RowChange[]>(found.changes) : null;
};

// Past so much the plan itself is told sooner.
const [mostRevisions, mostChanges] = [50, 20_000];

/** Rows that changed after a revision, up to another, as they are then; null where they are too many, or not known. */
export async function changesBetween(courseId: string, after: number, upTo: number): Promise<RowAfter[] | null> {
  if (after > upTo || upTo - after > mostRevisions) return null;
  const found = await rows<{ changes: Buffer }>(
    "SELECT changes FROM revisions WHERE course_id = ? AND revision > ? AND revision <= ? ORDER BY revision",
    [courseId, after, upTo],
  );
  if (found.length < upTo - after) return null;
  const changed: RowAfter[] = [];
  for (const { changes } of found)
    for (const { table, id, after: row } of await expandJson<RowChange[]>(changes))
      changed.push({ table, id, after: row });
  return changed.length > mostChanges ? null : changed;
}

/** What somebody looks for: words, a kind, and lines older than one they have. */
export interface JournalQuestion {
  words: string;
  kind: JournalKind | null;
  before: string | null;
}
const pageSize = 100;

/** Lines of the journal, the latest first; people and items that the words name are looked for by what they are. */
export async function readJournal(
  courseId: string,
  plan: Plan,
  { words, kind, before }: JournalQuestion,
): Promise<{ lines: JournalLine[]; more: boolean }> {
  const tests = ["j.course_id = ?"];
  const values: string[] = [courseId];
  if (kind) {
    tests.push("j.kind = ?");
    values.push(kind);
  }
  if (before) {
    tests.push("j.id < ?");
    values.push(before);
  }
  const wanted = words.trim().toLowerCase();
  if (wanted) {
    const named = [
      ...Object.values(plan.people)
        .filter((one) => `${one.givenName} ${one.familyName}, ${one.givenName}`.toLowerCase().includes(wanted))
        .map(({ id }) => id),
      ...Object.values(plan.items)
        .filter(({ title }) => title.toLowerCase().includes(wanted))
        .map(({ id }) => id),
    ].slice(0, 40);
    const like = `%${likeWords(wanted)}%`;
    tests.push(`(j.says LIKE ? OR a.display_name LIKE ?${named.map(() => " OR j.detail LIKE ?").join("")})`);
    values.push(like, like, ...named.map((id) => `%${id}%`));
  }
  const found = await rows<JournalLine>(
    `SELECT j.id, j.revision, j.at, COALESCE(a.display_name, '') AS \`by\`, j.kind, j.says
     FROM journal j LEFT JOIN accounts a ON a.id = j.account_id
     WHERE ${tests.join(" AND ")} ORDER BY j.id DESC LIMIT ${pageSize + 1}`,
    values,
  );
  return { lines: found.slice(0, pageSize), more: found.length > pageSize };
}

const mostRows = 500;

/** One line opened; null where the course has none such. */
export async function openLine(courseId: string, plan: Plan, lineId: string): Promise<JournalDetail | null> {
  const [found] = await rows<JournalLine & { detail: string }>(
    `SELECT j.id, j.revision, j.at, COALESCE(a.display_name, '') AS \`by\`, j.kind, j.says, j.detail
     FROM journal j LEFT JOIN accounts a ON a.id = j.account_id WHERE j.course_id = ? AND j.id = ?`,
    [courseId, lineId],
  );
  if (!found) return null;
  const { detail, ...line } = found;
  const changes = line.revision > 0 ? await changesOf(courseId, line.revision) : null;
  const told = (changes ?? []).slice(0, mostRows);
  const can = changes && line.kind === "publication" ? revertible(plan, changes) : null;
  const kept = fromJson<{ marks?: MarkLine[] }>(detail);
  return {
    line,
    rows: told.flatMap((change) => rowWords(plan, change)),
    more: (changes?.length ?? 0) - told.length,
    marks: (kept.marks ?? []).slice(0, mostRows),
    revert: can && { rows: can.changes.length, staying: can.staying },
  };
}

/** The command that leads a publication back, as far as that can be done; null where nothing of it can. */
export async function revertCommand(
  courseId: string,
  plan: Plan,
  revision: number,
): Promise<{ command: Command; staying: string[] } | null> {
  const lines = await rows<{ says: string; kind: JournalKind }>(
    "SELECT says, kind FROM journal WHERE course_id = ? AND revision = ? ORDER BY id",
    [courseId, revision],
  );
  const changes = await changesOf(courseId, revision);
  if (!changes || lines[0]?.kind !== "publication") return null;
  const { changes: left, staying } = revertible(plan, changes);
  if (left.length === 0) return null;
  const says = lines.length > 1 ? `${lines[0].says}, and ${lines.length - 1} more` : lines[0].says;
  const command = { id: v7(), kind: "revertPublication", says: cut(says, 500), changes: left } as Command;
  return { command, staying };
}

/** The plan as it was published at a moment, with its revision; before anything is known of: the earliest that is. */
export async function planAsOf(
  courseId: string,
  stored: { revision: number; plan: Plan },
  at: number,
): Promise<{ revision: number; plan: Plan }> {
  const later = await rows<{ revision: number; changes: Buffer }>(
    "SELECT revision, changes FROM revisions WHERE course_id = ? AND at > ? AND revision <= ? ORDER BY revision DESC",
    [courseId, at, stored.revision],
  );
  const steps = await Promise.all(later.map(({ changes }) => expandJson<RowChange[]>(changes)));
  return { revision: (later.at(-1)?.revision ?? stored.revision + 1) - 1, plan: planBefore(stored.plan, steps) };
}
