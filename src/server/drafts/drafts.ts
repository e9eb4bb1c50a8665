/** Somebody's draft: commands over the published plan, with undo and redo. Source: semantics.md section 8. */
import type { PoolConnection } from "mysql2/promise";
import { z } from "zod";
import { Command, type Replay, replay } from "../../core/commands.ts";
import { Message } from "../../core/messages/message.ts";
import type { Refusal } from "../../core/plan/command.ts";
import type { Plan } from "../../core/plan/types.ts";
import { cancelledBy } from "../../core/review/cancelling.ts";
import { type Draft, type Planned, type Seen, waitingIn } from "../../core/review/draft.ts";
import { partDraft } from "../../core/review/leaving.ts";
import { now } from "../clock.ts";
import { course } from "../store/courses.ts";
import { fromJson, insertMany, rows, run, transaction } from "../store/database.ts";

interface StoredCommand {
  id: string;
  command: string;
  undone: number;
  planned_id: string | null;
}

export async function readDraft(courseId: string, accountId: string, connection?: PoolConnection): Promise<Draft> {
  const [draft] = await rows<{ version: number; messages: string }>(
    "SELECT version, messages FROM drafts WHERE course_id = ? AND account_id = ?",
    [courseId, accountId],
    connection,
  );
  const stored = await rows<StoredCommand>(
    "SELECT id, command, undone, planned_id FROM draft_commands WHERE course_id = ? AND account_id = ? ORDER BY position",
    [courseId, accountId],
    connection,
  );
  const planned = await rows<Pick<Planned, "id" | "at" | "state" | "says"> & { messages: string; seen: string }>(
    `SELECT id, at, state, says, messages, seen FROM planned_publications
     WHERE course_id = ? AND account_id = ? AND state IN ('waiting', 'held back') ORDER BY at`,
    [courseId, accountId],
    connection,
  );
  const parse = ({ command }: StoredCommand) => Command.parse(fromJson(command));
  return {
    version: draft?.version ?? 0,
    messages: draft ? storedMessages(draft.messages) : [],
    commands: stored.filter(({ undone }) => !undone).map(parse),
    undone: stored.filter(({ undone }) => undone).map(parse),
    planned: planned.map((one) => ({
      ...one,
      messages: one.state === "waiting" ? storedMessages(one.messages) : [],
      seen: fromJson<Seen>(one.seen),
      commandIds: stored.filter((row) => row.planned_id === one.id).map(({ id }) => id),
    })),
  };
}

/** Takes the lock on a draft, and moves its version on. */
export async function lockDraft(courseId: string, accountId: string, connection: PoolConnection): Promise<void> {
  // The row is the lock on the draft: adding one to the version takes it.
  await run(
    "INSERT INTO drafts (course_id, account_id, version) VALUES (?, ?, 1) ON DUPLICATE KEY UPDATE version = version + 1",
    [courseId, accountId],
    connection,
  );
}

/** Why somebody may not draft commands over a plan, one after another; null where they may. */
type WhyNot = (plan: Plan, commands: Command[]) => Refusal | null;

/**
 * Adds commands, all or none; `whyNot` says why somebody may not draft them. Commands that are there already (a resent
 * request) are passed over.
 */
export async function addCommands(
  courseId: string,
  accountId: string,
  commands: Command[],
  whyNot: WhyNot = () => null,
): Promise<Draft | Refusal> {
  // Asked for beforehand: whoever holds a connection and waits for another keeps others waiting.
  const published = await course(courseId);
  if (!published) return { refused: true, code: "course.gone", sentence: "The course is no longer there." };
  return transaction(async (connection) => {
    const answer = await addWithin(published.plan, accountId, commands, connection, whyNot);
    if ("refused" in answer) await startAnew(connection);
    return answer;
  });
}

/** Nothing of what was done since the transaction began is kept. */
export async function startAnew(connection: PoolConnection): Promise<void> {
  await connection.rollback();
  await connection.beginTransaction();
}

/** The same within another's transaction, which is to keep nothing where they are refused. */
export async function addWithin(
  published: Plan,
  accountId: string,
  commands: Command[],
  connection: PoolConnection,
  whyNot: WhyNot = () => null,
): Promise<Draft | Refusal> {
  const courseId = published.course.id;
  await lockDraft(courseId, accountId, connection);
  const draft = await readDraft(courseId, accountId, connection);
  const there = new Set(draft.commands.map(({ id }) => id));
  const added = commands.filter(({ id }) => !there.has(id));
  const before = replay(published, draft.commands, { now: now() });
  const after = replay(before.plan, added, { now: now() });
  const refused = whyNot(before.plan, added) ?? after.refused[0]?.refusal;
  if (refused) return refused;
  await run(
    "DELETE FROM draft_commands WHERE course_id = ? AND account_id = ? AND undone",
    [courseId, accountId],
    connection,
  );
  const cancelled = cancelledBy(
    {
      published,
      commands: draft.commands,
      before: before.plan,
      after: after.plan,
      fixed: new Set(waitingIn(draft)),
    },
    { now: now() },
  );
  // What was undone can be redone; what undid it is gone with it.
  if (cancelled)
    await run(
      `UPDATE draft_commands SET undone = TRUE WHERE id IN (${cancelled.map(() => "?").join(", ")})`,
      cancelled,
      connection,
    );
  else await insertCommands(courseId, accountId, added, await nextPlace(courseId, accountId, connection), connection);
  return readDraft(courseId, accountId, connection);
}

/** The place behind all that is drafted. */
async function nextPlace(courseId: string, accountId: string, connection: PoolConnection): Promise<number> {
  const [last] = await rows<{ place: number }>(
    "SELECT COALESCE(MAX(position), -1) + 1 AS place FROM draft_commands WHERE course_id = ? AND account_id = ?",
    [courseId, accountId],
    connection,
  );
  return Number(last?.place ?? 0);
}

/** Writes commands into a draft from a place on. */
export const insertCommands = (
  courseId: string,
  accountId: string,
  commands: Command[],
  first: number,
  connection: PoolConnection,
) =>
  insertMany(
    "draft_commands",
    ["id", "course_id", "account_id", "position", "command", "undone"],
    commands.map((command, at) => [command.id, courseId, accountId, first + at, JSON.stringify(command), false]),
    connection,
  );

/** Messages as a row holds them: what those of an earlier version do not say is as usual. */
export const storedMessages = (column: string): Message[] => z.array(Message).parse(fromJson<unknown>(column));

/** Keeps the messages that go out with the next publication. */
export function keepMessages(courseId: string, accountId: string, messages: Message[]): Promise<Draft> {
  return transaction(async (connection) => {
    await lockDraft(courseId, accountId, connection);
    await run(
      "UPDATE drafts SET messages = ? WHERE course_id = ? AND account_id = ?",
      [JSON.stringify(messages), courseId, accountId],
      connection,
    );
    return readDraft(courseId, accountId, connection);
  });
}

/** Moves the end of the draft: one step back or forward, or all of it; what waits for its moment stays. */
export function stepDraft(
  courseId: string,
  accountId: string,
  step: "undo" | "redo" | "undo all" | "redo all",
): Promise<Draft> {
  return transaction(async (connection) => {
    await lockDraft(courseId, accountId, connection);
    const undoes = step.startsWith("undo");
    const one = step === "undo" ? "ORDER BY position DESC LIMIT 1" : step === "redo" ? "ORDER BY position LIMIT 1" : "";
    await run(
      `UPDATE draft_commands SET undone = ? WHERE course_id = ? AND account_id = ? AND undone = ? AND planned_id IS NULL ${one}`,
      [undoes, courseId, accountId, !undoes],
      connection,
    );
    return readDraft(courseId, accountId, connection);
  });
}

/** The draft carried over the plan as it is published now, without commands that are left out. */
export async function draftedPlan(courseId: string, accountId: string, leave: string[] = []): Promise<Replay | null> {
  const published = await course(courseId);
  if (!published) return null;
  const { commands } = await readDraft(courseId, accountId);
  return partDraft(published.plan, commands, new Set(leave), { now: now() }).taken;
}
