/** Publishing a draft, at once or at a moment: all of it or nothing, and once however often it is sent. Source: semantics.md 8. */
import type { PoolConnection } from "mysql2/promise";
import { membershipOf } from "../core/access/roles.ts";
import type { Message } from "../core/messages/message.ts";
import type { Command, Replay } from "../core/plan/apply.ts";
import type { Refusal } from "../core/plan/command.ts";
import type { Plan } from "../core/plan/types.ts";
import { type Seen, waitingIn } from "../core/review/draft.ts";
import { review } from "../core/review/effects.ts";
import { type Parted, partDraft } from "../core/review/leaving.ts";
import { now } from "./clock.ts";
import { lockCourse, moveCourse, remember } from "./courses.ts";
import { fromJson, rows, run, transaction } from "./database.ts";
import { lockDraft, readDraft } from "./drafts.ts";
import { log } from "./log.ts";
import { writeMessage } from "./messages.ts";
import type { StoredPlan } from "./plan-rows.ts";
import { courseProgress, places } from "./progress.ts";

export type Published =
  | { published: true; revision: number }
  /** Somebody else published, or the draft changed, since the review that was looked at. */
  | { published: false; reason: "changed"; revision: number; version: number }
  | { published: false; reason: "refused"; refused: Replay["refused"] }
  | { published: false; reason: "empty" }
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

/** The draft as it was looked at, over the course that is locked; or why it is another by now. */
async function looked(
  stored: StoredPlan | null,
  courseId: string,
  accountId: string,
  { revision, version, leave }: Publication,
  connection: PoolConnection,
): Promise<{ stored: StoredPlan; parted: Parted; letters: Message[]; at: number } | Published> {
  if (!stored) return { published: false, reason: "changed", revision: 0, version: 0 };
  const draft = await readDraft(courseId, accountId, connection);
  if (stored.revision !== revision || draft.version !== version)
    return { published: false, reason: "changed", revision: stored.revision, version: draft.version };
  const at = now();
  const parted = partDraft(stored.plan, draft.commands, new Set([...leave, ...waitingIn(draft)]), { now: at });
  if (parted.taken.refused.length > 0) return { published: false, reason: "refused", refused: parted.taken.refused };
  return parted.taken.applied.length === 0
    ? { published: false, reason: "empty" }
    : { stored, parted, letters: draft.letters, at };
}

const dropCommands = async (ids: string[], connection: PoolConnection): Promise<void> => {
  for (let from = 0; from < ids.length; from += 1000) {
    const chunk = ids.slice(from, from + 1000);
    await run(`DELETE FROM draft_commands WHERE id IN (${places(chunk)})`, chunk, connection);
  }
};

const dropLetters = (courseId: string, accountId: string, connection: PoolConnection) =>
  run("UPDATE drafts SET letters = '[]' WHERE course_id = ? AND account_id = ?", [courseId, accountId], connection);

/** Writes what was taken of a draft as one step of the plan, under the lock. */
async function write(
  courseId: string,
  accountId: string,
  publicationId: string,
  stored: StoredPlan,
  { plan, applied }: Replay,
  letters: Message[],
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
  for (const letter of letters) await writeMessage(plan, accountId, letter, at, connection);
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
    const found = await looked(locked, courseId, accountId, publication, connection);
    if ("published" in found) return found;
    const { stored, parted, letters, at } = found;
    const commands = parted.taken.applied.map(({ command }) => command);
    const refusal = whyNot(stored.plan, parted.taken.plan, commands);
    if (refusal) return { published: false, reason: "beyond", refusal };
    const id = publication.publicationId;
    moved = await write(courseId, accountId, id, stored, parted.taken, letters, at, connection, told);
    await dropLetters(courseId, accountId, connection);
    return { published: true, revision: moved.revision };
  });
  if (moved) remember(courseId, moved);
  return answer;
}

/** Plans a publication for a moment: its commands stay drafted, and cannot be undone until it is taken back. */
export function planPublication(
  courseId: string,
  accountId: string,
  publication: Publication,
  at: number,
  seen: Seen,
): Promise<{ planned: true } | Published> {
  return transaction(async (connection) => {
    const [there] = await rows(
      "SELECT 1 FROM planned_publications WHERE id = ?",
      [publication.publicationId],
      connection,
    );
    if (there) return { planned: true as const };
    const found = await looked(await lockCourse(courseId, connection), courseId, accountId, publication, connection);
    if ("published" in found) return found;
    await run(
      `INSERT INTO planned_publications (id, course_id, account_id, at, seen, state, says, letters)
       VALUES (?, ?, ?, ?, ?, 'waiting', '', ?)`,
      [publication.publicationId, courseId, accountId, at, JSON.stringify(seen), JSON.stringify(found.letters)],
      connection,
    );
    await dropLetters(courseId, accountId, connection);
    const ids = found.parted.taken.applied.map(({ command }) => command.id);
    await run(
      `UPDATE draft_commands SET planned_id = ? WHERE course_id = ? AND account_id = ? AND id IN (${places(ids)})`,
      [publication.publicationId, courseId, accountId, ...ids],
      connection,
    );
    await lockDraft(courseId, accountId, connection);
    return { planned: true as const };
  });
}

const release = (plannedId: string, connection: PoolConnection) =>
  run("UPDATE draft_commands SET planned_id = NULL WHERE planned_id = ?", [plannedId], connection);

/** The messages of a planned publication stand in the draft again. */
async function giveLettersBack(courseId: string, accountId: string, letters: Message[], connection: PoolConnection) {
  const draft = await readDraft(courseId, accountId, connection);
  await run(
    "UPDATE drafts SET letters = ? WHERE course_id = ? AND account_id = ?",
    [JSON.stringify([...letters, ...draft.letters]), courseId, accountId],
    connection,
  );
}

/** Takes a planned publication back into the draft, or puts away one that was held back; false where there is none. */
export function takeBack(courseId: string, accountId: string, plannedId: string): Promise<boolean> {
  return transaction(async (connection) => {
    const [found] = await rows<{ state: string; letters: string }>(
      `SELECT state, letters FROM planned_publications
       WHERE id = ? AND course_id = ? AND account_id = ? AND state IN ('waiting', 'held back') FOR UPDATE`,
      [plannedId, courseId, accountId],
      connection,
    );
    if (!found) return false;
    await run("UPDATE planned_publications SET state = 'taken back' WHERE id = ?", [plannedId], connection);
    await release(plannedId, connection);
    await lockDraft(courseId, accountId, connection);
    // One that was held back gave its messages back then.
    if (found.state === "waiting")
      await giveLettersBack(courseId, accountId, fromJson<Message[]>(found.letters), connection);
    return true;
  });
}

/** Why a planned publication may not go out as things are now; null where it may. */
async function whyHeldBack(
  stored: StoredPlan,
  accountId: string,
  taken: Replay,
  seen: Seen,
  at: number,
): Promise<string | null> {
  const [author] = await rows<{ sourcedId: string }>("SELECT sourced_id AS sourcedId FROM accounts WHERE id = ?", [
    accountId,
  ]);
  if (membershipOf(stored.plan, author?.sourcedId ?? "", at)?.role !== "coordinator")
    return "Whoever planned it no longer coordinates the course.";
  const [refused] = taken.refused;
  if (refused) return `Part of it no longer applies: ${refused.refusal.sentence}`;
  const { progress } = await courseProgress(stored.plan.course.id);
  const found = review(stored.plan, taken.plan, progress, at);
  const worse = [
    [found.leaksAdded, seen.leaks, "students in a new leak"],
    [found.losing, seen.losing, "students who lose something"],
    [found.earlier, seen.earlier, "students with something due earlier"],
  ] as const;
  const more = worse.find(([is, was]) => is > was);
  return more ? `The course has changed since it was planned: ${more[0]} ${more[2]}, instead of ${more[1]}.` : null;
}

interface Due {
  id: string;
  course_id: string;
  account_id: string;
  seen: string;
  letters: string;
}

async function publishOne(planned: Due): Promise<void> {
  const { id, course_id: courseId, account_id: accountId } = planned;
  let moved: StoredPlan | null = null;
  await transaction(async (connection) => {
    moved = null;
    const stored = await lockCourse(courseId, connection);
    const [still] = await rows<{ state: string }>(
      "SELECT state FROM planned_publications WHERE id = ? FOR UPDATE",
      [id],
      connection,
    );
    if (!stored || still?.state !== "waiting") return;
    const draft = await readDraft(courseId, accountId, connection);
    const mine = new Set(draft.planned.find((one) => one.id === id)?.commandIds);
    const others = draft.commands.filter((command) => !mine.has(command.id)).map((command) => command.id);
    const at = now();
    const { taken, staying } = partDraft(stored.plan, draft.commands, new Set(others), { now: at });
    const lost = [...mine].some((commandId) => staying.has(commandId));
    const why = lost
      ? "It needs changes that are drafted and not part of it."
      : await whyHeldBack(stored, accountId, taken, fromJson<Seen>(planned.seen), at);
    const letters = fromJson<Message[]>(planned.letters);
    if (why === null) moved = await write(courseId, accountId, id, stored, taken, letters, at, connection);
    else {
      await release(id, connection);
      await lockDraft(courseId, accountId, connection);
      await giveLettersBack(courseId, accountId, letters, connection);
    }
    await run(
      "UPDATE planned_publications SET state = ?, says = ? WHERE id = ?",
      [why === null ? "published" : "held back", why ?? "", id],
      connection,
    );
  });
  if (moved) remember(courseId, moved);
}

/** Publishes what was planned for a moment that has come. Several processes may ask: each is published by one. */
export async function publishDue(at: number): Promise<void> {
  const due = await rows<Due>(
    "SELECT id, course_id, account_id, seen, letters FROM planned_publications WHERE state = 'waiting' AND at <= ? ORDER BY at LIMIT 50",
    [at],
  );
  for (const planned of due)
    await publishOne(planned).catch((error) => log.error({ error: String(error) }, "planned publication failed"));
}
