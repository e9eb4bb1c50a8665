/** Two quizzes with questions, and the attempts of weeks past: what was answered earns the marks that the gradebook holds. */
import { draw, type Paper } from "../src/core/attempts/drawing.ts";
import type { Answer } from "../src/core/attempts/marking.ts";
import { studentsOf } from "../src/core/placement/membership.ts";
import { blankQuiz, type Question, type Quiz } from "../src/core/plan/questions.ts";
import type { Item, Plan } from "../src/core/plan/types.ts";
import { membershipsAt, resolveDates } from "../src/core/timing/resolving/resolve.ts";
import type { Activity } from "./activity.ts";
import type { Random } from "./random.ts";

export interface DemoAttempt {
  id: string;
  itemId: string;
  personId: string;
  begunAt: number;
  endsAt: number | null;
  endedAt: number | null;
  paper: Paper;
  points: number | null;
  handInId: string | null;
  answers: { questionId: string; answer: Answer; points: number | null; at: number }[];
}

type Id = (name: string) => string;

/** One of several; the first choice is right. */
const one = (id: Id, name: string, text: string, choices: string[]): Question => ({
  id: id(`question ${name}`),
  kind: "one",
  text: `<p>${text}</p>`,
  points: 1,
  choices: choices.map((choice) => ({ id: id(`choice ${name} ${choice}`), text: choice })),
  right: id(`choice ${name} ${choices[0]}`),
});
/** Several of several, the first two right: a half for each. */
const several = (id: Id, name: string, text: string, choices: string[]): Question => {
  const ids = choices.map((choice) => id(`choice ${name} ${choice}`));
  return {
    id: id(`question ${name}`),
    kind: "several",
    text: `<p>${text}</p>`,
    points: 1,
    choices: choices.map((choice, at) => ({ id: ids[at] as string, text: choice })),
    right: ids.slice(0, 2),
    partial: true,
  };
};
const number = (id: Id, name: string, text: string, right: number, unit: string, amount: number): Question => ({
  id: id(`question ${name}`),
  kind: "number",
  text: `<p>${text}</p>`,
  points: 1,
  right,
  tolerance: { amount, relative: false },
  unit,
  withoutUnit: 50,
});
const short = (id: Id, name: string, text: string, accepted: string[]): Question => ({
  id: id(`question ${name}`),
  kind: "short",
  text: `<p>${text}</p>`,
  points: 1,
  accepted,
  caseCounts: false,
  blanksCount: false,
});

const quizOf = (id: Id, name: string, questions: Question[], more: Partial<Quiz> = {}): Quiz => ({
  ...blankQuiz,
  parts: [{ id: id(`part ${name}`), title: "", draw: null, mixed: false, questions }],
  ...more,
});

/** What everybody is asked before the first field day. */
export const safetyCheck = (id: Id): Quiz =>
  quizOf(
    id,
    "safety",
    [
      one(id, "depth", "How deep may you wade?", ["to the knee", "to the hip", "as deep as the waders reach"]),
      one(id, "alone", "You forgot the tape on the far bank. You", [
        "tell the leader and wait",
        "cross quickly, alone",
        "cross a little upstream",
      ]),
      one(id, "whistle", "The leader’s whistle means", ["everything ends at once", "lunch", "change of team"]),
      one(id, "rise", "The water turns brown and rises by a hand. You", [
        "leave the water and tell the leader",
        "finish the vertical",
        "move the tape",
      ]),
      one(id, "line", "A throw line is aimed", ["just upstream of the person", "at the person’s feet", "downstream"]),
      one(id, "boots", "Felt soles are", ["cleaned between two rivers", "never taken off", "kept wet"]),
      number(id, "speed", "At what speed, at knee depth, does nobody enter the water?", 1, "m/s", 0.05),
      short(id, "call", "Which word, shouted, stops a throw?", ["stop", "hold"]),
      one(id, "cold", "Somebody shivers and fumbles with the clips. First you", [
        "take them out of the wind",
        "give them coffee",
        "let them finish",
      ]),
      several(id, "kit", "What is in every kit?", ["a throw line", "a whistle", "a drone", "a float"]),
    ],
    { mixChoices: true },
  );

/** The quiz of week 8: with a text that a person marks. */
export const uncertainty = (id: Id): Quiz =>
  quizOf(
    id,
    "uncertainty",
    [
      number(
        id,
        "sum",
        "Q₁ = 1.2 ± 0.3 and Q₂ = 0.9 ± 0.4 m³/s, independent. What is the uncertainty of their sum?",
        0.5,
        "m³/s",
        0.005,
      ),
      one(id, "double", "Four times as many verticals make the random error", [
        "half as large",
        "a quarter as large",
        "as large as before",
      ]),
      one(id, "datum", "A datum that is 2 cm off is", ["a systematic error", "a random error", "no error"]),
      short(id, "spread", "What is the square root of the variance called?", [
        "standard deviation",
        "the standard deviation",
        "sd",
      ]),
      one(id, "round", "1.8437 ± 0.12 is written", ["1.84 ± 0.12", "1.8437 ± 0.12", "2 ± 0.1"]),
      number(id, "percent", "0.12 in 1.5 is how many percent?", 8, "%", 0.05),
      several(id, "less", "What makes the random error smaller?", [
        "more verticals",
        "longer averages",
        "a new datum",
        "a rounder number",
      ]),
      {
        id: id("question weakest"),
        kind: "long",
        text: "<p>Which step of your own method adds most to the uncertainty, and how do you know?</p>",
        points: 3,
      },
    ],
    { mixChoices: true, shows: "after due" },
  );

/** An answer to a question that earns all, a half or nothing. */
function answerFor(question: Question, share: number, random: Random): Answer {
  switch (question.kind) {
    case "one": {
      const wrong = question.choices.filter(({ id }) => id !== question.right);
      return share === 1 ? question.right : (random.pick(wrong).id as string);
    }
    case "several":
      return share === 1 ? question.right : share > 0 ? [question.right[0] as string] : [];
    case "number":
      return `${share > 0 ? question.right : question.right * 2}${share === 1 ? ` ${question.unit}` : ""}`;
    case "short":
      return share === 1 ? (question.accepted[0] as string) : "I do not know";
    default:
      return "The depth at the edge: two of us read the staff, and our readings differ by more than the tape’s do.";
  }
}

/** Answers that earn so many points: whole questions first, a half where a half is left. Null: what a person marks stays open. */
function answersWorth(paper: Paper, points: number, isMarked: boolean, at: number, random: Random) {
  const byHand = paper.questions.find(({ kind }) => kind === "long");
  const given = byHand ? Math.min(byHand.points, Math.max(0, points - 4)) : 0;
  const rest = byHand ? points - given : points;
  let left = rest;
  const halves = paper.questions.filter(({ kind }) => kind === "several");
  const half = rest % 1 > 0 ? halves[0] : undefined;
  if (half) left -= 0.5;
  return random.shuffle(paper.questions).map((question) => {
    if (question === byHand)
      return { questionId: question.id, answer: answerFor(question, 1, random), points: isMarked ? given : null, at };
    if (question === half)
      return { questionId: question.id, answer: answerFor(question, 0.5, random), points: null, at };
    const isRight = left >= question.points;
    if (isRight) left -= question.points;
    return { questionId: question.id, answer: answerFor(question, isRight ? 1 : 0, random), points: null, at };
  });
}

/** The attempts that hand-ins of quizzes with questions were, and some that run: of Evening, as the demo begins. */
export function makeAttempts(
  plan: Plan,
  { handIns, marks }: Activity,
  random: Random,
  now: number,
  id: Id,
): DemoAttempt[] {
  const marked = new Map(marks.map((mark) => [`${mark.itemId}/${mark.personId}`, mark]));
  const made: DemoAttempt[] = [];
  for (const handIn of handIns) {
    const item = plan.items[handIn.itemId] as Item;
    if (!item.quiz) continue;
    const points = marked.get(`${item.id}/${handIn.personId}`)?.points ?? null;
    const paper = draw(item.quiz, random.below(1_000_000));
    const begunAt = handIn.at - (6 + random.below(13)) * 60_000;
    made.push({
      id: id(`attempt ${item.id} ${handIn.personId}`),
      itemId: item.id,
      personId: handIn.personId,
      begunAt,
      endsAt: begunAt + 45 * 60_000,
      endedAt: handIn.at,
      paper,
      points,
      handInId: handIn.id,
      answers: answersWorth(paper, points ?? 4 + random.below(4), points !== null, handIn.at - 60_000, random),
    });
  }
  return [...made, ...running(plan, made, random, now, id)];
}

/** Three of Evening who work on the safety check as the demo begins. */
function running(plan: Plan, before: DemoAttempt[], random: Random, now: number, id: Id): DemoAttempt[] {
  const item = Object.values(plan.items).find(({ title }) => title === "Safety check") as Item;
  const evening = studentsOf(plan, id("group Evening"), now);
  const worked = new Set(before.filter(({ itemId }) => itemId === item.id).map(({ personId }) => personId));
  // Whoever handed nothing in takes it late.
  const those = evening.filter((personId) => !worked.has(personId)).slice(0, 3);
  return those.map((personId, place): DemoAttempt => {
    const paper = draw(item.quiz as Quiz, random.below(1_000_000));
    const { minutes } = resolveDates(plan, item, membershipsAt(plan, personId, now));
    const begunAt = now - (place + 1) * 60_000;
    return {
      id: id(`attempt running ${personId}`),
      itemId: item.id,
      personId,
      begunAt,
      endsAt: begunAt + Number(minutes.value) * 60_000,
      endedAt: null,
      paper,
      points: null,
      handInId: null,
      answers: paper.questions.slice(0, 3 + place * 2).map((question) => ({
        questionId: question.id,
        answer: answerFor(question, random.next() < 0.8 ? 1 : 0, random),
        points: null,
        at: begunAt + 30_000,
      })),
    };
  });
}
