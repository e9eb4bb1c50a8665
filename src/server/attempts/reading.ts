/** What staff read of attempts. Source: semantics.md sections 7 (attempts) and 9. */
import type { AnswerRow, AttemptRows, EarnedRow, QuestionRow, QuestionRows, Running } from "../../api/attempts.ts";
import { type Answered, answerWords, earnedIn, fileIn, rightWords } from "../../core/attempts/marking.ts";
import { type Question, questionsOf, rightChoices } from "../../core/plan/questions.ts";
import type { Item } from "../../core/plan/types.ts";
import { membersThen } from "../../core/reach/group-work.ts";
import { collect } from "../../core/sets/collect.ts";
import { wordsIn } from "../../core/text/rich-text.ts";
import { now } from "../clock.ts";
import type { CourseAccess } from "../http/guard.ts";
import { type Attempt, answered, answersOf, attemptStates, attemptsOf, runningIn, type SavedAnswer } from "./rows.ts";

export type Access = Pick<CourseAccess, "courseId" | "plan" | "whole" | "scope">;

/** Whether an attempt is of somebody whom the reader was given: for a group, of anybody in it. */
export function isWithin(
  { scope, whole }: Access,
  { holderId, isGroup, begunAt }: Pick<Attempt, "holderId" | "isGroup" | "begunAt">,
): boolean {
  if (scope === null) return true;
  const persons = isGroup ? membersThen(whole, holderId, begunAt) : [holderId];
  return persons.some((id) => scope.personIds.has(id));
}

/** The attempts on an item that somebody may read of. */
export const within = async (access: Access, itemId: string): Promise<Attempt[]> =>
  (await attemptsOf(access.courseId, itemId, null)).filter((one) => isWithin(access, one));

/** How many attempts run, by item, of those whom somebody was given and the items that they know of. */
export async function runningCounts(access: Access): Promise<Running> {
  const counts = new Map<string, number>();
  for (const one of await runningIn(access.courseId))
    if (access.plan.items[one.itemId] && isWithin(access, one))
      counts.set(one.itemId, (counts.get(one.itemId) ?? 0) + 1);
  return [...counts].map(([itemId, count]) => ({ itemId, count }));
}

/** Whether an attempt ended, and was not made void. */
export const standsEnded = ({ endedAt, endedHow }: Attempt): boolean => endedAt !== null && endedHow !== "void";
export const byAttempt = (saved: SavedAnswer[]) => collect(saved, ({ attemptId }) => attemptId);

const questionRow = (question: Question): QuestionRow => {
  const right = rightChoices(question);
  return {
    id: question.id,
    kind: question.kind,
    text: wordsIn(question.text),
    points: question.points,
    choices:
      "choices" in question ? question.choices.map(({ id, text }) => ({ id, text, right: right.includes(id) })) : [],
  };
};

/** The questions of an item as they are now, then those that attempts were asked and that are gone. */
function questionsIn(item: Item, attempts: Attempt[]): QuestionRow[] {
  const found = new Map((item.quiz ? questionsOf(item.quiz) : []).map((question) => [question.id, question]));
  for (const { paper } of attempts) for (const one of paper.questions) if (!found.has(one.id)) found.set(one.id, one);
  return [...found.values()].map(questionRow);
}

/** How each attempt stands: without what it asked and what was answered, since it is asked every few seconds. */
export async function attemptRows(access: Access, item: Item): Promise<AttemptRows> {
  const attempts = await attemptStates(access.courseId, item.id);
  return { now: now(), attempts: attempts.filter((one) => isWithin(access, one)) };
}

/** The questions of an item, and what each attempt that ended earned by them. */
export async function questionRows(access: Access, item: Item): Promise<QuestionRows> {
  const attempts = await within(access, item.id);
  const ended = attempts.filter(standsEnded);
  const saved = byAttempt(await answersOf(ended.map(({ id }) => id)));
  return {
    questions: questionsIn(item, attempts),
    earned: ended.map((one) => earnedRow(one, saved.get(one.id) ?? [])),
  };
}

function earnedRow({ id: attemptId, paper }: Attempt, saved: SavedAnswer[]): EarnedRow {
  const given = answered(saved);
  const chosen = paper.questions.flatMap(({ id, kind }) => {
    const answer = given.get(id)?.answer;
    return (kind === "one" || kind === "several") && answer !== undefined ? [[id, [answer].flat() as string[]]] : [];
  });
  return {
    attemptId,
    earned: Object.fromEntries(paper.questions.map((one) => [one.id, earnedIn(one, given)])),
    chosen: Object.fromEntries(chosen),
  };
}

/** Answers of attempts that ended: of one holder, or to one question. */
export async function answerRows(
  access: Access,
  item: Item,
  { holder, question }: { holder?: string | undefined; question?: string | undefined },
): Promise<AnswerRow[]> {
  const all = (await within(access, item.id)).filter(standsEnded);
  const attempts = holder === undefined ? all : all.filter(({ holderId }) => holderId === holder);
  const saved = byAttempt(await answersOf(attempts.map(({ id }) => id)));
  return attempts.flatMap((attempt) => {
    const given = answered(saved.get(attempt.id) ?? []);
    return attempt.paper.questions
      .filter(({ id }) => question === undefined || id === question)
      .map((one) => answerRow(attempt, one, given));
  });
}

function answerRow({ id, holderId, number }: Attempt, question: Question, given: Answered): AnswerRow {
  const saved = given.get(question.id);
  const answer = saved?.answer;
  return {
    attemptId: id,
    holderId,
    number,
    questionId: question.id,
    kind: question.kind,
    text: wordsIn(question.text),
    worth: question.points,
    answer: answerWords(question, answer),
    file: fileIn(answer),
    right: rightWords(question),
    earned: earnedIn(question, given),
    byHand: saved?.points != null,
  };
}
