/** Publishing a draft, at once or at a moment: all of it or nothing, and once however often it is sent. Source: semantics.md 8. */
import type { PoolConnection } from "mysql2/promise";
import type { Command, Replay } from "../../core/commands.ts";
import type { Message } from "../../core/messages/message.ts";
import { placeholderMistakes } from "../../core/messages/placeholders.ts";
import type { Refusal } from "../../core/plan/command.ts";
import type { Plan } from "../../core/plan/types.ts";
import { waitingIn } from "../../core/review/draft.ts";
import { type Parted, partDraft } from "../../core/review/leaving.ts";
import { now } from "../clock.ts";
import { writeMessage } from "../course/messages.ts";
import { lockCourse, moveCourse, remember } from "../store/courses.ts";
import { parameters, rows, run, transaction } from "../store/database.ts";
import type { StoredPlan } from "../store/plan-rows.ts";
import { lockDraft, readDraft } from "./drafts.ts";
import { noteProposalsPublished } from "./proposal-notices.ts";

export type Published =
  | { published: true; revision: number }
  /** Somebody else published, or the draft changed, since the review that was looked at. */
  | { published: false; reason: "changed"; revision: number; version: number }
  | { published: false; reason: "refused"; refused: Replay["refused"] }
  | { published: false; reason: "empty" }
  /** A message that goes out with it names something that is left out of it. */
  | { published: false; reason: "message"; says: string }
  /** Whoever drafted it may not publish it. */
  | { published: false; reason: "beyond"; refusal: Refusal };

/** Why whoever drafted something may not publish it themselves. */
export type WhyNotPublish = (before: Plan, after: Plan, commands: Command[]) => Refusal | null;

export interface Publication {
  /** Made by the browser: pressed twice or sent again, it publishes once. */
  publicationId: string;
  /** Of the plan and of the draft that were looked at. */
  revision: number;
  version: number;
  /** Commands that stay drafted. */
  leave: string[];
}

/** What a message that goes out with a publication names that its plan does not have; null where there is nothing. */
export function messageMistake(plan: Plan, messages: Message[]): string | null {
  for (const { subject, body } of messages)
    for (const text of [subject, body]) {
      const [mistake] = placeholderMistakes(plan, text);
      if (mistake) return `The message "${subject}": ${mistake.says}`;
    }
  return null;
}

/** The draft as it was looked at, over the course that is locked; or why it is another by now. */
export async function draftAsReviewed(
  stored: StoredPlan | null,
  courseId: string,
  accountId: string,
  { revision, version, leave }: Publication,
  connection: PoolConnection,
): Promise<{ stored: StoredPlan; parted: Parted; messages: Message[]; at: number } | Published> {
  if (!stored) return { published: false, reason: "changed", revision: 0, version: 0 };
  const draft = await readDraft(courseId, accountId, connection);
  if (stored.revision !== revision || draft.version !== version)
    return { published: false, reason: "changed", revision: stored.revision, version: draft.version };
  const at = now();
  const parted = partDraft(stored.plan, draft.commands, new Set([...leave, ...waitingIn(draft)]), { now: at });
  if (parted.taken.refused.length > 0) return { published: false, reason: "refused", refused: parted.taken.refused };
  const says = messageMistake(parted.taken.plan, draft.messages);
  if (says) return { published: false, reason: "message", says };
  return parted.taken.applied.length === 0
    ? { published: false, reason: "empty" }
    : { stored, parted, messages: draft.messages, at };
}

const dropCommands = async (ids: string[], connection: PoolConnection): Promise<void> => {
  for (let from = 0; from < ids.length; from += 1000) {
    const chunk = ids.slice(from, from + 1000);
    await run(`DELETE FROM draft_commands WHERE id IN (${parameters(chunk)})`, chunk, connection);
  }
};

export const dropMessages = (courseId: string, accountId: string, connection: PoolConnection) =>
  run("UPDATE drafts SET messages = '[]' WHERE course_id = ? AND account_id = ?", [courseId, accountId], connection);

/** Writes what was taken of a draft as one step of the plan, under the lock. */
export async function writePublication(
  courseId: string,
  accountId: string,
  publicationId: string,
  stored: StoredPlan,
  { plan, applied }: Replay,
  messages: Message[],
  at: number,
  connection: PoolConnection,
  told?: (done: number, of: number) => void,
): Promise<StoredPlan> {
  const lines = applied.map(({ command, says }) => ({
    says,
    // What a revert or a file brings is kept with the step; the journal needs no second copy.
    detail: JSON.stringify(command).length > 100_000 ? { kind: command.kind } : command,
  }));
  const entry = { accountId, at, kind: "publication" as const, lines };
  const revision = await moveCourse(courseId, stored, plan, entry, connection, told);
  await run(
    "INSERT INTO publications (id, course_id, account_id, revision, at) VALUES (?, ?, ?, ?, ?)",
    [publicationId, courseId, accountId, revision, at],
    connection,
  );
  await dropCommands(
    applied.map(({ command }) => command.id),
    connection,
  );
  const says = new Map(applied.map((one) => [one.command.id, one.says]));
  await noteProposalsPublished({ courseId, byId: accountId, plan, says, at }, connection);
  for (const message of messages) await writeMessage(plan, accountId, message, at, connection);
  await lockDraft(courseId, accountId, connection);
  return { revision, plan };
}

/** Publishes the draft without what stays, in one transaction, or nothing. `told` hears how many rows are written. */
export async function publish(
  courseId: string,
  accountId: string,
  publication: Publication,
  told?: (done: number, of: number) => void,
  whyNot: WhyNotPublish = () => null,
): Promise<Published> {
  let moved: StoredPlan | null = null;
  const answer = await transaction(async (connection): Promise<Published> => {
    moved = null;
    const locked = await lockCourse(courseId, connection);
    const [done] = await rows<{ revision: number }>(
      "SELECT revision FROM publications WHERE id = ? AND course_id = ? AND account_id = ?",
      [publication.publicationId, courseId, accountId],
      connection,
    );
    if (done) return { published: true, revision: done.revision };
    const found = await draftAsReviewed(locked, courseId, accountId, publication, connection);
    if ("published" in found) return found;
    const { stored, parted, messages, at } = found;
    const commands = parted.taken.applied.map(({ command }) => command);
    const refusal = whyNot(stored.plan, parted.taken.plan, commands);
    if (refusal) return { published: false, reason: "beyond", refusal };
    const id = publication.publicationId;
    moved = await writePublication(courseId, accountId, id, stored, parted.taken, messages, at, connection, told);
    await dropMessages(courseId, accountId, connection);
    return { published: true, revision: moved.revision };
  });
  if (moved) remember(courseId, moved);
  return answer;
}
