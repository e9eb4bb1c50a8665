/** What staff do with attempts. Source: semantics.md sections 7 (attempts) and 9. */
import type { PoolConnection } from "mysql2/promise";
import type { Anew, AttemptAct } from "../../api/attempts.ts";
import { paperAnew } from "../../core/attempts/anew.ts";
import { endBy, limitsOf } from "../../core/attempts/clock.ts";
import type { Paper } from "../../core/attempts/drawing.ts";
import { pointsOf, rounded, scoreOf } from "../../core/attempts/marking.ts";
import type { Item } from "../../core/plan/types.ts";
import { membersThen } from "../../core/reach/group-work.ts";
import { plural } from "../../core/text/plural.ts";
import { now } from "../clock.ts";
import { run, transaction } from "../store/database.ts";
import { writeJournal } from "../store/journal.ts";
import { touched } from "../store/progress.ts";
import { end, onTime, setColumnMark } from "./ending.ts";
import { type Access, byAttempt, isWithin, standsEnded, within } from "./reading.ts";
import { type Attempt, answered, answersOf } from "./rows.ts";

interface Doer {
  access: Access;
  item: Item;
  /** The account of whoever does it. */
  by: string;
}

/** The points of an attempt that ended, by its answers as they are now; the column's mark follows. */
async function markAgain({ item }: Doer, attempt: Attempt, paper: Paper, connection: PoolConnection): Promise<void> {
  const score = scoreOf(paper, answered(await answersOf([attempt.id], connection)));
  await run("UPDATE attempts SET points = ? WHERE id = ?", [pointsOf(score, item.points), attempt.id], connection);
  await setColumnMark(item, attempt, connection);
}

const journal = ({ access, by }: Doer, says: string, connection: PoolConnection) =>
  writeJournal(access.courseId, 0, { accountId: by, at: now(), kind: "attempts", lines: [{ says }] }, connection);

const sayAct = (act: AttemptAct): string => {
  if (act.kind === "more time") return `${plural(act.minutes, "more minute")} for`;
  if (act.kind === "reopen") return `Opened again for ${plural(act.minutes, "minute")}:`;
  return act.kind === "end" ? "Ended" : "Made void";
};

/** Does something with attempts; gives of how many it could be done. */
export function actOn(doer: Doer, attemptIds: string[], act: AttemptAct): Promise<number> {
  const { access, item } = doer;
  return transaction(async (connection) => {
    const t = now();
    let done = 0;
    for (const id of attemptIds) {
      const attempt = await onTime(access.whole, access.courseId, id, connection, t);
      if (!attempt || attempt.itemId !== item.id || !isWithin(access, attempt)) continue;
      if (await actOnOne(doer, attempt, act, connection)) done++;
    }
    if (done > 0) {
      const reason = act.kind === "void" ? `: ${act.reason}` : "";
      await journal(doer, `${sayAct(act)} ${plural(done, "attempt")} on ${item.title}${reason}`, connection);
      await run(touched, [access.courseId], connection);
    }
    return done;
  });
}

async function actOnOne(doer: Doer, attempt: Attempt, act: AttemptAct, connection: PoolConnection): Promise<boolean> {
  const { access, item } = doer;
  const isRunning = attempt.endedAt === null;
  if (attempt.endedHow === "void") return false;
  if (act.kind === "more time") {
    if (!isRunning || attempt.endsAt === null) return false;
    const sql = "UPDATE attempts SET extra_minutes = extra_minutes + ?, ends_at = ends_at + ? WHERE id = ?";
    await run(sql, [act.minutes, act.minutes * 60_000, attempt.id], connection);
    return true;
  }
  if (act.kind === "end") {
    if (isRunning) await end(access.whole, attempt, "staff", now(), connection);
    return isRunning;
  }
  if (act.kind === "reopen") {
    if (!isRunning) await reopen(doer, attempt, act.minutes, connection);
    return !isRunning;
  }
  await run(
    "UPDATE attempts SET ended_at = COALESCE(ended_at, ?), ended_how = 'void', reason = ?, hand_in_id = NULL WHERE id = ?",
    [now(), act.reason, attempt.id],
    connection,
  );
  if (attempt.handInId) await run("DELETE FROM hand_ins WHERE id = ?", [attempt.handInId], connection);
  await setColumnMark(item, attempt, connection);
  return true;
}

/** An attempt that ended runs again for so many minutes from now, whatever its limits are. */
async function reopen({ access, item }: Doer, attempt: Attempt, minutes: number, connection: PoolConnection) {
  const t = now();
  const { begunAt, holderId, isGroup } = attempt;
  const persons = isGroup ? membersThen(access.whole, holderId, t) : [holderId];
  const byLimits = endBy(begunAt, limitsOf(access.whole, item, persons, t));
  const until = t + minutes * 60_000;
  const extra = byLimits === null ? 0 : Math.max(0, Math.ceil((until - byLimits) / 60_000));
  await run(
    "UPDATE attempts SET ended_at = NULL, ended_how = NULL, points = NULL, extra_minutes = ?, ends_at = ? WHERE id = ?",
    [extra, until, attempt.id],
    connection,
  );
  await setColumnMark(item, attempt, connection);
}

export interface GivenPoints {
  attemptId: string;
  questionId: string;
  points: number | null;
}

/** Whether points could be given: to an answer that there is, and no more than its question is worth. */
async function give(
  { id, paper }: Attempt,
  { questionId, points }: GivenPoints,
  by: string,
  connection: PoolConnection,
): Promise<boolean> {
  const question = paper.questions.find((one) => one.id === questionId);
  if (!question || (points !== null && points > question.points)) return false;
  const given = points === null ? [null, null] : [rounded(points), by];
  const sql = "UPDATE attempt_answers SET points = ?, marked_by = ? WHERE attempt_id = ? AND question_id = ?";
  return (await run(sql, [...given, id, questionId], connection)) > 0;
}

/** Gives points to answers of attempts that ended; gives how many were stored. */
export function giveToAnswers(doer: Doer, marks: GivenPoints[]): Promise<number> {
  const { access, item, by } = doer;
  return transaction(async (connection) => {
    await run(touched, [access.courseId], connection);
    const attempts = new Map((await within(access, item.id)).filter(standsEnded).map((one) => [one.id, one]));
    let stored = 0;
    const changed = new Set<Attempt>();
    for (const one of marks) {
      const attempt = attempts.get(one.attemptId);
      if (!attempt || !(await give(attempt, one, by, connection))) continue;
      stored++;
      changed.add(attempt);
    }
    for (const attempt of changed) await markAgain(doer, attempt, attempt.paper, connection);
    if (stored > 0) await journal(doer, `${plural(stored, "answer")} marked on ${item.title}`, connection);
    return stored;
  });
}

/** What attempts that ended come to by what is called right now: those of which the points change; kept where asked. */
export function anew(doer: Doer, keep: boolean): Promise<Anew[]> {
  const { access, item } = doer;
  return transaction(async (connection) => {
    if (!item.quiz) return [];
    const { quiz } = item;
    const attempts = (await within(access, item.id)).filter(standsEnded);
    const saved = byAttempt(
      await answersOf(
        attempts.map(({ id }) => id),
        connection,
      ),
    );
    const changed: Anew[] = [];
    for (const attempt of attempts) {
      const paper = paperAnew(attempt.paper, quiz);
      const after = pointsOf(scoreOf(paper, answered(saved.get(attempt.id) ?? [])), item.points);
      if (after === attempt.points) continue;
      const { id: attemptId, holderId, number, points: before } = attempt;
      changed.push({ attemptId, holderId, number, before, after });
      if (!keep) continue;
      await run("UPDATE attempts SET paper = ? WHERE id = ?", [JSON.stringify(paper), attemptId], connection);
      await markAgain(doer, attempt, paper, connection);
    }
    if (keep && changed.length > 0) {
      await journal(doer, `${plural(changed.length, "attempt")} on ${item.title} marked anew`, connection);
      await run(touched, [access.courseId], connection);
    }
    return changed;
  });
}
