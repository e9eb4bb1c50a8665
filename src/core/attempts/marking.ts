/**
 * What answers earn: each question by itself, attempts as a whole, and the mark of the column.
 * Source: semantics.md section 7, attempts.
 */
import { z } from "zod";
import type { Question, Quiz } from "../plan/questions.ts";
import { fold } from "../text/caseless.ts";
import { readNumber } from "../text/numbers.ts";
import type { Paper } from "./drawing.ts";

/** A file that was handed in as an answer. Size in bytes. */
export interface AnswerFile {
  id: string;
  name: string;
  size: number;
}
/** What was typed, or the id of the one choice. */
export const TypedAnswer = z.string().max(100_000);
/** Ids of choices. */
export const ChosenAnswer = z.array(z.string().max(200)).max(50);
export type Answer = z.infer<typeof TypedAnswer> | z.infer<typeof ChosenAnswer> | AnswerFile;

/** The file that an answer is; null where it is none. */
export const fileIn = (answer: Answer | null | undefined): AnswerFile | null =>
  typeof answer === "object" && answer !== null && !Array.isArray(answer) ? answer : null;

/** Whether nothing was answered. */
export const isBlankAnswer = (answer: Answer | undefined): boolean =>
  answer === undefined ||
  (typeof answer === "string" ? answer.trim() === "" : Array.isArray(answer) && answer.length === 0);

/** Whether an answer is of the kind that a question asks for, and of its own choices. */
export function fits(question: Question, answer: Answer): boolean {
  if (isBlankAnswer(answer)) return true;
  if (question.kind === "file") return fileIn(answer) !== null;
  if (question.kind === "several")
    return Array.isArray(answer) && answer.every((id) => question.choices.some((choice) => choice.id === id));
  if (typeof answer !== "string") return false;
  return question.kind !== "one" || question.choices.some(({ id }) => id === answer);
}

/** Whether a person marks it. */
export const isMarkedByHand = ({ kind }: Pick<Question, "kind">): boolean => kind === "long" || kind === "file";

type Of<Kind extends Question["kind"]> = Extract<Question, { kind: Kind }>;

/** The share of a question's points that chosen ones earn: those that should be, less those that should not. */
function shareOfChosen({ right, partial }: Of<"several">, answer: Answer): number {
  const chosen = new Set(Array.isArray(answer) ? answer : []);
  const hits = right.filter((id) => chosen.has(id)).length;
  const wrong = chosen.size - hits;
  if (!partial || right.length === 0) return hits === right.length && wrong === 0 ? 1 : 0;
  return Math.max(0, (hits - wrong) / right.length);
}

/** The numbers that a text may mean: one, two where a comma can be either sign, or none. */
function numbersIn(text: string): number[] {
  const [, sign = "", digits = ""] = /^([-−+]?)\s*(.*)$/s.exec(text) ?? [];
  const [, mantissa = digits, exponent = "0"] = /^(.*?)[eE]([-+]?\d{1,3})$/.exec(digits) ?? [];
  const read = readNumber(mantissa);
  const found = read === "either" ? [readNumber(mantissa, ","), readNumber(mantissa, ".")] : [read];
  const factor = (sign === "-" || sign === "−" ? -1 : 1) * 10 ** Number(exponent);
  return found.filter((one) => typeof one === "number").map((one) => one * factor);
}

const withoutBlanks = (text: string): string => text.replace(/\s+/g, "");

/** The share that a number earns: all with its unit, or without where none is asked. */
function shareOfNumber({ right, tolerance, unit, withoutUnit }: Of<"number">, answer: Answer): number {
  const typed = String(answer).trim();
  const isThere = unit !== "" && withoutBlanks(typed).endsWith(withoutBlanks(unit));
  // The unit stands at the end, whatever blanks are in it: what is before it is the number.
  const digits = isThere ? typed.slice(0, placeOfUnit(typed, unit)).trim() : typed;
  const away = tolerance.relative ? (Math.abs(right) * tolerance.amount) / 100 : tolerance.amount;
  // What binary numbers cannot hold exactly is not held against an answer.
  const slack = Math.max(Math.abs(right), away) * 1e-9;
  if (!numbersIn(digits).some((number) => Math.abs(number - right) <= away + slack)) return 0;
  return unit === "" || isThere ? 1 : withoutUnit / 100;
}

function placeOfUnit(typed: string, unit: string): number {
  let left = withoutBlanks(unit).length;
  let at = typed.length;
  while (left > 0) if (!/\s/.test(typed[--at] as string)) left--;
  return at;
}

function shareOfWords({ accepted, caseCounts, blanksCount }: Of<"short">, answer: Answer): number {
  const asCompared = (text: string) => {
    const whole = text.normalize("NFC").trim();
    const spaced = blanksCount ? whole : whole.replace(/\s+/g, " ");
    return caseCounts ? spaced : fold(spaced);
  };
  const said = asCompared(String(answer));
  return accepted.some((one) => asCompared(one) === said) ? 1 : 0;
}

/** What an answer earns, in points; null where a person marks it. No answer earns nothing, whoever would mark it. */
export function earnedBy(question: Question, answer: Answer | undefined): number | null {
  if (answer === undefined || isBlankAnswer(answer)) return 0;
  if (isMarkedByHand(question)) return question.points === 0 ? 0 : null;
  return rounded(question.points * shareOf(question, answer));
}

function shareOf(question: Question, answer: Answer): number {
  switch (question.kind) {
    case "one":
      return answer === question.right ? 1 : 0;
    case "several":
      return shareOfChosen(question, answer);
    case "number":
      return shareOfNumber(question, answer);
    case "short":
      return shareOfWords(question, answer);
    default:
      return 0;
  }
}

/** Points are kept in thousandths. */
export const rounded = (points: number): number => Math.round(points * 1000) / 1000;

/** Answers of an attempt by question, with the points that a person gave. */
export type Answered = ReadonlyMap<string, { answer: Answer; points: number | null }>;

export interface Score {
  earned: number;
  possible: number;
  /** Ids of questions that somebody has to mark still. */
  toMark: string[];
}

/** What one question of an attempt earned: by hand where somebody marked it, which beats all else; null: to be marked. */
export const earnedIn = (question: Question, answered: Answered): number | null =>
  answered.get(question.id)?.points ?? earnedBy(question, answered.get(question.id)?.answer);

/** What an attempt earned so far. */
export function scoreOf({ questions }: Paper, answered: Answered): Score {
  const score: Score = { earned: 0, possible: 0, toMark: [] };
  for (const question of questions) {
    const earned = earnedIn(question, answered);
    score.possible += question.points;
    if (earned === null) score.toMark.push(question.id);
    else score.earned += earned;
  }
  return { ...score, earned: rounded(score.earned), possible: rounded(score.possible) };
}

/** A score as points of the column that holds it; null while something is to be marked, or where nothing can be earned. */
export function pointsOf({ earned, possible, toMark }: Score, columnPoints: number | null): number | null {
  if (toMark.length > 0 || columnPoints === null || possible === 0) return null;
  return rounded((earned / possible) * columnPoints);
}

/** The mark of the column out of attempts in the order they were begun; null while one of them is to be marked still. */
export function columnMark(points: (number | null)[], counts: Quiz["counts"]): number | null {
  const [first] = points;
  if (first === undefined || points.some((one) => one === null)) return null;
  const marked = points as number[];
  if (counts === "best") return Math.max(...marked);
  if (counts === "last") return marked.at(-1) as number;
  if (counts === "first") return first;
  return rounded(marked.reduce((sum, one) => sum + one, 0) / marked.length);
}

const choiceWords = (question: Of<"one"> | Of<"several">, ids: readonly string[]): string =>
  question.choices.flatMap(({ id, text }) => (ids.includes(id) ? [text] : [])).join("; ");

/** An answer in words: what was chosen or typed, or the name of the file; empty where nothing was answered. */
export function answerWords(question: Question, answer: Answer | undefined): string {
  if (answer === undefined) return "";
  if (question.kind === "one" || question.kind === "several") return choiceWords(question, [answer].flat() as string[]);
  if (typeof answer === "string") return answer;
  return Array.isArray(answer) ? answer.join("; ") : answer.name;
}

/** What is right, in words; empty where a person decides. */
export function rightWords(question: Question): string {
  switch (question.kind) {
    case "one":
      return choiceWords(question, [question.right]);
    case "several":
      return choiceWords(question, question.right) || "none of them";
    case "number": {
      const { right, tolerance, unit } = question;
      const around = tolerance.amount > 0 ? `, ${tolerance.amount}${tolerance.relative ? " %" : ""} either way` : "";
      return `${right}${unit && ` ${unit}`}${around}`;
    }
    case "short":
      return question.accepted.join(" or ");
    default:
      return "";
  }
}
