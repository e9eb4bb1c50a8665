/** A quiz tried out by staff: asked as it would be, marked at once, and nothing of it is kept. */
import { type Paper, paperOf } from "../../core/attempts/drawing.ts";
import { type Answered, type Score, scoreOf } from "../../core/attempts/marking.ts";
import { questionsOf } from "../../core/plan/questions.ts";
import type { Item } from "../../core/plan/types.ts";
import { answerIn } from "./forms.ts";
import { type ReadQuestion, type RunningQuestion, readQuestions, runningQuestions } from "./showing.ts";

export interface TryOut {
  seed: number;
  questions: RunningQuestion[];
  /** What the answers earn; null before any were given. */
  result: { score: Score; questions: ReadQuestion[] } | null;
}

/** A try-out of a quiz: as the form says it was drawn and answered, or drawn anew. Null where it asks nothing. */
export function tryOut(item: Item, form: FormData | null): TryOut | null {
  if (item.kind !== "quiz" || !item.quiz || questionsOf(item.quiz).length === 0) return null;
  const asked = Number(form?.get("seed") ?? Number.NaN);
  const seed = Number.isSafeInteger(asked) ? asked : Math.floor(Math.random() * 2 ** 31);
  const paper = paperOf(item, seed);
  const questions = runningQuestions(paper, []);
  if (!form?.has("seed")) return { seed, questions, result: null };
  const given = answersIn(form, paper);
  return { seed, questions, result: { score: scoreOf(paper, given), questions: readQuestions(paper, given, true) } };
}

const answersIn = (form: FormData, { questions }: Paper): Answered =>
  new Map(
    questions.flatMap((question) => {
      const answer = answerIn(form, question);
      return answer === null ? [] : [[question.id, { answer, points: null }] as const];
    }),
  );
