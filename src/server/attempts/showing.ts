/** What a student reads of their attempts: before one, while it runs, and afterwards. Source: semantics.md section 7. */
import { whyNotBegin } from "../../core/attempts/beginning.ts";
import { endBy } from "../../core/attempts/clock.ts";
import { type AskedQuestion, asAsked, type Paper, paperOf } from "../../core/attempts/drawing.ts";
import {
  type Answer,
  type Answered,
  answerWords,
  earnedIn,
  fileIn,
  rightWords,
  scoreOf,
} from "../../core/attempts/marking.ts";
import { sayInstant } from "../../core/clock/local-time.ts";
import { rightChoices } from "../../core/plan/questions.ts";
import type { Plan } from "../../core/plan/types.ts";
import { sayPoints } from "../../core/text/locale.ts";
import { answersShown, type Shown } from "../../core/timing/answers-shown.ts";
import type { ShownCourse } from "../student/shown-course.ts";
import { type Attempt, answered, answersOf, type SavedAnswer } from "./rows.ts";
import { ownAttempts, type Place, placeOf } from "./working.ts";

/** An item's attempts as they stand on its page. */
export interface AttemptsShown {
  /** Whether one may be begun, and if not why. */
  may: { begin: true } | { begin: false; why: string };
  needsWord: boolean;
  /** How long one takes; null: any time. */
  minutes: number | null;
  /** Until when it can be worked on; null: without end. */
  until: string | null;
  /** How many more may be begun; null: any number. */
  left: number | null;
  /** How many questions there are. */
  questions: number;
  running: { id: string; ends: string | null } | null;
  ended: EndedAttempt[];
  /** Why marks are not shown; empty where they are. */
  hidden: string;
  group: string | null;
  /** What attempts were handed in as. */
  handInIds: string[];
}
export interface EndedAttempt {
  id: string;
  number: number;
  says: string;
  /** "7 of 10 points"; null while marks are not shown. */
  points: string | null;
}

const endings = { "handed in": "Handed in", time: "Time was up", staff: "Ended by staff", void: "Void" };

const sayHidden = (shown: Shown, timeZone: string): string => {
  if (shown.shown) return "";
  return shown.from === null
    ? "Marks and right answers are shown when your instructors say so."
    : `Marks and right answers are shown after ${sayInstant(shown.from, timeZone)}.`;
};
const shownFor = ({ plan, item }: Place, { page }: ShownCourse): Shown =>
  answersShown(plan, item, page.reach.memberships(page.index), page.reach.t);

const sayScore = (earned: number, possible: number, toMark: number): string =>
  toMark > 0
    ? `${sayPoints(earned)} of ${sayPoints(possible)} so far, the rest is to be marked`
    : `${sayPoints(earned)} of ${sayPoints(possible)}`;

/** Whether an attempt runs at t: a look at the past holds nothing that came after it. */
const runsAt = ({ endedAt, endsAt }: Attempt, t: number): boolean =>
  endedAt === null ? endsAt === null || endsAt > t : endedAt > t;
/** Attempts of whoever looks that had begun by then. */
const attemptsThen = async (place: Place): Promise<Attempt[]> =>
  (await ownAttempts(place)).filter(({ begunAt }) => begunAt <= place.t);

/** The attempts of a student on an item; null where it is not worked on in attempts. */
export async function attemptsShown(view: ShownCourse, itemId: string): Promise<AttemptsShown | null> {
  const place = placeOf(view, itemId);
  if (!place) return null;
  const { plan, limits, t, holder } = place;
  const { timeZone } = plan.course;
  const attempts = await attemptsThen(place);
  const running = attempts.find((one) => runsAt(one, t)) ?? null;
  const why = whyNotBegin({ ...place, count: attempts.length });
  const shown = shownFor(place, view);
  return {
    may: why === null ? { begin: true } : { begin: false, why },
    needsWord: limits.accessWord !== null,
    minutes: limits.minutes,
    until: limits.closes === null ? null : sayInstant(limits.closes, timeZone),
    left: limits.attempts === null ? null : Math.max(0, limits.attempts - attempts.length),
    questions: place.item.quiz?.parts.reduce((sum, { draw, questions }) => sum + (draw ?? questions.length), 0) ?? 0,
    running: running && { id: running.id, ends: running.endsAt === null ? null : sayInstant(running.endsAt, timeZone) },
    ended: await endedAmong(
      attempts.filter((one) => !runsAt(one, t)),
      shown.shown,
      plan,
    ),
    hidden: sayHidden(shown, timeZone),
    handInIds: attempts.flatMap(({ handInId }) => handInId ?? []),
    group: holder?.isGroup ? (plan.groups[holder.id]?.label ?? null) : null,
  };
}

async function endedAmong(attempts: Attempt[], shown: boolean, { course, items }: Plan): Promise<EndedAttempt[]> {
  const { timeZone } = course;
  const saved = shown ? await answersOf(attempts.map(({ id }) => id)) : [];
  return attempts.map(({ id, itemId, number, endedAt, endsAt, endedHow, paper, reason, points }) => {
    const score = scoreOf(paper, answered(saved.filter(({ attemptId }) => attemptId === id)));
    const at = sayInstant(endedAt ?? endsAt ?? 0, timeZone);
    const says = `${endings[endedHow ?? "time"]} ${at}${reason ? `: ${reason}` : ""}`;
    // What was answered may be gone, by the day until which it was kept; its points stay.
    const kept = points === null ? null : `${sayPoints(points)} of ${sayPoints(items[itemId]?.points ?? 0)}`;
    const said = paper.questions.length === 0 ? kept : sayScore(score.earned, score.possible, score.toMark.length);
    return { id, number, says, points: shown ? said : null };
  });
}

/** A question with what was answered, for whoever works on it. */
export type RunningQuestion = AskedQuestion & {
  heading: string | null;
  answer: Answer | null;
  sequence: number;
};
export interface RunningAttempt {
  id: string;
  number: number;
  questions: RunningQuestion[];
  begunAt: number;
  endsAt: number | null;
  now: number;
}

/** The questions of a paper as they are asked, with what was saved. */
export function runningQuestions(paper: Paper, answers: SavedAnswer[]): RunningQuestion[] {
  const saved = new Map(answers.map((one) => [one.questionId, one]));
  const headings = new Map(paper.headings);
  return paper.questions.map((question, at) => ({
    ...asAsked(question),
    heading: headings.get(at) ?? null,
    answer: saved.get(question.id)?.answer ?? null,
    sequence: saved.get(question.id)?.sequence ?? 0,
  }));
}

/** An attempt that runs, as its student works on it; without anything that says what is right. */
export async function runningAttempt(attempt: Attempt, now: number): Promise<RunningAttempt> {
  return {
    id: attempt.id,
    number: attempt.number,
    questions: runningQuestions(attempt.paper, await answersOf([attempt.id])),
    begunAt: attempt.begunAt,
    endsAt: attempt.endsAt,
    now,
  };
}

/** The page of an attempt as somebody looks through it. */
export interface LookedAttempt {
  /** Null where none runs: then it is asked as it would be if it began, and each drawing may be another. */
  number: number | null;
  ends: string | null;
  questions: RunningQuestion[];
}

/** What an attempt asks a student at a moment, without beginning one; null where none runs and none may be begun. */
export async function lookedAttempt(view: ShownCourse, itemId: string): Promise<LookedAttempt | null> {
  const place = placeOf(view, itemId);
  if (!place) return null;
  const { plan, item, t, limits } = place;
  const say = (at: number | null) => (at === null ? null : sayInstant(at, plan.course.timeZone));
  const attempts = await attemptsThen(place);
  const running = attempts.find((one) => runsAt(one, t));
  if (running) {
    const saved = (await answersOf([running.id])).filter(({ savedAt }) => savedAt <= t);
    return { number: running.number, ends: say(running.endsAt), questions: runningQuestions(running.paper, saved) };
  }
  if (whyNotBegin({ ...place, count: attempts.length }) !== null) return null;
  const paper = paperOf(item, Math.floor(Math.random() * 2 ** 31));
  return { number: null, ends: say(endBy(t, limits)), questions: runningQuestions(paper, []) };
}

/** A question of an attempt that ended, with its answer; what is right only where that is shown. */
export interface ReadQuestion extends AskedQuestion {
  heading: string | null;
  answer: string;
  file: { id: string; name: string; size: number } | null;
  /** What was chosen, for questions with choices. */
  chosen: string[];
  /** Null while marks are not shown. */
  result: { points: string; right: string; rightChoices: string[] } | null;
}
export interface ReadAttempt extends EndedAttempt {
  questions: ReadQuestion[];
  hidden: string;
}

/** An attempt that ended, as its student reads it; null where it is none of theirs, runs, or was made void. */
export async function readAttempt(view: ShownCourse, itemId: string, attemptId: string): Promise<ReadAttempt | null> {
  const place = placeOf(view, itemId);
  const found =
    place &&
    (await attemptsThen(place)).find((one) => one.id === attemptId && one.endedAt !== null && !runsAt(one, place.t));
  if (!place || !found) return null;
  const shown = shownFor(place, view);
  const [ended] = await endedAmong([found], shown.shown, place.plan);
  const saved = answered(await answersOf([found.id]));
  return {
    ...(ended as EndedAttempt),
    hidden: sayHidden(shown, place.plan.course.timeZone),
    questions: readQuestions(found.paper, saved, shown.shown),
  };
}

/** The questions of a paper with what was answered; what they earned and what is right where that is shown. */
export function readQuestions(paper: Paper, given: Answered, isShown: boolean): ReadQuestion[] {
  const headings = new Map(paper.headings);
  return paper.questions.map((question, at) => {
    const answer = given.get(question.id)?.answer;
    const earned = earnedIn(question, given);
    const points = earned === null ? "to be marked" : `${sayPoints(earned)} of ${sayPoints(question.points)}`;
    return {
      ...asAsked(question),
      heading: headings.get(at) ?? null,
      answer: answerWords(question, answer),
      file: fileIn(answer),
      chosen: [answer ?? []].flat().filter((one) => typeof one === "string"),
      result: isShown ? { points, right: rightWords(question), rightChoices: rightChoices(question) } : null,
    };
  });
}

/** Whether a file is an answer in an attempt of whoever looks. */
export async function isOwnAnswer(view: ShownCourse, itemId: string, fileId: string): Promise<boolean> {
  const place = placeOf(view, itemId);
  const saved = place ? await answersOf((await ownAttempts(place)).map(({ id }) => id)) : [];
  return saved.some(({ answer }) => fileIn(answer)?.id === fileId);
}
