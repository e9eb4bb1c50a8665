/** A coordinator's draft: commands over the published plan, with undo and redo, and publishing. Source: semantics.md 8. */
import type { PoolConnection } from "mysql2/promise";
import { v7 } from "uuid";
import { Command, type Replay, replay } from "../core/plan/apply.ts";
import type { Refusal } from "../core/plan/command.ts";
import { now } from "./clock.ts";
import { course, lockCourse, moveCourse, remember } from "./courses.ts";
import { fromJson, insertMany, rows, run, transaction } from "./database.ts";
import type { StoredPlan } from "./plan-rows.ts";

export interface Draft {
  version: number;
  commands: Command[];
  /** Undone commands, the next to redo first. */
  undone: Command[];
}

interface StoredCommand {
  id: string;
  command: string;
  undone: number;
}

async function read(courseId: string, accountId: string, connection?: PoolConnection): Promise<Draft> {
  const [draft] = await rows<{ version: number }>(
    "SELECT version FROM drafts WHERE course_id = ? AND account_id = ?",
    [courseId, accountId],
    connection,
  );
  const stored = await rows<StoredCommand>(
    "SELECT id, command, undone FROM draft_commands WHERE course_id = ? AND account_id = ? ORDER BY position",
    [courseId, accountId],
    connection,
  );
  const parse = ({ command }: StoredCommand) => Command.parse(fromJson(command));
  return {
    version: draft?.version ?? 0,
    commands: stored.filter(({ undone }) => !undone).map(parse),
    undone: stored.filter(({ undone }) => undone).map(parse),
  };
}

export const readDraft = (courseId: string, accountId: string): Promise<Draft> => read(courseId, accountId);

async function lock(courseId: string, accountId: string, connection: PoolConnection): Promise<void> {
  // The row is the lock on the draft: adding one to the version takes it.
  await run(
    "INSERT INTO drafts (course_id, account_id, version) VALUES (?, ?, 1) ON DUPLICATE KEY UPDATE version = version + 1",
    [courseId, accountId],
    connection,
  );
}

/** Adds commands, all or none. Commands that are there already (a resent request) are passed over. */
export async function addCommands(courseId: string, accountId: string, commands: Command[]): Promise<Draft | Refusal> {
  const published = await course(courseId);
  if (!published) return { refused: true, code: "course.gone", sentence: "The course is no longer there." };
  return transaction(async (connection) => {
    await lock(courseId, accountId, connection);
    const draft = await read(courseId, accountId, connection);
    const there = new Set(draft.commands.map(({ id }) => id));
    const added = commands.filter(({ id }) => !there.has(id));
    const before = replay(published.plan, draft.commands, { now: now() });
    const after = replay(before.plan, added, { now: now() });
    const [refused] = after.refused;
    if (refused) {
      // Nothing of a batch is kept when one of it is refused.
      await connection.rollback();
      await connection.beginTransaction();
      return refused.refusal;
    }
    await run(
      "DELETE FROM draft_commands WHERE course_id = ? AND account_id = ? AND undone",
      [courseId, accountId],
      connection,
    );
    const first = draft.commands.length;
    const values = added.map((command, index) => [
      command.id,
      courseId,
      accountId,
      first + index,
      JSON.stringify(command),
      false,
    ]);
    await insertMany(
      "draft_commands",
      ["id", "course_id", "account_id", "position", "command", "undone"],
      values,
      connection,
    );
    return read(courseId, accountId, connection);
  });
}

/** Moves the end of the draft: one step back or forward, or all of it. */
export function stepDraft(
  courseId: string,
  accountId: string,
  step: "undo" | "redo" | "undo all" | "redo all",
): Promise<Draft> {
  return transaction(async (connection) => {
    await lock(courseId, accountId, connection);
    const undoes = step.startsWith("undo");
    const one = step === "undo" ? "ORDER BY position DESC LIMIT 1" : step === "redo" ? "ORDER BY position LIMIT 1" : "";
    await run(
      `UPDATE draft_commands SET undone = ? WHERE course_id = ? AND account_id = ? AND undone = ? ${one}`,
      [undoes, courseId, accountId, !undoes],
      connection,
    );
    return read(courseId, accountId, connection);
  });
}

/** The draft carried over the plan as it is published now. */
export async function draftedPlan(courseId: string, accountId: string): Promise<Replay | null> {
  const published = await course(courseId);
  if (!published) return null;
  const { commands } = await readDraft(courseId, accountId);
  return replay(published.plan, commands, { now: now() });
}

export type Published =
  | { published: true; revision: number }
  /** Somebody else published, or the draft changed, since the review that was looked at. */
  | { published: false; reason: "changed"; revision: number; version: number }
  | { published: false; reason: "refused"; refused: Replay["refused"] };

/** Publishes the whole draft in one transaction, or nothing. Pressed twice, it publishes once. */
export async function publish(
  courseId: string,
  accountId: string,
  publicationId: string,
  seen: { revision: number; version: number },
): Promise<Published> {
  let moved: StoredPlan | null = null;
  const answer = await transaction(async (connection): Promise<Published> => {
    moved = null;
    const stored = await lockCourse(courseId, connection);
    if (!stored) return { published: false, reason: "changed", revision: 0, version: 0 };
    const [done] = await rows<{ revision: number }>(
      "SELECT revision FROM publications WHERE id = ? AND course_id = ? AND account_id = ?",
      [publicationId, courseId, accountId],
      connection,
    );
    if (done) return { published: true, revision: done.revision };
    const draft = await read(courseId, accountId, connection);
    if (stored.revision !== seen.revision || draft.version !== seen.version) {
      return {
        published: false,
        reason: "changed",
        revision: stored.revision,
        version: draft.version,
      };
    }
    const at = now();
    const result = replay(stored.plan, draft.commands, { now: at });
    if (result.refused.length > 0) return { published: false, reason: "refused", refused: result.refused };
    const revision = await moveCourse(courseId, stored, result.plan, connection);
    moved = { revision, plan: result.plan };
    await run(
      "INSERT INTO publications (id, course_id, account_id, revision, at) VALUES (?, ?, ?, ?, ?)",
      [publicationId, courseId, accountId, revision, at],
      connection,
    );
    const lines = result.applied.map(({ command, says }) => [
      v7(),
      courseId,
      accountId,
      revision,
      at,
      says,
      JSON.stringify(command),
    ]);
    await insertMany(
      "journal",
      ["id", "course_id", "account_id", "revision", "at", "says", "detail"],
      lines,
      connection,
    );
    await run("DELETE FROM draft_commands WHERE course_id = ? AND account_id = ?", [courseId, accountId], connection);
    await run(
      "UPDATE drafts SET version = version + 1 WHERE course_id = ? AND account_id = ?",
      [courseId, accountId],
      connection,
    );
    return { published: true, revision };
  });
  if (moved) remember(courseId, moved);
  return answer;
}
