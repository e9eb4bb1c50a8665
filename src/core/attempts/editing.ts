/** Questions of a quiz as they are written: added, moved between and within parts, taken away. Ids are given by whoever writes. */
import {
  blankQuiz,
  type Question,
  type QuestionKind,
  type QuestionPart,
  type Quiz,
  rightChoices,
} from "../plan/questions.ts";

/** A question of a kind with nothing said yet: its text is one that has to be replaced. */
export function newQuestion(kind: QuestionKind, newId: () => string): Question {
  const common = { id: newId(), text: "New question", points: 1 };
  const choices = () => ["First choice", "Second choice"].map((text) => ({ id: newId(), text }));
  switch (kind) {
    case "one": {
      const made = choices();
      return { ...common, kind, choices: made, right: made[0]?.id as string };
    }
    case "several":
      return { ...common, kind, choices: choices(), right: [], partial: true };
    case "number":
      return { ...common, kind, right: 0, tolerance: { amount: 0, relative: false }, unit: "", withoutUnit: 0 };
    case "short":
      return { ...common, kind, accepted: ["Answer"], caseCounts: false, blanksCount: false };
    default:
      return { ...common, kind };
  }
}

/** A question of another kind in the place of one: what both kinds have stays. */
export function asKind(question: Question, kind: QuestionKind, newId: () => string): Question {
  const { id, text, points } = question;
  const made = { ...newQuestion(kind, newId), id, text, points };
  if ("choices" in question && made.kind === "one")
    return {
      ...made,
      choices: question.choices,
      right: rightChoices(question)[0] ?? (question.choices[0]?.id as string),
    };
  if ("choices" in question && made.kind === "several")
    return { ...made, choices: question.choices, right: rightChoices(question) };
  return made;
}

const newPart = (id: string): QuestionPart => ({ id, title: "", draw: null, mixed: false, questions: [] });
const withParts = (quiz: Quiz, change: (part: QuestionPart) => QuestionPart): Quiz => ({
  ...quiz,
  parts: quiz.parts.map(change),
});

/** The quiz with a question at the end of a part, of the last one where none is named; the first part is made with it. */
export function withQuestion(quiz: Quiz | null, question: Question, newId: () => string, partId?: string): Quiz {
  const from = quiz ?? blankQuiz;
  const parts = from.parts.length > 0 ? from.parts : [newPart(newId())];
  const to = partId ?? parts.at(-1)?.id;
  return withParts({ ...from, parts }, (part) =>
    part.id === to ? { ...part, questions: [...part.questions, question] } : part,
  );
}

export const withPart = (quiz: Quiz, newId: () => string): Quiz => ({
  ...quiz,
  parts: [...quiz.parts, newPart(newId())],
});

/** The quiz with a question as it is now. */
export const changedQuestion = (quiz: Quiz, question: Question): Quiz =>
  withParts(quiz, (part) => ({
    ...part,
    questions: part.questions.map((one) => (one.id === question.id ? question : one)),
  }));

/** How many may still be drawn from a part. */
const fitting = (part: QuestionPart): QuestionPart => ({
  ...part,
  draw: part.draw === null ? null : Math.max(1, Math.min(part.draw, part.questions.length)),
});

/** The quiz without a question. */
export const withoutQuestion = (quiz: Quiz, questionId: string): Quiz =>
  withParts(quiz, (part) => fitting({ ...part, questions: part.questions.filter(({ id }) => id !== questionId) }));

export const changedPart = (quiz: Quiz, changed: QuestionPart): Quiz =>
  withParts(quiz, (part) => (part.id === changed.id ? fitting(changed) : part));

/** The quiz without a part; its questions go with it. */
export const withoutPart = (quiz: Quiz, partId: string): Quiz => ({
  ...quiz,
  parts: quiz.parts.filter(({ id }) => id !== partId),
});

/** The quiz with a question one place further up or down; past the end of its part it goes into the next. */
export function movedQuestion(quiz: Quiz, questionId: string, by: 1 | -1): Quiz {
  const partAt = quiz.parts.findIndex(({ questions }) => questions.some(({ id }) => id === questionId));
  const part = quiz.parts[partAt];
  if (!part) return quiz;
  const at = part.questions.findIndex(({ id }) => id === questionId);
  const question = part.questions[at] as Question;
  const others = part.questions.filter((one) => one !== question);
  const to = at + by;
  if (to >= 0 && to < part.questions.length)
    return changedPart(quiz, { ...part, questions: [...others.slice(0, to), question, ...others.slice(to)] });
  const next = quiz.parts[partAt + by];
  if (!next) return quiz;
  const questions = by > 0 ? [question, ...next.questions] : [...next.questions, question];
  return changedPart(changedPart(quiz, { ...part, questions: others }), { ...next, questions });
}

/** A quiz with the parts of another behind its own; what goes on without a heading goes on in the last part that has none. */
export function withMore(quiz: Quiz | null, more: Pick<Quiz, "parts">): Quiz {
  const from = quiz ?? blankQuiz;
  const last = from.parts.at(-1);
  const [first, ...others] = more.parts;
  const goesOn = last && first && last.title === "" && first.title === "" && last.draw === null && first.draw === null;
  if (!goesOn) return { ...from, parts: [...from.parts, ...more.parts] };
  const joined = { ...last, questions: [...last.questions, ...first.questions] };
  return { ...from, parts: [...from.parts.slice(0, -1), joined, ...others] };
}
