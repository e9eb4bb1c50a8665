/** Questions out to a table and back, and what a sheet of somebody's says in other words. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import type { TextTable } from "../../formats/text-table.ts";
import { questionsOf, quizFault } from "../../plan/questions.ts";
import { anyQuiz, asSaid } from "../../tests/random-quiz.ts";
import { questionHeader, questionRows, readQuestionTable } from "./table.ts";

const counter = () => {
  let count = 0;
  return () => `id ${count++}`;
};
const table = (header: string[], rows: string[][]): TextTable => ({
  name: "questions.csv",
  header,
  rows,
  lines: rows.map((_, at) => at + 2),
});
const read = (header: string[], rows: string[][]) => {
  const found = readQuestionTable(table(header, rows), counter());
  if (typeof found === "string") throw new Error(found);
  return found;
};

test("any questions come back as they went, as far as a table says them", () => {
  fc.assert(
    fc.property(anyQuiz, (quiz) => {
      const { quiz: back, troubles } = read(questionHeader(quiz), questionRows(quiz));
      expect(troubles).toEqual([]);
      expect(quizFault(back)).toBeNull();
      expect(questionsOf(back).map(asSaid)).toEqual(questionsOf(quiz).map(asSaid));
    }),
    { numRuns: 200 },
  );
});

describe("a sheet of somebody's", () => {
  test("is read by what is there: choices, a number, words, or nothing that is right", () => {
    const { quiz, troubles } = read(
      ["Question", "Answer", "Option A", "Option B", "Option C"],
      [
        ["Where?", "b", "here", "there", ""],
        ["Which?", "here; there", "here", "there", "nowhere"],
        ["How many?", "-12,5", "", "", ""],
        ["Who?", "Ada | Ben", "", "", ""],
        ["Why?", "", "", "", ""],
      ],
    );
    expect(troubles).toEqual([]);
    expect(questionsOf(quiz).map(({ kind, points }) => [kind, points])).toEqual([
      ["one", 1],
      ["several", 1],
      ["number", 1],
      ["short", 1],
      ["long", 1],
    ]);
    const [one, several, number, short] = questionsOf(quiz);
    expect(one).toMatchObject({ choices: [{ text: "here" }, { text: "there", id: (one as { right: string }).right }] });
    expect((several as { right: string[] }).right).toHaveLength(2);
    expect(number).toMatchObject({ right: -12.5, tolerance: { amount: 0, relative: false } });
    expect(short).toMatchObject({ accepted: ["Ada", "Ben"] });
  });
  test("says what cannot be read, with its line, and the rest is taken", () => {
    const header = ["Type", "Question", "Points", "Right", "Tolerance", "Choice 1", "Choice 2"];
    const { quiz, troubles } = read(header, [
      ["riddle", "What?", "", "", "", "", ""],
      ["one", "Where?", "", "3", "", "here", "there"],
      ["one", "Where?", "", "1", "", "here", ""],
      ["number", "How many?", "", "many", "", "", ""],
      ["number", "How many?", "", "4", "some", "", ""],
      ["short", "Who?", "x", "Ada", "", "", ""],
      ["short", " ", "", "Ada", "", "", ""],
      ["short", "Who?", "", "", "", "", ""],
      ["one", "Where?", "", "1;2", "", "here", "there"],
      ["number", "How many?", "2", "4", "5 %", "", ""],
    ]);
    expect(troubles.map(({ line }) => line)).toEqual([2, 3, 4, 5, 6, 7, 8, 9, 10]);
    expect(troubles[0]?.says).toMatch(/^The question asks for “riddle”, which is none of: one of several, /);
    expect(questionsOf(quiz)).toMatchObject([{ kind: "number", points: 2, tolerance: { amount: 5, relative: true } }]);
  });
  test("without a column of questions nothing is taken", () => {
    expect(readQuestionTable(table(["Name", "Mark"], []), counter())).toBe(
      'There is no column "Question". Its columns are: Name, Mark.',
    );
  });
});
