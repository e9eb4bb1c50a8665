/** What questions can be, and cannot. */
import { expect, test } from "vitest";
import { asUnreleased, blankQuiz, possibleIn, type Question, type Quiz, quizFault, rightChoices } from "./questions.ts";

const one = (id: string, fields: Partial<Extract<Question, { kind: "one" }>> = {}): Question => ({
  id,
  kind: "one",
  text: "Which?",
  points: 2,
  choices: [
    { id: "a", text: "this" },
    { id: "b", text: "that" },
  ],
  right: "a",
  ...fields,
});
const quiz = (questions: Question[], draw: number | null = null): Quiz => ({
  ...blankQuiz,
  parts: [{ id: "part", title: "", draw, mixed: false, questions }],
});

test("is whole where each question has its own id, and calls right what it has", () => {
  expect(quizFault(quiz([one("1"), one("2")]))).toBeNull();
  expect(quizFault(quiz([one("1"), one("1")]))).toBe("Two questions have one id.");
  expect(quizFault(quiz([one("1"), one("2", { right: "c" })]))).toBe(
    "Question 2 calls a choice right that it does not have.",
  );
  const twice = [
    { id: "a", text: "this" },
    { id: "a", text: "that" },
  ];
  expect(quizFault(quiz([one("1", { choices: twice })]))).toBe("Question 1 has two choices of one id.");
  const parts = quiz([one("1")]).parts;
  expect(
    quizFault({ ...blankQuiz, parts: [...parts, ...parts.map((part) => ({ ...part, questions: [one("2")] }))] }),
  ).toBe("Two parts have one id.");
  const named: Question = { ...one("1"), kind: "several", right: ["a", "a"], partial: true } as Question;
  expect(quizFault(quiz([named]))).toBe("Question 1 names a right choice twice.");
});

test("draws no more than there are, and only of questions that are worth the same", () => {
  expect(quizFault(quiz([one("1"), one("2")], 1))).toBeNull();
  expect(quizFault(quiz([one("1"), one("2")], 3))).toBe("Part 1 draws 3 of 2 questions.");
  expect(quizFault(quiz([one("1"), one("2", { points: 3 })], 1))).toMatch(/same points/);
  expect(quizFault(quiz(Array.from({ length: 501 }, (_, at) => one(String(at)))))).toMatch(/500 is the most/);
});

test("an attempt can earn the points of all questions, or of as many as are drawn", () => {
  expect(possibleIn(quiz([one("1"), one("2"), one("3")]))).toBe(6);
  expect(possibleIn(quiz([one("1"), one("2"), one("3")], 2))).toBe(4);
  expect(possibleIn(blankQuiz)).toBe(0);
});

test("texts say something, and nothing is longer or larger than it may be: which question, and what of it, is said", () => {
  expect(quizFault(quiz([one("1"), one("2", { text: " " })]))).toMatch(/^Question 2 is not whole: text: /);
  expect(quizFault(quiz([one("1", { points: -1 })]))).toMatch(/^Question 1 is not whole: points: /);
  expect(quizFault(quiz([one("1", { points: 1001 })]))).toMatch(/points/);
  const blank = [...(one("1") as Extract<Question, { kind: "one" }>).choices, { id: "c", text: "" }];
  expect(quizFault(quiz([one("1", { choices: blank })]))).toMatch(/^Question 1 is not whole: its choices: /);
  const short: Question = {
    id: "1",
    kind: "short",
    text: "Who?",
    points: 1,
    accepted: [],
    caseCounts: false,
    blanksCount: false,
  };
  expect(quizFault(quiz([short]))).toMatch(/what is accepted/);
});

test("copied elsewhere nothing is shown before staff say so there", () => {
  expect(asUnreleased(null)).toBeNull();
  expect(asUnreleased({ ...quiz([one("1")]), shows: "when released", released: true })?.released).toBe(false);
  expect([rightChoices(one("1")), rightChoices({ id: "l", kind: "long", text: "Why?", points: 1 })]).toEqual([
    ["a"],
    [],
  ]);
});
