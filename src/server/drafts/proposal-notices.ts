/** What the author of a proposal is told of it, to its end: taken or handed back, then published. Source: semantics.md section 9. */

import type { PoolConnection } from "mysql2/promise";
import { v7 } from "uuid";
import { blankMessage } from "../../core/messages/message.ts";
import type { Plan } from "../../core/plan/types.ts";
import { cut } from "../../core/text/shorten.ts";
import { writeMessage } from "../course/messages.ts";
import { fromJson, rows, run } from "../store/database.ts";

interface Told {
  /** Whose proposal it is. */
  authorId: string;
  /** Who took it, handed it back or published it. */
  byId: string;
  subject: string;
  /** A word of the coordinator's; empty where there is none. */
  answer?: string;
  /** Each change in words. */
  says: string[];
  at: number;
}

/** Writes a notice to the author of a proposal; nobody who left the course is written to. */
export async function tellAuthor(plan: Plan, told: Told, connection: PoolConnection): Promise<void> {
  const { authorId, byId, subject, answer = "", says, at } = told;
  const [account] = await rows<{ sourcedId: string }>(
    "SELECT sourced_id AS sourcedId FROM accounts WHERE id = ?",
    [authorId],
    connection,
  );
  const person = Object.values(plan.people).find(({ sourcedId }) => sourcedId === account?.sourcedId);
  if (!person) return;
  const body = cut([answer && `“${answer}”`, ...says].filter(Boolean).join("\n"), 20_000);
  const to = [{ kind: "person" as const, id: person.id }];
  await writeMessage(plan, byId, { ...blankMessage, id: v7(), subject, body, to }, at, connection, "about a proposal");
}

/** "3 changes" of "4 changes": "3 of 4 changes", or all of them. */
export const sayPart = (part: number, all: number): string =>
  part === all ? `${all} ${all === 1 ? "change" : "changes"}` : `${part} of ${all} changes`;

interface Gone {
  courseId: string;
  byId: string;
  plan: Plan;
  /** What was published, by the command's id, in words. */
  says: ReadonlyMap<string, string>;
  at: number;
}

/** Notes what of proposals went out with a publication, and tells their authors. */
export async function noteProposalsPublished(gone: Gone, connection: PoolConnection): Promise<void> {
  const { courseId, byId, plan, says, at } = gone;
  const found = await rows<{ id: string; authorId: string; takenIds: string; taken: number; published: number }>(
    `SELECT id, account_id AS authorId, taken_ids AS takenIds, taken, published FROM proposals
     WHERE course_id = ? AND published < taken ORDER BY at LIMIT 500 FOR UPDATE`,
    [courseId],
    connection,
  );
  for (const { id, authorId, takenIds, taken, published } of found) {
    const out = fromJson<string[]>(takenIds).filter((one) => says.has(one));
    if (out.length === 0) continue;
    await run(
      "UPDATE proposals SET published = ?, published_at = ? WHERE id = ?",
      [published + out.length, at, id],
      connection,
    );
    const lines = out.map((one) => says.get(one) ?? "");
    const subject = `What you proposed is published: ${sayPart(published + out.length, taken)}`;
    await tellAuthor(plan, { authorId, byId, subject, says: lines, at }, connection);
  }
}
