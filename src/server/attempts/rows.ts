/** Attempts and their answers as the database holds them. Source: semantics.md section 7, attempts. */
import type { PoolConnection } from "mysql2/promise";
import type { Paper } from "../../core/attempts/drawing.ts";
import type { Answer, Answered } from "../../core/attempts/marking.ts";
import { fromJson, parameters, rows, run } from "../store/database.ts";

/** How an attempt ended; "void": staff made it as if it had not been. */
export type Ending = "handed in" | "time" | "staff" | "void";

export interface Attempt {
  id: string;
  courseId: string;
  itemId: string;
  holderId: string;
  isGroup: boolean;
  number: number;
  begunBy: string;
  begunAt: number;
  /** By the clock; null where nothing ends it. Half-open: at this moment it is over. */
  endsAt: number | null;
  extraMinutes: number;
  endedAt: number | null;
  endedHow: Ending | null;
  reason: string;
  paper: Paper;
  /** Of the column; null while something is to be marked. */
  points: number | null;
  /** When a browser was last heard of. */
  seenAt: number;
  handInId: string | null;
}

const columns = `id, course_id AS courseId, item_id AS itemId, holder_id AS holderId, is_group AS isGroup, number,
  begun_by AS begunBy, begun_at AS begunAt, ends_at AS endsAt, extra_minutes AS extraMinutes, ended_at AS endedAt,
  ended_how AS endedHow, reason, paper, points, seen_at AS seenAt, hand_in_id AS handInId`;

const attemptOf = (row: Attempt): Attempt => ({
  ...row,
  isGroup: Boolean(row.isGroup),
  paper: fromJson<Paper>(row.paper as unknown as string),
});

/** What an attempt asked, where its answers were deleted: its points stay as they were. As its column holds it. */
export const deletedPaper = JSON.stringify({ questions: [], headings: [] } satisfies Paper);

/** An attempt as it stands, with how many questions it was asked and how many of them were answered. */
export type AttemptState = Omit<Attempt, "courseId" | "itemId" | "begunBy" | "paper" | "handInId"> & {
  asked: number;
  answered: number;
};
/** Answers as their column holds them in which nothing stands, as core/attempts says it (`isBlankAnswer`). */
const blank = String.raw`^("( |\\[nrt])*"|\[\])$`;
/** How the attempts on an item stand, in the order they were begun. */
export const attemptStates = async (courseId: string, itemId: string): Promise<AttemptState[]> =>
  (
    await rows<AttemptState>(
      `SELECT a.id, a.holder_id AS holderId, a.is_group AS isGroup, a.number, a.begun_at AS begunAt, a.ends_at AS endsAt,
         a.extra_minutes AS extraMinutes, a.ended_at AS endedAt, a.ended_how AS endedHow, a.reason, a.points,
         a.seen_at AS seenAt, JSON_LENGTH(a.paper, '$.questions') AS asked, COALESCE(given.answered, 0) AS answered
       FROM attempts a LEFT JOIN (
         SELECT w.attempt_id, COUNT(*) AS answered FROM attempts o JOIN attempt_answers w ON w.attempt_id = o.id
         WHERE o.course_id = ? AND o.item_id = ? AND w.answer NOT RLIKE ? GROUP BY w.attempt_id
       ) given ON given.attempt_id = a.id
       WHERE a.course_id = ? AND a.item_id = ? ORDER BY a.number, a.begun_at`,
      [courseId, itemId, blank, courseId, itemId],
    )
  ).map((row) => ({ ...row, isGroup: Boolean(row.isGroup) }));

type Runner = PoolConnection | undefined;

/** The attempts of some holders on an item, in the order they were begun; those that were made void among them. */
export async function attemptsOf(
  courseId: string,
  itemId: string,
  holderIds: string[] | null,
  connection?: Runner,
): Promise<Attempt[]> {
  if (holderIds?.length === 0) return [];
  const of = holderIds === null ? "" : `AND holder_id IN (${parameters(holderIds)})`;
  const found = await rows<Attempt>(
    `SELECT ${columns} FROM attempts WHERE course_id = ? AND item_id = ? ${of} ORDER BY number, begun_at`,
    [courseId, itemId, ...(holderIds ?? [])],
    connection,
  );
  return found.map(attemptOf);
}

/** An attempt of a course, locked until the transaction ends; null where there is none. */
export async function lockAttempt(courseId: string, id: string, connection: PoolConnection): Promise<Attempt | null> {
  const sql = `SELECT ${columns} FROM attempts WHERE course_id = ? AND id = ? FOR UPDATE`;
  const [found] = await rows<Attempt>(sql, [courseId, id], connection);
  return found ? attemptOf(found) : null;
}

/** An attempt of a course; null where there is none. */
export async function attempt(courseId: string, id: string): Promise<Attempt | null> {
  const [found] = await rows<Attempt>(`SELECT ${columns} FROM attempts WHERE course_id = ? AND id = ?`, [courseId, id]);
  return found ? attemptOf(found) : null;
}

/** Ids of attempts that the clock may have ended, the soonest first. */
export const overdue = (at: number): Promise<{ id: string; courseId: string }[]> =>
  rows(
    "SELECT id, course_id AS courseId FROM attempts WHERE ended_at IS NULL AND ends_at <= ? ORDER BY ends_at LIMIT 200",
    [at],
  );

/** Attempts of a course that run. */
export const runningIn = async (courseId: string): Promise<Attempt[]> =>
  (await rows<Attempt>(`SELECT ${columns} FROM attempts WHERE ended_at IS NULL AND course_id = ?`, [courseId])).map(
    attemptOf,
  );

export interface SavedAnswer {
  attemptId: string;
  questionId: string;
  answer: Answer;
  sequence: number;
  savedAt: number;
  /** Given by hand; null: none was. */
  points: number | null;
}

/** The saved answers of some attempts. */
export async function answersOf(attemptIds: string[], connection?: Runner): Promise<SavedAnswer[]> {
  if (attemptIds.length === 0) return [];
  const found = await rows<SavedAnswer & { fileId: string | null }>(
    `SELECT attempt_id AS attemptId, question_id AS questionId, answer, file_id AS fileId, sequence, saved_at AS savedAt, points
     FROM attempt_answers WHERE attempt_id IN (${parameters(attemptIds)})`,
    attemptIds,
    connection,
  );
  return found.map(({ fileId, ...row }) => {
    const answer = JSON.parse(row.answer as string) as Answer;
    // A file has another id where its course was copied.
    return { ...row, answer: fileId === null ? answer : ({ ...(answer as object), id: fileId } as Answer) };
  });
}

/** Answers of one attempt by question. */
export const answered = (saved: SavedAnswer[]): Answered =>
  new Map(saved.map(({ questionId, answer, points }) => [questionId, { answer, points }]));

/** Notes when an attempt ends by the clock. */
export const setEnd = (id: string, endsAt: number | null, connection: PoolConnection): Promise<number> =>
  run("UPDATE attempts SET ends_at = ? WHERE id = ?", [endsAt, id], connection);
