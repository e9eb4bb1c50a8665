/** Questions as they are written: nothing is lost by moving, and what is made is whole. */
import fc from "fast-check";
import { expect, test } from "vitest";
import { blankQuiz, type QuestionKind, type Quiz, questionKinds, questionsOf, quizFault } from "../plan/questions.ts";
import {
  asKind,
  changedPart,
  changedQuestion,
  movedQuestion,
  newQuestion,
  withMore,
  withoutPart,
  withoutQuestion,
  withPart,
  withQuestion,
} from "./editing.ts";

const kinds = Object.keys(questionKinds) as QuestionKind[];
const counter = () => {
  let count = 0;
  return () => `id ${count++}`;
};
const idsIn = (quiz: Quiz) => quiz.parts.map(({ questions }) => questions.map(({ id }) => id));

test("a question of each kind is whole as it begins, and as another kind it keeps its words", () => {
  for (const kind of kinds) {
    const newId = counter();
    const question = { ...newQuestion(kind, newId), text: "Kept", points: 3 };
    expect(quizFault(withQuestion(null, question, newId))).toBeNull();
    for (const other of kinds) {
      const changed = asKind(question, other, newId);
      expect(changed).toMatchObject({ id: question.id, kind: other, text: "Kept", points: 3 });
      expect(quizFault(withQuestion(null, changed, newId))).toBeNull();
    }
  }
});

test("choices stay between one and several of several, with what is right", () => {
  const newId = counter();
  const one = newQuestion("one", newId);
  const several = asKind(one, "several", newId);
  expect(several).toMatchObject({
    choices: "choices" in one ? one.choices : [],
    right: ["right" in one ? one.right : ""],
  });
  expect(asKind({ ...several, right: [] } as never, "one", newId)).toMatchObject({
    right: "choices" in one ? one.choices[0]?.id : "",
  });
});

const written: fc.Arbitrary<Quiz> = fc
  .array(fc.integer({ min: 0, max: 4 }), { minLength: 1, maxLength: 3 })
  .map((counts) => {
    const newId = counter();
    return {
      ...blankQuiz,
      parts: counts.map((count) => ({
        id: newId(),
        title: "",
        draw: null,
        mixed: false,
        questions: Array.from({ length: count }, () => newQuestion("long", newId)),
      })),
    };
  });
test("moved, a question stands one place further, into the next part past the end of its own; none is lost or doubled", () => {
  fc.assert(
    fc.property(written, fc.nat(), fc.constantFrom(1 as const, -1 as const), (quiz, which, by) => {
      const all = questionsOf(quiz).map(({ id }) => id);
      const id = all[which % Math.max(1, all.length)];
      if (id === undefined) return;
      const moved = movedQuestion(quiz, id, by);
      expect(
        questionsOf(moved)
          .map((one) => one.id)
          .sort(),
      ).toEqual([...all].sort());
      expect(moved.parts.map((part) => part.id)).toEqual(quiz.parts.map((part) => part.id));
      // And back it is where it was.
      if (idsIn(moved).join("|") !== idsIn(quiz).join("|"))
        expect(idsIn(movedQuestion(moved, id, by === 1 ? -1 : 1))).toEqual(idsIn(quiz));
    }),
  );
});

test("what is drawn is never more than there is", () => {
  const newId = counter();
  let quiz = withQuestion(withQuestion(null, newQuestion("long", newId), newId), newQuestion("long", newId), newId);
  const [part] = quiz.parts;
  if (!part) throw new Error("no part");
  quiz = changedPart(quiz, { ...part, draw: 2 });
  expect(quiz.parts[0]?.draw).toBe(2);
  expect(withoutQuestion(quiz, part.questions[0]?.id as string).parts[0]?.draw).toBe(1);
  const more = withPart(quiz, newId);
  expect(withQuestion(more, newQuestion("file", newId), newId).parts[1]?.questions).toHaveLength(1);
  expect(withoutPart(more, part.id).parts.map(({ questions }) => questions.length)).toEqual([0]);
  const changed = { ...(part.questions[0] as never as Parameters<typeof changedQuestion>[1]), text: "Other" };
  expect(questionsOf(changedQuestion(quiz, changed))[0]?.text).toBe("Other");
});

test("what is taken in stands behind what is there: in the same part where neither has a heading, else in its own", () => {
  const newId = counter();
  const one = withQuestion(null, newQuestion("long", newId), newId);
  const two = withQuestion(null, newQuestion("file", newId), newId);
  expect(withMore(null, two).parts).toEqual(two.parts);
  expect(idsIn(withMore(one, two))).toEqual([[...idsIn(one).flat(), ...idsIn(two).flat()]]);
  const headed = { ...two, parts: two.parts.map((part) => ({ ...part, title: "Second" })) };
  expect(idsIn(withMore(one, headed))).toEqual([...idsIn(one), ...idsIn(headed)]);
});
