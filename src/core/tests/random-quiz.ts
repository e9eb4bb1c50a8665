/** Random quizzes, and a question as files can say it: ids are of each file's own. */
import fc from "fast-check";
import { blankQuiz, type Question, type Quiz } from "../plan/questions.ts";
import { wordsIn } from "../text/rich-text.ts";

const word = fc.stringMatching(/^[a-z][a-zé<&]{1,8}$/);
const words = fc.array(word, { minLength: 1, maxLength: 4 }).map((list) => list.join(" "));
const html = words.map((text) => `<p>${text.replace(/&/g, "&amp;").replace(/</g, "&lt;")}</p>`);
/** Numbers of few digits, as people write them. */
const number = fc.integer({ min: -99_999, max: 99_999 }).map((whole) => whole / 100);
const points = fc.integer({ min: 0, max: 40 }).map((quarters) => quarters / 4);

type Drawn = { text: string; points: number; choices: string[]; right: number[]; partial: boolean };
const choosing: fc.Arbitrary<Drawn> = fc.record({
  text: html,
  points,
  // Choices that only differ by what they say, so that none is another's number or letter.
  choices: fc.uniqueArray(words, { minLength: 2, maxLength: 5, selector: (text) => text.toLowerCase() }),
  right: fc.uniqueArray(fc.nat(4), { minLength: 1, maxLength: 5 }),
  partial: fc.boolean(),
});

const question: fc.Arbitrary<(id: string) => Question> = fc.oneof(
  choosing.map(({ text, points: worth, choices, right }) => (id: string): Question => {
    const made = choices.map((choice, at) => ({ id: `${id}c${at}`, text: choice }));
    return {
      id,
      kind: "one",
      text,
      points: worth,
      choices: made,
      right: made[(right[0] as number) % made.length]?.id as string,
    };
  }),
  choosing.map(({ text, points: worth, choices, right, partial }) => (id: string): Question => {
    const made = choices.map((choice, at) => ({ id: `${id}c${at}`, text: choice }));
    const ids = [...new Set(right.map((place) => made[place % made.length]?.id as string))].sort();
    return { id, kind: "several", text, points: worth, choices: made, right: ids, partial };
  }),
  fc
    .record({
      text: html,
      points,
      right: number,
      amount: fc.nat(500).map((cents) => cents / 100),
      relative: fc.boolean(),
    })
    .map(
      ({ text, points: worth, right, amount, relative }) =>
        (id: string): Question => ({
          ...{
            id,
            kind: "number",
            text,
            points: worth,
            right,
            tolerance: { amount, relative: relative && amount > 0 },
          },
          ...{ unit: "", withoutUnit: 0 },
        }),
    ),
  fc.record({ text: html, points, accepted: fc.uniqueArray(words, { minLength: 1, maxLength: 3 }) }).map(
    ({ text, points: worth, accepted }) =>
      (id: string): Question => ({
        ...{ id, kind: "short", text, points: worth, accepted, caseCounts: false, blanksCount: false },
      }),
  ),
  fc.record({ text: html, points, kind: fc.constantFrom("long" as const, "file" as const) }).map(
    ({ text, points: worth, kind }) =>
      (id: string): Question => ({ id, kind, text, points: worth }),
  ),
);

/** A quiz of one or two parts. */
export const anyQuiz: fc.Arbitrary<Quiz> = fc
  .array(fc.array(question, { minLength: 1, maxLength: 4 }), { minLength: 1, maxLength: 2 })
  .map((parts) => ({
    ...blankQuiz,
    parts: parts.map((questions, part) => ({
      id: `part${part}`,
      title: part === 0 ? "" : "Second part",
      draw: null,
      mixed: false,
      questions: questions.map((make, at) => make(`q${part}x${at}`)),
    })),
  }));

/** What a question says, without ids; several right ones earn in parts wherever they are read from a table. */
export function asSaid(one: Question): Record<string, unknown> {
  const { id: _, text, ...rest } = one;
  const said = { ...rest, text: wordsIn(text) };
  if (one.kind !== "one" && one.kind !== "several") return said;
  const right = [one.right].flat();
  const { partial: __, ...others } = { partial: null, ...said };
  return {
    ...others,
    choices: one.choices.map((choice) => choice.text),
    right: one.choices.flatMap(({ id }, at) => (right.includes(id) ? [at] : [])),
  };
}
