/** A student works on an attempt: begins it, saves answers as they are given, hands it in. Source: semantics.md section 7. */
import type { PoolConnection } from "mysql2/promise";
import { v7 } from "uuid";
import type { NewAnswer, SavedAnswers } from "../../api/attempts.ts";
import { type Begun, holderOf, isInAttempts, isWord, whyNotBegin } from "../../core/attempts/beginning.ts";
import { endBy, limitsOf } from "../../core/attempts/clock.ts";
import { paperOf } from "../../core/attempts/drawing.ts";
import { fileIn, fits } from "../../core/attempts/marking.ts";
import { hasBit } from "../../core/sets/bits.ts";
import { now } from "../clock.ts";
import type { CourseAccess } from "../http/guard.ts";
import { run, transaction } from "../store/database.ts";
import type { ShownCourse } from "../student/shown-course.ts";
import { end, onTime } from "./ending.ts";
import { type Attempt, answersOf, attemptsOf, type SavedAnswer } from "./rows.ts";

/** An item that somebody sees and works on in attempts, with whose they are and by which limits. */
export interface Place extends Omit<Begun, "count"> {
  courseId: string;
  /** Null where a group works on it and they are in none. */
  holder: ReturnType<typeof holderOf>;
}

/** Where somebody may work on an item in attempts; null where they do not see it, or it is not worked on so. */
export function placeOf(
  { page, plan, courseId }: Pick<ShownCourse, "page" | "plan" | "courseId">,
  itemId: string,
): Place | null {
  const item = plan.items[itemId];
  const { personId, reach, index } = page;
  if (!item || page.visits || !hasBit(reach.sees(item), index)) return null;
  const holder = holderOf(plan, item, personId, reach.t);
  const limits = limitsOf(plan, item, holder?.personIds ?? [personId], reach.t);
  return isInAttempts(item, limits) ? { plan, courseId, item, personId, t: reach.t, limits, holder } : null;
}

/** Where somebody saves: whose an attempt on the item is, as far as it is theirs. */
type SavingPlace = Pick<Place, "plan" | "courseId" | "personId" | "item" | "holder">;

/**
 * Where a student goes on with an attempt that runs. What has begun is theirs until it ends, whatever becomes of the item
 * meanwhile, so that nothing of it is lost; and nothing but its clock and its own answers is told. Null where there is no
 * such item.
 */
export function savingPlace(
  { plan, courseId, membership }: Pick<CourseAccess, "plan" | "courseId" | "membership">,
  itemId: string,
): SavingPlace | null {
  const item = plan.items[itemId];
  const { personId, role } = membership;
  if (!item || role !== "student") return null;
  return { plan, courseId, personId, item, holder: holderOf(plan, item, personId, now()) };
}

const standing = (attempts: Attempt[]): Attempt[] => attempts.filter(({ endedHow }) => endedHow !== "void");
const runningAmong = (attempts: Attempt[]): Attempt | undefined => attempts.find(({ endedAt }) => endedAt === null);

export type BeginAnswer = { attempt: Attempt } | { failure: string };

/**
 * Begins an attempt, or gives the one that runs; or why not. However often it is asked at once, one begins: the table holds
 * one of each number for a holder, and whoever comes second looks again.
 */
export async function begin(place: Place, typed: string): Promise<BeginAnswer> {
  const { plan, courseId, item, limits, holder } = place;
  if (!holder) return { failure: whyNotBegin({ ...place, count: 0 }) ?? "" };
  for (;;) {
    const before = await attemptsOf(courseId, item.id, [holder.id]);
    const t = now();
    const running = runningAmong(before);
    const current = running && (await transaction((connection) => onTime(plan, courseId, running.id, connection, t)));
    if (current?.endedAt === null) return { attempt: current };
    const why = whyNotBegin({ ...place, t, count: standing(before).length }) ?? whyNotWord(limits.accessWord, typed);
    if (why !== null) return { failure: why };
    const made = newAttempt(place, holder, before.length + 1, t);
    if (await insertAttempt(made)) return { attempt: made };
  }
}

function whyNotWord(word: string | null, typed: string): string | null {
  if (word === null || isWord(word, typed)) return null;
  return typed.trim() === ""
    ? "Type the password that you were given for it; then it begins."
    : "That is not its password. Capitals count. Nothing has begun.";
}

function newAttempt(
  { courseId, item, personId, limits }: Place,
  holder: NonNullable<Place["holder"]>,
  number: number,
  t: number,
): Attempt {
  return {
    id: v7(),
    courseId,
    itemId: item.id,
    holderId: holder.id,
    isGroup: holder.isGroup,
    number,
    begunBy: personId,
    begunAt: t,
    endsAt: endBy(t, limits),
    extraMinutes: 0,
    endedAt: null,
    endedHow: null,
    reason: "",
    paper: paperOf(item, Math.floor(Math.random() * 2 ** 31)),
    points: null,
    seenAt: t,
    handInId: null,
  };
}

/** False where the holder has one of this number already. */
const insertAttempt = (made: Attempt): Promise<boolean> =>
  run(
    `INSERT INTO attempts (id, course_id, item_id, holder_id, is_group, number, begun_by, begun_at, ends_at, paper, seen_at)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
    [
      made.id,
      made.courseId,
      made.itemId,
      made.holderId,
      made.isGroup,
      made.number,
      made.begunBy,
      made.begunAt,
      made.endsAt,
      JSON.stringify(made.paper),
      made.seenAt,
    ],
  ).then(
    () => true,
    (error) => {
      if ((error as { code?: unknown }).code === "ER_DUP_ENTRY") return false;
      throw error;
    },
  );

/** Whether an answer follows what stands; either way it is noted what stands now. */
function isNewer(
  { questionId, answer, sequence }: NewAnswer,
  stands: SavedAnswer | undefined,
  saved: SavedAnswers,
): boolean {
  if (!stands || sequence > stands.sequence) {
    saved.sequences[questionId] = sequence;
    return true;
  }
  if (JSON.stringify(stands.answer) === JSON.stringify(answer)) saved.sequences[questionId] = stands.sequence;
  else saved.elsewhere[questionId] = { answer: stands.answer, sequence: stands.sequence };
  return false;
}

const write = (
  { id, courseId, itemId, holderId }: Attempt,
  { questionId, answer, sequence }: NewAnswer,
  personId: string,
  at: number,
  connection: PoolConnection,
) =>
  run(
    `INSERT INTO attempt_answers
       (course_id, attempt_id, item_id, holder_id, question_id, answer, file_id, sequence, saved_at, saved_by)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?) ON DUPLICATE KEY UPDATE answer = VALUES(answer), file_id = VALUES(file_id),
     sequence = VALUES(sequence), saved_at = VALUES(saved_at), saved_by = VALUES(saved_by)`,
    [
      ...[
        courseId,
        id,
        itemId,
        holderId,
        questionId,
        JSON.stringify(answer),
        fileIn(answer)?.id ?? null,
        sequence,
        at,
        personId,
      ],
    ],
    connection,
  );

/** That a browser is there is noted so often, in milliseconds: staff are told of one that was not heard of for half a minute. */
const notedEvery = 5000;

/** Saves answers of an attempt that runs; of those that are older than what stands, what stands is given back. */
export function save(place: SavingPlace, attemptId: string, answers: NewAnswer[]): Promise<SavedAnswers | null> {
  const { plan, courseId, personId, holder, item } = place;
  return transaction(async (connection): Promise<SavedAnswers | null> => {
    const t = now();
    const attempt = await onTime(plan, courseId, attemptId, connection, t);
    if (!attempt || attempt.itemId !== item.id || attempt.holderId !== holder?.id) return null;
    const saved: SavedAnswers = {
      sequences: {},
      elsewhere: {},
      endsAt: attempt.endsAt,
      now: t,
      over: attempt.endedAt !== null,
    };
    if (saved.over) return saved;
    if (t - attempt.seenAt >= notedEvery)
      await run("UPDATE attempts SET seen_at = ? WHERE id = ?", [t, attemptId], connection);
    if (answers.length === 0) return saved;
    const stands = new Map((await answersOf([attemptId], connection)).map((one) => [one.questionId, one]));
    for (const one of answers) {
      const question = attempt.paper.questions.find(({ id }) => id === one.questionId);
      if (question && fits(question, one.answer) && isNewer(one, stands.get(one.questionId), saved))
        await write(attempt, one, personId, t, connection);
    }
    return saved;
  });
}

/** Hands in an attempt; gives it as it ended. Null where it is none of theirs. */
export function handIn({ plan, courseId, item, holder }: Place, attemptId: string): Promise<Attempt | null> {
  return transaction(async (connection) => {
    const t = now();
    const attempt = await onTime(plan, courseId, attemptId, connection, t);
    if (!attempt || attempt.itemId !== item.id || attempt.holderId !== holder?.id) return null;
    return attempt.endedAt === null ? end(plan, attempt, "handed in", t, connection) : attempt;
  });
}

/** The attempts on an item of whoever looks, in the order they were begun, those that were made void left out. */
export const ownAttempts = async ({ courseId, item, holder }: Place): Promise<Attempt[]> =>
  holder ? standing(await attemptsOf(courseId, item.id, [holder.id])) : [];
