/** What instructors and support people propose, and what the coordinator takes of it, whole or in part. Source: semantics.md section 9. */

import type { PoolConnection } from "mysql2/promise";
import { v7 } from "uuid";
import type { Drafter } from "../../core/access/drafting.ts";
import { Command, replay } from "../../core/commands.ts";
import { type Refusal, refuse } from "../../core/plan/command.ts";
import type { Plan } from "../../core/plan/types.ts";
import { partDraft } from "../../core/review/leaving.ts";
import type { Proposal, ProposalState } from "../../core/review/proposal.ts";
import { whyNotDraftAll } from "../../core/review/within-scope.ts";
import { cut } from "../../core/text/shorten.ts";
import { now } from "../clock.ts";
import type { CourseAccess, CourseMember } from "../http/guard.ts";
import { fromJson, parameters, rows, run, transaction } from "../store/database.ts";
import { writeJournal } from "../store/journal.ts";
import { addWithin, insertCommands, lockDraft, readDraft, startAnew } from "./drafts.ts";
import { sayPart, tellAuthor } from "./proposal-notices.ts";

/** What limits somebody's draft; null for the coordinator, whom nothing does. */
export const drafterOf = ({ scope, membership, plan }: CourseAccess): Drafter | null =>
  scope && {
    personId: membership.personId,
    scope,
    may: plan.course.staffMay[membership.personId] ?? [],
    knows: (itemId) => plan.items[itemId] !== undefined,
  };

interface Row {
  id: string;
  accountId: string;
  by: string;
  at: number;
  commands: string;
  state: ProposalState;
  answer: string;
  taken: number;
  published: number;
  publishedAt: number | null;
}
const columns = `p.id, p.account_id AS accountId, COALESCE(a.display_name, '') AS \`by\`, p.at, p.commands, p.state,
  p.answer, p.taken, p.published, p.published_at AS publishedAt FROM proposals p LEFT JOIN accounts a ON a.id = p.account_id`;
const parse = (row: Row): Command[] => fromJson<unknown[]>(row.commands).map((one) => Command.parse(one));

/**
 * Proposals of a course, the newest first: for the coordinator those that wait, each line as it would be over the course
 * as it is; for others their own, answered ones too.
 */
export async function proposalsOf(
  { courseId, seesAll, access }: Pick<CourseMember, "courseId" | "seesAll" | "access">,
  accountId: string,
): Promise<Proposal[]> {
  const found = await rows<Row>(
    seesAll
      ? `SELECT ${columns} WHERE p.course_id = ? AND p.state = 'waiting' ORDER BY p.at DESC LIMIT 100`
      : `SELECT ${columns} WHERE p.course_id = ? AND p.account_id = ? ORDER BY p.at DESC LIMIT 20`,
    seesAll ? [courseId] : [courseId, accountId],
  );
  if (found.length === 0) return [];
  const { plan } = await access();
  return found.map((row) => {
    const commands = parse(row);
    const { applied, refused } = replay(plan, commands, { now: now() });
    const says = new Map(applied.map((one) => [one.command.id, one.says]));
    const why = new Map(refused.map((one) => [one.command.id, one.refusal.sentence]));
    return {
      id: row.id,
      by: row.by,
      at: row.at,
      state: row.state,
      answer: row.answer,
      taken: row.taken,
      published: row.published,
      publishedAt: row.publishedAt,
      lines: commands.map(({ id }) => ({ id, says: says.get(id) ?? "", why: why.get(id) ?? null })),
      // Only whoever may take them in needs them.
      commands: seesAll ? commands : [],
    };
  });
}

/** Puts what is drafted, without what stays, before the coordinator: it waits there and is drafted here no more. */
export async function propose(
  access: CourseAccess,
  accountId: string,
  leave: string[],
): Promise<Refusal | { id: string }> {
  const { courseId, whole: plan } = access;
  const drafter = drafterOf(access);
  if (!drafter) return refuse("proposal.own", "You coordinate the course: publish it yourself.");
  return transaction(async (connection) => {
    await lockDraft(courseId, accountId, connection);
    const draft = await readDraft(courseId, accountId, connection);
    const { taken } = partDraft(plan, draft.commands, new Set(leave), { now: now() });
    const [refused] = taken.refused;
    if (refused) return refused.refusal;
    const commands = taken.applied.map(({ command }) => command);
    if (commands.length === 0)
      return refuse("proposal.empty", "Nothing is taken into the proposal. Take something in.");
    const beyond = whyNotDraftAll(plan, drafter, commands, now());
    if (beyond) return beyond;
    const id = v7();
    const says = taken.applied.map((one) => one.says).join("; ");
    await run(
      "INSERT INTO proposals (id, course_id, account_id, at, commands) VALUES (?, ?, ?, ?, ?)",
      [id, courseId, accountId, now(), JSON.stringify(commands)],
      connection,
    );
    const ids = commands.map((command) => command.id);
    await run(`DELETE FROM draft_commands WHERE id IN (${parameters(ids)})`, ids, connection);
    const line = {
      says: `Proposed ${commands.length === 1 ? "a change" : `${commands.length} changes`}: ${cut(says, 300)}`,
    };
    await writeJournal(courseId, 0, { accountId, at: now(), kind: "staff", lines: [line] }, connection);
    return { id };
  });
}

/** A waiting proposal under its lock; null where there is none. */
async function locked(courseId: string, id: string, connection: PoolConnection): Promise<Row | null> {
  const [found] = await rows<Row>(
    `SELECT ${columns} WHERE p.course_id = ? AND p.id = ? AND p.state = 'waiting' FOR UPDATE`,
    [courseId, id],
    connection,
  );
  return found ?? null;
}

interface Answer {
  state: ProposalState;
  /** The coordinator's word. */
  answer: string;
  taken: Command[];
}
const answered = (id: string, { state, answer, taken }: Answer, connection: PoolConnection) =>
  run(
    "UPDATE proposals SET state = ?, answer = ?, taken = ?, taken_ids = ? WHERE id = ?",
    [state, answer, taken.length, JSON.stringify(taken.map((one) => one.id)), id],
    connection,
  );

/** What was not taken is drafted by its author again, so that nothing of it is lost. */
async function handBack(courseId: string, accountId: string, commands: Command[], connection: PoolConnection) {
  if (commands.length === 0) return;
  await lockDraft(courseId, accountId, connection);
  const draft = await readDraft(courseId, accountId, connection);
  const first = draft.commands.length + draft.undone.length;
  await insertCommands(courseId, accountId, commands, first, connection);
}

/** What its author is told of an answer: how much was taken, and which changes were. */
function toldOfAnswer(
  plan: Plan,
  row: Row,
  { byId, answer, taken }: { byId: string; answer: string; taken: Command[] },
) {
  const all = parse(row);
  const says = new Map(replay(plan, all, { now: now() }).applied.map((one) => [one.command.id, one.says]));
  const part = sayPart(taken.length, all.length);
  const ids = new Set(taken.map(({ id }) => id));
  const line = ({ id }: Command) => `${ids.has(id) ? "Taken" : "Handed back"}: ${says.get(id) ?? "no longer applies"}`;
  return {
    authorId: row.accountId,
    byId,
    subject: taken.length === 0 ? "What you proposed is handed back" : `What you proposed is taken: ${part}`,
    answer,
    says: all.map(line),
    at: now(),
  };
}

/** Takes lines of a proposal into the coordinator's own draft, and hands the rest back with a word; all of that or nothing. */
export const takeProposal = (
  { courseId, whole }: CourseAccess,
  accountId: string,
  proposalId: string,
  wanted: string[],
  answer: string,
): Promise<Refusal | "taken" | "gone"> =>
  transaction(async (connection) => {
    const row = await locked(courseId, proposalId, connection);
    if (!row) return "gone";
    const commands = parse(row);
    const taken = commands.filter(({ id }) => wanted.includes(id));
    const others = commands.filter(({ id }) => !wanted.includes(id));
    await handBack(courseId, row.accountId, others, connection);
    await answered(proposalId, { state: others.length === 0 ? "taken" : "handed back", answer, taken }, connection);
    await tellAuthor(whole, toldOfAnswer(whole, row, { byId: accountId, answer, taken }), connection);
    if (taken.length === 0) return "taken";
    const draft = await addWithin(whole, accountId, taken, connection);
    if (!("refused" in draft)) return "taken";
    // One of them does not fit the coordinator's draft: the proposal waits as it was.
    await startAnew(connection);
    return draft;
  });

/** The author takes a waiting proposal back into the draft. */
export const takeProposalBack = (courseId: string, accountId: string, proposalId: string): Promise<boolean> =>
  transaction(async (connection) => {
    const row = await locked(courseId, proposalId, connection);
    if (!row || row.accountId !== accountId) return false;
    await handBack(courseId, accountId, parse(row), connection);
    await answered(proposalId, { state: "taken back", answer: "", taken: [] }, connection);
    return true;
  });
