/** What one attempt asks: the same by the same seed, and never what is right. */
import fc from "fast-check";
import { expect, test } from "vitest";
import { blankQuiz, possibleIn, type Question, type Quiz } from "../plan/questions.ts";
import { addItem, coursePlan } from "../tests/fixture.ts";
import { paperAnew } from "./anew.ts";
import { asAsked, draw, paperOf } from "./drawing.ts";

const question = (id: string): Question => ({
  id,
  kind: "one",
  text: `Question ${id}`,
  points: 1,
  choices: ["a", "b", "c", "d"].map((choice) => ({ id: `${id}${choice}`, text: choice })),
  right: `${id}a`,
});
const quiz = (fields: Partial<Quiz> = {}, draws: (number | null)[] = [null, 2], mixed = false): Quiz => ({
  ...blankQuiz,
  parts: draws.map((count, part) => ({
    id: `part ${part}`,
    title: part === 0 ? "" : `Part ${part}`,
    draw: count,
    mixed,
    questions: [1, 2, 3, 4].map((at) => question(`${part}${at}`)),
  })),
  ...fields,
});
const ids = (one: Quiz, seed: number) => draw(one, seed).questions.map(({ id }) => id);

test("all of a part in its order, or as many as are drawn; headings stand before what they head", () => {
  const paper = draw(quiz(), 1);
  expect(paper.questions.slice(0, 4).map(({ id }) => id)).toEqual(["01", "02", "03", "04"]);
  expect(paper.questions).toHaveLength(6);
  expect(paper.headings).toEqual([[4, "Part 1"]]);
  // What was drawn stands in the order in which it was written.
  const drawn = ids(quiz(), 1).slice(4);
  expect(drawn).toEqual([...drawn].sort());
});

test("the same seed asks the same; seeds differ in what is drawn and in which order", () => {
  fc.assert(
    fc.property(fc.nat(), fc.boolean(), fc.boolean(), (seed, mixed, mixChoices) => {
      const one = quiz({ mixChoices }, [null, 2], mixed);
      const paper = draw(one, seed);
      expect(draw(one, seed)).toEqual(paper);
      expect(new Set(paper.questions.map(({ id }) => id)).size).toBe(6);
      expect(paper.questions.reduce((sum, { points }) => sum + points, 0)).toBe(possibleIn(one));
      for (const asked of paper.questions) {
        const written = question(asked.id);
        if (!("choices" in asked) || !("choices" in written)) continue;
        expect([...asked.choices].sort((a, b) => (a.id < b.id ? -1 : 1))).toEqual(written.choices);
        if (!mixChoices) expect(asked.choices).toEqual(written.choices);
      }
    }),
  );
  const seeds = [...Array(40).keys()];
  expect(new Set(seeds.map((seed) => ids(quiz(), seed).slice(4).join())).size).toBe(6);
  expect(new Set(seeds.map((seed) => ids(quiz({}, [null], true), seed).join())).size).toBeGreaterThan(10);
});

test("a question as it is asked says nothing of what is right", () => {
  const all: Question[] = [
    question("q"),
    { id: "s", kind: "several", text: "t", points: 1, choices: [], right: ["secret"], partial: true },
    {
      id: "n",
      kind: "number",
      text: "t",
      points: 1,
      right: 98765,
      tolerance: { amount: 4321, relative: false },
      unit: "m",
      withoutUnit: 0,
    },
    { id: "t", kind: "short", text: "t", points: 1, accepted: ["secret"], caseCounts: false, blanksCount: false },
  ];
  const told = JSON.stringify(all.map(asAsked));
  for (const word of ["secret", "98765", "4321", "right", "accepted"]) expect(told).not.toContain(word);
  expect(asAsked(all[2] as Question).unit).toBe("m");
});

test("an assignment with minutes asks for the work itself", () => {
  const plan = coursePlan();
  const item = addItem(plan, "lab", { kind: "assignment", points: 20, dates: { minutes: 30 } });
  expect(paperOf(item, 1).questions.map(({ kind, points }) => [kind, points])).toEqual([
    ["long", 20],
    ["file", 0],
  ]);
});

test("marked anew by what is right now: what was asked stays as it was, and what is gone is marked as it was", () => {
  const paper = draw(quiz({ mixChoices: true }, [null]), 7);
  const now = quiz({}, [null]);
  const changed = now.parts[0]?.questions
    .slice(1)
    .map((one) => ({ ...one, text: "New words", right: `${one.id}b` }) as Question);
  const anew = paperAnew(paper, {
    ...now,
    parts: [{ ...(now.parts[0] as Quiz["parts"][number]), questions: changed ?? [] }],
  });
  expect(anew.questions.map(({ id, text }) => [id, text])).toEqual(paper.questions.map(({ id, text }) => [id, text]));
  expect(anew.questions.map((one) => ("right" in one ? one.right : ""))).toEqual(["01a", "02b", "03b", "04b"]);
  // Of another kind it cannot be marked as what was asked.
  const other = {
    ...now,
    parts: [
      {
        ...(now.parts[0] as Quiz["parts"][number]),
        questions: [{ id: "01", kind: "long", text: "t", points: 5 } as Question],
      },
    ],
  };
  expect(paperAnew(paper, other).questions[0]).toEqual(paper.questions[0]);
});
