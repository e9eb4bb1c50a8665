/**
 * What one attempt asks: questions drawn and put in order by the attempt's own seed, so that it is the same whenever it is
 * shown again. Source: semantics.md section 7, attempts.
 */
import { chance } from "../placement/forming/random.ts";
import type { Question, Quiz } from "../plan/questions.ts";
import type { Item } from "../plan/types.ts";

/** Questions as one attempt has them, in its order; with what is right, so never for a student's browser. */
export interface Paper {
  questions: Question[];
  /** Headings of parts, by the place of the question before which they stand. */
  headings: [number, string][];
}

/** The questions of one attempt. `seed`: a whole number. */
export function draw(quiz: Quiz, seed: number): Paper {
  const random = chance(seed);
  const paper: Paper = { questions: [], headings: [] };
  for (const part of quiz.parts) {
    const drawn = part.draw === null ? part.questions : random.shuffle(part.questions).slice(0, part.draw);
    // What was drawn stands as it was written, unless it is mixed.
    const kept = new Set(drawn);
    const inOrder = part.mixed ? random.shuffle(drawn) : part.questions.filter((question) => kept.has(question));
    if (part.title !== "" && inOrder.length > 0) paper.headings.push([paper.questions.length, part.title]);
    for (const question of inOrder)
      paper.questions.push(
        quiz.mixChoices && "choices" in question
          ? { ...question, choices: random.shuffle(question.choices) }
          : question,
      );
  }
  return paper;
}

/** What an assignment with minutes asks: the work itself, as a text, a file or both; marked by hand. */
const work = (points: number): Paper => ({
  questions: [
    { id: "text", kind: "long", text: "Your text", points },
    { id: "file", kind: "file", text: "A file", points: 0 },
  ],
  headings: [],
});

/** What an attempt on an item asks. */
export const paperOf = (item: Item, seed: number): Paper =>
  item.quiz && item.kind === "quiz" ? draw(item.quiz, seed) : work(item.points ?? 0);

/** A question as a student reads it: without what is right. */
export interface AskedQuestion {
  id: string;
  kind: Question["kind"];
  text: string;
  points: number;
  choices: { id: string; text: string }[];
  unit: string;
}

export const asAsked = (question: Question): AskedQuestion => ({
  id: question.id,
  kind: question.kind,
  text: question.text,
  points: question.points,
  choices: "choices" in question ? question.choices.map(({ id, text }) => ({ id, text })) : [],
  unit: question.kind === "number" ? question.unit : "",
});
