/**
 * Questions as a table, for those who write them in a sheet: a row a question, its choices in columns of their own.
 * What cannot be read is told with its line, and the rest is taken.
 */
import type { TextTable } from "../../formats/text-table.ts";
import { blankQuiz, type Question, type QuestionKind, type Quiz, questionKinds } from "../../plan/questions.ts";
import { fold } from "../../text/caseless.ts";
import { readNumber } from "../../text/numbers.ts";
import { asMarkup, wordsIn } from "../../text/rich-text.ts";

const columns = ["Part", "Asks for", "Question", "Points", "Right", "Away", "Unit"] as const;
type Column = (typeof columns)[number];
const choiceColumn = (place: number): string => `Choice ${place + 1}`;

/** The header for questions with so many choices at most. */
export const questionHeader = (quiz: Quiz): string[] => {
  const most = Math.max(
    4,
    ...quiz.parts.flatMap(({ questions }) => questions.map((one) => ("choices" in one ? one.choices.length : 0))),
  );
  return [...columns, ...Array.from({ length: most }, (_, place) => choiceColumn(place))];
};

function rightCell(question: Question): string {
  switch (question.kind) {
    case "one":
      return String(question.choices.findIndex(({ id }) => id === question.right) + 1);
    case "several":
      return question.choices.flatMap(({ id }, at) => (question.right.includes(id) ? [at + 1] : [])).join("; ");
    case "number":
      return String(question.right);
    case "short":
      return question.accepted.join(" | ");
    default:
      return "";
  }
}

function awayCell(question: Question): string {
  if (question.kind !== "number" || question.tolerance.amount === 0) return "";
  return `${question.tolerance.amount}${question.tolerance.relative ? " %" : ""}`;
}

/** A row a question, in their order. */
export const questionRows = (quiz: Quiz): string[][] =>
  quiz.parts.flatMap(({ title, questions }) =>
    questions.map((question) => [
      title,
      questionKinds[question.kind],
      wordsIn(question.text),
      String(question.points),
      rightCell(question),
      awayCell(question),
      question.kind === "number" ? question.unit : "",
      ...("choices" in question ? question.choices.map(({ text }) => text) : []),
    ]),
  );

export interface ReadQuestions {
  quiz: Quiz;
  /** What was not taken: the line of the file, and why. */
  troubles: { line: number; says: string }[];
}

const asHtml = (text: string): string => `<p>${asMarkup(text).replace(/\n+/g, "</p><p>")}</p>`;

/** Words by which a kind is meant; without one it is told by what else is there. */
const kindsByWord: [RegExp, QuestionKind][] = [
  [/^(one|single|one of several|choice|single choice|multiple choice)$/, "one"],
  [/^(several|several of several|multiple|multiple response|multiple answer)$/, "several"],
  [/^(a )?(number|numeric|numerical)$/, "number"],
  [/^(a )?(short|short text|short answer|text)$/, "short"],
  [/^(a )?(long|long text|essay|extended text)$/, "long"],
  [/^(a )?(file|upload)$/, "file"],
];
function kindOf(word: string, right: string, choices: string[]): QuestionKind | null {
  const said = fold(word.trim());
  if (said !== "") return kindsByWord.find(([pattern]) => pattern.test(said))?.[1] ?? null;
  if (choices.length > 0) return /[;,&+]/.test(right) ? "several" : "one";
  if (right === "") return "long";
  return typeof readNumber(right.replace(/^[-−]/, "")) === "number" ? "number" : "short";
}

type Cells = Record<Column, string> & { choices: string[] };

/** The places of choices that a cell names: by number, by letter, or by what they say. */
function placesIn(right: string, choices: string[]): number[] | null {
  const whole = choices.findIndex((text) => fold(text) === fold(right));
  if (whole >= 0) return [whole];
  const found = right
    .split(/[;,|&+]/)
    .map((part) => part.trim())
    .filter(Boolean)
    .map((part) => {
      if (/^\d+$/.test(part)) return Number(part) - 1;
      if (/^[a-z]$/i.test(part)) return part.toLowerCase().charCodeAt(0) - 97;
      return choices.findIndex((text) => fold(text) === fold(part));
    });
  return found.every((place) => place >= 0 && place < choices.length) ? [...new Set(found)] : null;
}

const numberOf = (text: string): number | null => {
  const [, sign = "", digits = ""] = /^([-−+]?)\s*(.*)$/s.exec(text.trim()) ?? [];
  const read = readNumber(digits);
  return typeof read === "number" ? (sign === "" || sign === "+" ? read : -read) : null;
};

/** What differs by kind; a sentence where it cannot be read. */
type Answered = Record<string, unknown> | string;

function choicesOf(kind: "one" | "several", { choices: texts, Right: right }: Cells, newId: () => string): Answered {
  const choices = texts.map((text) => ({ id: newId(), text }));
  if (choices.length < 2) return "has fewer than two choices.";
  const places = placesIn(right, texts);
  if (!places) return `calls “${right}” right, which is none of its choices.`;
  const ids = places.map((place) => choices[place]?.id as string);
  if (kind === "several") return { choices, right: ids, partial: true };
  return ids.length === 1 ? { choices, right: ids[0] } : "calls not exactly one choice right.";
}

function numberAnswer({ Right: right, Away: away, Unit: unit }: Cells): Answered {
  const number = numberOf(right);
  if (number === null) return `calls “${right}” right, which is no number.`;
  const amount = away.trim() === "" ? 0 : numberOf(away.replace("%", "").replace("±", ""));
  if (amount === null || amount < 0) return `may be “${away}” away, which is no number.`;
  return { right: number, tolerance: { amount, relative: away.includes("%") }, unit: unit.trim(), withoutUnit: 0 };
}

function answerOf(kind: QuestionKind, cells: Cells, newId: () => string): Answered {
  if (kind === "one" || kind === "several") return choicesOf(kind, cells, newId);
  if (kind === "number") return numberAnswer(cells);
  if (kind !== "short") return {};
  const accepted = cells.Right.split("|")
    .map((one) => one.trim())
    .filter(Boolean);
  return accepted.length === 0
    ? "says no answer that is accepted."
    : { accepted, caseCounts: false, blanksCount: false };
}

function questionOf(cells: Cells, newId: () => string): Question | string {
  const kind = kindOf(cells["Asks for"], cells.Right.trim(), cells.choices);
  if (!kind) return `asks for “${cells["Asks for"]}”, which is none of: ${Object.values(questionKinds).join(", ")}.`;
  const points = cells.Points.trim() === "" ? 1 : numberOf(cells.Points);
  if (points === null || points < 0 || points > 1000)
    return `earns “${cells.Points}” points; that is a number up to 1,000.`;
  if (cells.Question.trim() === "") return "has no words.";
  const answer = answerOf(kind, cells, newId);
  if (typeof answer === "string") return answer;
  return { id: newId(), kind, text: asHtml(cells.Question), points, ...answer } as Question;
}

const titles: Record<Column, RegExp> = {
  Part: /^(part|section|heading)$/,
  "Asks for": /^(asks for|kind|type|question type)$/,
  Question: /^(question|text|stem|prompt)$/,
  Points: /^(points|marks|score|worth)$/,
  Right: /^(right|answer|answers|correct|key|accepted)$/,
  Away: /^(away|tolerance|±)$/,
  Unit: /^(unit|units)$/,
};

/** Questions out of a table; a part for each that is named, in order. */
export function readQuestionTable({ header, rows, lines }: TextTable, newId: () => string): ReadQuestions | string {
  const names = header.map((title) => fold(title.trim()));
  const placeOf = (column: Column) => names.findIndex((name) => titles[column].test(name));
  const places = Object.fromEntries(columns.map((column) => [column, placeOf(column)])) as Record<Column, number>;
  const choicePlaces = names.flatMap((name, at) => (/^(choice|option) ?\w*$/.test(name) ? [at] : []));
  if (places.Question < 0) return `There is no column "Question". Its columns are: ${header.join(", ")}.`;
  const quiz: Quiz = { ...blankQuiz, parts: [] };
  const troubles: ReadQuestions["troubles"] = [];
  for (const [at, row] of rows.entries()) {
    const cell = (column: Column) => row[places[column]] ?? "";
    const cells = Object.fromEntries(columns.map((column) => [column, cell(column)])) as Record<Column, string>;
    const choices = choicePlaces.map((place) => (row[place] ?? "").trim()).filter(Boolean);
    const question = questionOf({ ...cells, choices }, newId);
    if (typeof question === "string") troubles.push({ line: lines[at] ?? at + 2, says: `The question ${question}` });
    else partFor(quiz, cells.Part.trim(), newId).push(question);
  }
  return { quiz, troubles };
}

/** The questions of a part by its heading: of the last one where it goes on, and of a new one otherwise. */
function partFor(quiz: Quiz, title: string, newId: () => string): Question[] {
  const last = quiz.parts.at(-1);
  if (last?.title === title) return last.questions;
  const part = { id: newId(), title, draw: null, mixed: false, questions: [] as Question[] };
  quiz.parts.push(part);
  return part.questions;
}
