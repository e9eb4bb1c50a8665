/** An attempt marked anew: the questions it was asked, by what is called right now. Source: semantics.md section 7, attempts. */
import type { Question, Quiz } from "../plan/questions.ts";
import { questionsOf } from "../plan/questions.ts";
import type { Paper } from "./drawing.ts";

/** What decides how an answer is marked; what was asked, and in which order, stays. */
function marksLike(asked: Question, now: Question): Question {
  if (asked.kind === "one" && now.kind === "one") return { ...asked, right: now.right, points: now.points };
  if (asked.kind === "several" && now.kind === "several")
    return { ...asked, right: now.right, partial: now.partial, points: now.points };
  if (asked.kind === "number" && now.kind === "number") {
    const { right, tolerance, unit, withoutUnit, points } = now;
    return { ...asked, right, tolerance, unit, withoutUnit, points };
  }
  if (asked.kind === "short" && now.kind === "short") {
    const { accepted, caseCounts, blanksCount, points } = now;
    return { ...asked, accepted, caseCounts, blanksCount, points };
  }
  return asked.kind === now.kind ? { ...asked, points: now.points } : asked;
}

/** The paper of an attempt as it would be marked now. Questions that are no longer there are marked as they were. */
export function paperAnew(paper: Paper, quiz: Quiz): Paper {
  const now = new Map(questionsOf(quiz).map((question) => [question.id, question]));
  return {
    ...paper,
    questions: paper.questions.map((asked) => {
      const question = now.get(asked.id);
      return question ? marksLike(asked, question) : asked;
    }),
  };
}
