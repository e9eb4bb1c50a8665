/** What answers earn. Examples of each kind of question, and properties of all. Source: semantics.md section 7, attempts. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import type { Question } from "../plan/questions.ts";
import {
  type Answer,
  answerWords,
  columnMark,
  earnedBy,
  earnedIn,
  fits,
  isBlankAnswer,
  pointsOf,
  rightWords,
  scoreOf,
} from "./marking.ts";

const choices = ["a", "b", "c", "d"].map((id) => ({ id, text: `choice ${id}` }));
const common = { id: "q", text: "?", points: 4 };
const one: Question = { ...common, kind: "one", choices, right: "b" };
const several = (partial: boolean, right = ["a", "b"]): Question => ({
  ...common,
  kind: "several",
  choices,
  right,
  partial,
});
const number = (fields: Partial<Extract<Question, { kind: "number" }>> = {}): Question => ({
  ...common,
  kind: "number",
  right: 12.5,
  tolerance: { amount: 0, relative: false },
  unit: "",
  withoutUnit: 0,
  ...fields,
});
const short = (fields: Partial<Extract<Question, { kind: "short" }>> = {}): Question => ({
  ...common,
  kind: "short",
  accepted: ["Standard deviation", "σ"],
  caseCounts: false,
  blanksCount: false,
  ...fields,
});
const long: Question = { ...common, kind: "long" };

describe("one question", () => {
  test("one of several: all or nothing", () => {
    expect([earnedBy(one, "b"), earnedBy(one, "a"), earnedBy(one, "")]).toEqual([4, 0, 0]);
  });
  test("several of several: in parts each right choice earns its share and each wrong one takes one, never below zero", () => {
    const q = several(true);
    expect([["a", "b"], ["a"], ["a", "c"], ["a", "b", "c"], ["c", "d"], []].map((ids) => earnedBy(q, ids))).toEqual([
      4, 2, 0, 2, 0, 0,
    ]);
  });
  test("several of several as a whole: exactly those, no more and no fewer; none may be right", () => {
    const q = several(false);
    expect([["a", "b"], ["b", "a"], ["a"], ["a", "b", "c"]].map((ids) => earnedBy(q, ids))).toEqual([4, 4, 0, 0]);
    // Nothing ticked is nothing answered, and earns nothing even where nothing is right.
    expect(earnedBy(several(false, []), [])).toBe(0);
    expect(earnedBy(several(true, []), ["a"])).toBe(0);
  });
  test("a number: within what it may be away, inclusive, by amount or by percent, with either decimal sign", () => {
    expect(
      ["12.5", "12,5", "+12.50", " 12.5 ", "1.25e1", "12.51", "twelve"].map((text) => earnedBy(number(), text)),
    ).toEqual([4, 4, 4, 4, 4, 0, 0]);
    const near = number({ tolerance: { amount: 0.1, relative: false } });
    expect(["12.4", "12.6", "12.39", "12.61"].map((text) => earnedBy(near, text))).toEqual([4, 4, 0, 0]);
    const percent = number({ right: -200, tolerance: { amount: 5, relative: true } });
    expect(["-210", "−190", "-189.9", "200"].map((text) => earnedBy(percent, text))).toEqual([4, 4, 0, 0]);
    // Of a comma before three digits either reading may be meant.
    expect([earnedBy(number({ right: 1000 }), "1,000"), earnedBy(number({ right: 1 }), "1,000")]).toEqual([4, 4]);
  });
  test("a unit: with it all, without it as told, with another nothing", () => {
    const q = number({ unit: "m/s", withoutUnit: 50 });
    expect(["12.5 m/s", "12.5m/s", "12.5 m / s", "12.5", "12.5 km/h", "m/s"].map((text) => earnedBy(q, text))).toEqual([
      4, 4, 4, 2, 0, 0,
    ]);
  });
  test("a short text: any that is accepted, case and blanks as told, however its letters are composed", () => {
    const q = short();
    expect(["standard  deviation", " Σ ", "σ", "deviation", ""].map((text) => earnedBy(q, text))).toEqual([
      4, 4, 4, 0, 0,
    ]);
    const strict = short({ caseCounts: true, blanksCount: true });
    expect(
      ["Standard deviation", "standard deviation", "Standard  deviation"].map((text) => earnedBy(strict, text)),
    ).toEqual([4, 0, 0]);
    expect(earnedBy(short({ accepted: ["café"] }), "cafe\u0301")).toBe(4);
  });
  test("a long text waits for a person; unanswered it earns nothing, and one without points waits for nobody", () => {
    expect([earnedBy(long, "words"), earnedBy(long, " "), earnedBy({ ...long, points: 0 }, "words")]).toEqual([
      null,
      0,
      0,
    ]);
  });
  test("what a person gave beats what it marks itself", () => {
    expect(earnedIn(one, new Map([["q", { answer: "a", points: 3 }]]))).toBe(3);
    expect(earnedIn(long, new Map([["q", { answer: "words", points: null }]]))).toBeNull();
  });
});

test("an answer is of the kind that is asked for, and of the question's own choices", () => {
  const file = { id: "f", name: "f.pdf", size: 1 };
  expect([fits(one, "a"), fits(one, "z"), fits(one, ["a"]), fits(several(true), ["a", "z"])]).toEqual([
    true,
    false,
    false,
    false,
  ]);
  expect([
    fits(long, "x"),
    fits(long, file),
    fits({ ...common, kind: "file" }, file),
    fits({ ...common, kind: "file" }, "x"),
  ]).toEqual([true, false, true, false]);
  expect([isBlankAnswer([]), isBlankAnswer(" "), isBlankAnswer(file)]).toEqual([true, true, false]);
});

test("answers and what is right are told in words", () => {
  const file = { id: "f", name: "f.pdf", size: 1 };
  expect([answerWords(one, "b"), answerWords(several(true), ["d", "a"]), answerWords(long, "x")]).toEqual([
    "choice b",
    "choice a; choice d",
    "x",
  ]);
  expect([answerWords({ ...common, kind: "file" }, file), answerWords(long, undefined)]).toEqual(["f.pdf", ""]);
  expect([rightWords(one), rightWords(several(true, [])), rightWords(long)]).toEqual(["choice b", "none of them", ""]);
  const q = number({ unit: "m", tolerance: { amount: 5, relative: true } });
  expect([rightWords(q), rightWords(number()), rightWords(short())]).toEqual([
    "12.5 m, 5 % either way",
    "12.5",
    "Standard deviation or σ",
  ]);
});

const anyQuestion: fc.Arbitrary<Question> = fc.oneof(
  fc.constant(one),
  fc
    .record({ right: fc.subarray(["a", "b", "c", "d"]), partial: fc.boolean() })
    .map(({ right, partial }) => several(partial, right)),
  fc
    .record({
      right: fc.double({ noNaN: true, min: -1e6, max: 1e6 }),
      amount: fc.double({ noNaN: true, min: 0, max: 10 }),
    })
    .map(({ right, amount }) => number({ right, tolerance: { amount, relative: false } })),
  fc.constant(short()),
  fc.constant(long),
);
const anyAnswer: fc.Arbitrary<Answer> = fc.oneof(
  fc.constantFrom("a", "b", "σ", "12.5", "1,000", "-3e2"),
  fc.string(),
  fc.subarray(["a", "b", "c", "d"]),
);
test("whatever is answered earns between nothing and all points; a person alone gives more", () => {
  fc.assert(
    fc.property(anyQuestion, anyAnswer, (question, answer) => {
      const earned = earnedBy(question, answer);
      if (earned === null) expect(["long", "file"]).toContain(question.kind);
      else expect(earned >= 0 && earned <= question.points).toBe(true);
    }),
    { numRuns: 500 },
  );
});
test("what is right, typed as it is told, earns everything", () => {
  fc.assert(
    fc.property(fc.double({ noNaN: true, min: -1e9, max: 1e9 }), (drawn) => {
      const right = Math.abs(drawn) < 1e-100 ? 0 : drawn;
      expect(earnedBy(number({ right }), String(right))).toBe(4);
    }),
    { numRuns: 300 },
  );
});

describe("an attempt", () => {
  const paper = { questions: [one, { ...long, id: "l", points: 6 }], headings: [] };
  test("earns the sum; what a person marks is waited for", () => {
    const given = new Map([
      ["q", { answer: "b", points: null }],
      ["l", { answer: "words", points: null as number | null }],
    ]);
    expect(scoreOf(paper, given)).toEqual({ earned: 4, possible: 10, toMark: ["l"] });
    expect(pointsOf(scoreOf(paper, given), 20)).toBeNull();
    given.set("l", { answer: "words", points: 4.5 });
    expect(pointsOf(scoreOf(paper, given), 20)).toBe(17);
    expect(pointsOf(scoreOf(paper, given), null)).toBeNull();
    expect(pointsOf(scoreOf({ questions: [], headings: [] }, given), 20)).toBeNull();
  });
  test("of several the best, the last, the first or the mean is the mark; while one waits there is none", () => {
    const points = [3, 8, 5];
    expect((["best", "last", "first", "mean"] as const).map((counts) => columnMark(points, counts))).toEqual([
      8, 5, 3, 5.333,
    ]);
    expect([columnMark([3, null], "first"), columnMark([], "best"), columnMark([0], "mean")]).toEqual([null, null, 0]);
  });
});
