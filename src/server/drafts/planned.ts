/** Publications that are planned for a moment: kept, moved, taken back, published or held back. Source: semantics.md section 8. */

import type { PoolConnection } from "mysql2/promise";
import { membershipOf } from "../../core/access/roles.ts";
import { sayInstant } from "../../core/clock/local-time.ts";
import type { Replay } from "../../core/commands.ts";
import type { Message } from "../../core/messages/message.ts";
import type { Seen } from "../../core/review/draft.ts";
import { review } from "../../core/review/effects.ts";
import { partDraft } from "../../core/review/leaving.ts";
import { plural } from "../../core/text/plural.ts";
import { now } from "../clock.ts";
import { log } from "../log.ts";
import { course, lockCourse, remember } from "../store/courses.ts";
import { fromJson, parameters, rows, run, transaction } from "../store/database.ts";
import { writeJournal } from "../store/journal.ts";
import type { StoredPlan } from "../store/plan-rows.ts";
import { courseProgress } from "../store/progress.ts";
import { lockDraft, readDraft, storedMessages } from "./drafts.ts";
import {
  draftAsReviewed,
  dropMessages,
  messageMistake,
  type Publication,
  type Published,
  writePublication,
} from "./publishing.ts";

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
    const found = await draftAsReviewed(
      await lockCourse(courseId, connection),
      courseId,
      accountId,
      publication,
      connection,
    );
    if ("published" in found) return found;
    await run(
      `INSERT INTO planned_publications (id, course_id, account_id, at, seen, state, says, messages)
       VALUES (?, ?, ?, ?, ?, 'waiting', '', ?)`,
      [publication.publicationId, courseId, accountId, at, JSON.stringify(seen), JSON.stringify(found.messages)],
      connection,
    );
    await dropMessages(courseId, accountId, connection);
    const ids = found.parted.taken.applied.map(({ command }) => command.id);
    await run(
      `UPDATE draft_commands SET planned_id = ? WHERE course_id = ? AND account_id = ? AND id IN (${parameters(ids)})`,
      [publication.publicationId, courseId, accountId, ...ids],
      connection,
    );
    await lockDraft(courseId, accountId, connection);
    const when = sayInstant(at, found.stored.plan.course.timeZone);
    const says = `Planned for ${when}: ${changes(found.parted.taken.applied)}${sayMessages(found.messages)}`;
    await note(courseId, accountId, says, connection);
    return { planned: true as const };
  });
}

const changes = (applied: Replay["applied"]) => {
  const [first, ...more] = applied;
  return more.length === 0 ? (first?.says ?? "nothing") : `${first?.says}, and ${more.length} more`;
};
const sayMessages = ({ length }: Message[]) =>
  length === 0 ? "" : length === 1 ? ", with a message" : `, with ${length} messages`;

/** What becomes of a planned publication stands in the journal. */
const note = (courseId: string, accountId: string, says: string, connection: PoolConnection) =>
  writeJournal(courseId, 0, { accountId, at: now(), kind: "planned", lines: [{ says }] }, connection);

// Asked for before a transaction: whoever holds a connection and waits for another keeps others waiting.
const zoneOf = async (courseId: string): Promise<string> => (await course(courseId))?.plan.course.timeZone ?? "UTC";

/** Moves a planned publication to another moment; false where there is none that waits. */
export async function movePlanned(
  courseId: string,
  accountId: string,
  plannedId: string,
  at: number,
): Promise<boolean> {
  const timeZone = await zoneOf(courseId);
  return transaction(async (connection) => {
    const [found] = await rows<{ at: number }>(
      `SELECT at FROM planned_publications
       WHERE id = ? AND course_id = ? AND account_id = ? AND state = 'waiting' FOR UPDATE`,
      [plannedId, courseId, accountId],
      connection,
    );
    if (!found) return false;
    await run("UPDATE planned_publications SET at = ? WHERE id = ?", [at, plannedId], connection);
    await lockDraft(courseId, accountId, connection);
    const says = `What was planned for ${sayInstant(found.at, timeZone)} is planned for ${sayInstant(at, timeZone)}`;
    await note(courseId, accountId, says, connection);
    return true;
  });
}

const releaseCommands = (plannedId: string, connection: PoolConnection) =>
  run("UPDATE draft_commands SET planned_id = NULL WHERE planned_id = ?", [plannedId], connection);

/** The messages of a planned publication stand in the draft again. */
async function giveMessagesBack(courseId: string, accountId: string, messages: Message[], connection: PoolConnection) {
  const draft = await readDraft(courseId, accountId, connection);
  await run(
    "UPDATE drafts SET messages = ? WHERE course_id = ? AND account_id = ?",
    [JSON.stringify([...messages, ...draft.messages]), courseId, accountId],
    connection,
  );
}

/** Takes a planned publication back into the draft, or puts away one that was held back; false where there is none. */
export async function takeBack(courseId: string, accountId: string, plannedId: string): Promise<boolean> {
  const timeZone = await zoneOf(courseId);
  return transaction(async (connection) => {
    const [found] = await rows<{ state: string; messages: string; at: number }>(
      `SELECT state, messages, at FROM planned_publications
       WHERE id = ? AND course_id = ? AND account_id = ? AND state IN ('waiting', 'held back') FOR UPDATE`,
      [plannedId, courseId, accountId],
      connection,
    );
    if (!found) return false;
    await run("UPDATE planned_publications SET state = 'taken back' WHERE id = ?", [plannedId], connection);
    await releaseCommands(plannedId, connection);
    await lockDraft(courseId, accountId, connection);
    // One that was held back gave its messages back then, and is said to have been.
    if (found.state !== "waiting") return true;
    await giveMessagesBack(courseId, accountId, storedMessages(found.messages), connection);
    const says = `What was planned for ${sayInstant(found.at, timeZone)} was taken back into the draft`;
    await note(courseId, accountId, says, connection);
    return true;
  });
}

/** Why a planned publication may not go out as things are now; null where it may. */
async function whyHeldBack(
  { plan }: StoredPlan,
  accountId: string,
  { taken, messages }: { taken: Replay; messages: Message[] },
  seen: Seen,
  at: number,
): Promise<string | null> {
  const [author] = await rows<{ sourcedId: string }>("SELECT sourced_id AS sourcedId FROM accounts WHERE id = ?", [
    accountId,
  ]);
  if (membershipOf(plan, author?.sourcedId ?? "", at)?.role !== "coordinator")
    return "Whoever planned it no longer coordinates the course.";
  const mistake = messageMistake(taken.plan, messages);
  if (mistake) return mistake;
  const [refused] = taken.refused;
  if (refused) return `Part of it no longer applies: ${refused.refusal.sentence}`;
  const { progress } = await courseProgress(plan.course.id);
  const found = review(plan, taken.plan, progress, at);
  const worse = [
    [found.leaksAdded, seen.leaks, ["student in a new leak", "students in a new leak"]],
    [found.losing, seen.losing, ["student who loses something", "students who lose something"]],
    [
      found.earlier,
      seen.earlier,
      ["student with something due earlier or less allowed", "students with something due earlier or less allowed"],
    ],
  ] as const;
  const more = worse.find(([is, was]) => is > was);
  return more
    ? `The course has changed since it was planned: ${plural(more[0], more[2][0], more[2][1])}, instead of ${more[1]}.`
    : null;
}

interface Due {
  id: string;
  course_id: string;
  account_id: string;
  at: number;
  seen: string;
  messages: string;
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
    const messages = storedMessages(planned.messages);
    const why = lost
      ? "It needs changes that are drafted and not part of it."
      : await whyHeldBack(stored, accountId, { taken, messages }, fromJson<Seen>(planned.seen), at);
    const when = sayInstant(planned.at, stored.plan.course.timeZone);
    const says =
      why === null
        ? `Published as planned for ${when}: ${changes(taken.applied)}${sayMessages(messages)}`
        : `What was planned for ${when} was held back. ${why}`;
    if (why === null) moved = await writePublication(courseId, accountId, id, stored, taken, messages, at, connection);
    else {
      await releaseCommands(id, connection);
      await lockDraft(courseId, accountId, connection);
      await giveMessagesBack(courseId, accountId, messages, connection);
    }
    await note(courseId, accountId, says, connection);
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
    "SELECT id, course_id, account_id, at, seen, messages FROM planned_publications WHERE state = 'waiting' AND at <= ? ORDER BY at LIMIT 50",
    [at],
  );
  for (const planned of due)
    await publishOne(planned).catch((error) => log.error({ error: String(error) }, "planned publication failed"));
}
