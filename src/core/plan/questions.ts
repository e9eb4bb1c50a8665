/**
 * Questions of a quiz, as the item that holds them says them. Texts of questions are HTML, of choices plain.
 * Source: semantics.md section 7, attempts.
 */

import { z } from "zod";
import { Id } from "./basics.ts";
import { frozen } from "./frozen.ts";

const Words = z.string().trim().min(1);
export const Choice = z.object({ id: Id, text: Words.max(2000) });
const Choices = z.array(Choice).min(2).max(50);
const common = {
  id: Id,
  text: Words.max(20_000),
  /** What the whole of it earns; 0: it is asked and not counted. */
  points: z.number().min(0).max(1000),
};

export const Question = z.discriminatedUnion("kind", [
  z.object({ ...common, kind: z.literal("one"), choices: Choices, right: Id }),
  z.object({
    ...common,
    kind: z.literal("several"),
    choices: Choices,
    right: z.array(Id).max(50),
    /** True: each choice that is as it should be earns its share, each wrong one takes one; false: all or nothing. */
    partial: z.boolean(),
  }),
  z.object({
    ...common,
    kind: z.literal("number"),
    right: z.number(),
    /** How far an answer may be away, in the answer's own unit or, where relative, in percent of what is right. */
    tolerance: z.object({ amount: z.number().min(0), relative: z.boolean() }),
    /** The unit that is written behind the number; empty: none is asked. */
    unit: z.string().trim().max(30),
    /** Percent of the points that the right number earns without the unit. */
    withoutUnit: z.number().min(0).max(100),
  }),
  z.object({
    ...common,
    kind: z.literal("short"),
    accepted: z.array(Words.max(500)).min(1).max(50),
    /** Whether capitals, and blanks within, must be as in what is accepted. */
    caseCounts: z.boolean(),
    blanksCount: z.boolean(),
  }),
  z.object({ ...common, kind: z.literal("long") }),
  z.object({ ...common, kind: z.literal("file") }),
]);

/** Some questions that stand together: all of them in their order, mixed, or some drawn for each attempt. */
export const QuestionPart = z.object({
  id: Id,
  /** Empty: it has no heading. */
  title: z.string().trim().max(200),
  /** How many are drawn; null: all. */
  draw: z.number().int().min(1).max(300).nullable(),
  mixed: z.boolean(),
  questions: z.array(Question).max(300),
});

export const Quiz = z.object({
  parts: z.array(QuestionPart).max(50),
  /** Whether the choices of a question stand in another order in each attempt. */
  mixChoices: z.boolean(),
  /** Which attempt the mark of the column is, or the mean of all. */
  counts: z.enum(["best", "last", "first", "mean"]),
  /** From when a student reads marks and right answers. */
  shows: z.enum(["at once", "after due", "after all", "when released"]),
  /** Whether staff said so, where it is theirs to say. */
  released: z.boolean(),
});

export type Choice = z.infer<typeof Choice>;
export type Question = z.infer<typeof Question>;
export type QuestionKind = Question["kind"];
export type QuestionPart = z.infer<typeof QuestionPart>;
export type Quiz = z.infer<typeof Quiz>;

export const blankQuiz: Quiz = frozen({
  parts: [],
  mixChoices: false,
  counts: "best",
  shows: "at once",
  released: false,
});

/** What kinds of questions are called. */
export const questionKinds: Record<QuestionKind, string> = {
  one: "one of several",
  several: "several of several",
  number: "a number",
  short: "a short text",
  long: "a long text",
  file: "a file",
};

/** Ids of the choices that are right; none where there is nothing to choose. */
export const rightChoices = (question: Question): string[] =>
  question.kind === "one" || question.kind === "several" ? [question.right].flat() : [];

/** A quiz as it begins anew elsewhere, copied or in another term: what staff said should be shown is not said yet. */
export const asUnreleased = (quiz: Quiz | null): Quiz | null => quiz && { ...quiz, released: false };

export const questionsOf = (quiz: Pick<Quiz, "parts">): Question[] => quiz.parts.flatMap(({ questions }) => questions);

/** The points of one attempt: of all questions, or of as many as are drawn. They are worth the same where some are drawn. */
export const possibleIn = ({ parts }: Pick<Quiz, "parts">): number =>
  parts.reduce((sum, { draw, questions }) => {
    const drawn = draw === null ? questions : questions.slice(0, draw);
    return drawn.reduce((more, { points }) => more + points, sum);
  }, 0);

const doubled = (ids: string[]): boolean => new Set(ids).size < ids.length;

function questionFault(question: Question): string | null {
  if (question.kind !== "one" && question.kind !== "several") return null;
  const ids = question.choices.map(({ id }) => id);
  if (doubled(ids)) return "has two choices of one id";
  const right = rightChoices(question);
  if (right.some((id) => !ids.includes(id))) return "calls a choice right that it does not have";
  return doubled(right) ? "names a right choice twice" : null;
}

/** What of a question is longer, shorter or larger than it may be; null where nothing is. */
function sizeFault(question: Question): string | null {
  const [issue] = Question.safeParse(question).error?.issues ?? [];
  if (!issue) return null;
  const [field] = issue.path;
  const what = field === "choices" ? "its choices" : field === "accepted" ? "what is accepted" : String(field);
  return `is not whole: ${what}: ${issue.message}`;
}

/** What questions cannot be so, as a sentence; null where nothing is wrong. */
export function quizFault(quiz: Quiz): string | null {
  const all = questionsOf(quiz);
  if (doubled(all.map(({ id }) => id))) return "Two questions have one id.";
  if (doubled(quiz.parts.map(({ id }) => id))) return "Two parts have one id.";
  if (all.length > 500) return `There are ${all.length} questions; 500 is the most.`;
  for (const [at, question] of all.entries()) {
    const fault = questionFault(question) ?? sizeFault(question);
    if (fault) return `Question ${at + 1} ${fault}.`;
  }
  for (const [at, { draw, questions, title }] of quiz.parts.entries()) {
    if (draw === null) continue;
    const name = title || `Part ${at + 1}`;
    if (draw > questions.length) return `${name} draws ${draw} of ${questions.length} questions.`;
    if (new Set(questions.map(({ points }) => points)).size > 1)
      return `${name} draws some of its questions, so all of them must earn the same points.`;
  }
  return null;
}
