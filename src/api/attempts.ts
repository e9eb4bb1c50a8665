/** What is sent and answered about attempts: by whoever works on one, and by staff. */
import { z } from "zod";
import { type Answer, ChosenAnswer, TypedAnswer } from "../core/attempts/marking.ts";
import { Id } from "../core/plan/types.ts";
import { endpoint } from "./endpoint.ts";
import { Moment } from "./parts.ts";

/**
 * An answer as a page sends it: chosen or typed. A file is no such answer: it is sent itself, by a form, so that nobody
 * names one that is not theirs.
 */
const SentAnswer = z.object({
  questionId: z.string().min(1).max(100),
  answer: z.union([TypedAnswer, ChosenAnswer]),
  sequence: z.number().int().min(1).max(1_000_000_000),
});
/** An answer on its way: `sequence` is one more than that of the answer which it replaces. */
export type NewAnswer = Omit<z.infer<typeof SentAnswer>, "answer"> & { answer: Answer };

/** What a student's page sends, every second at most; without answers it asks how things stand. */
export const SentAnswers = z.object({ attemptId: z.uuid(), answers: z.array(SentAnswer).max(500) });

export interface SavedAnswers {
  /** By question the sequence of what stands now. */
  sequences: Record<string, number>;
  /** Answers that were given elsewhere meanwhile, and stand; by question. */
  elsewhere: Record<string, { answer: Answer; sequence: number }>;
  /** Epoch milliseconds; null: no end by the clock. */
  endsAt: number | null;
  now: number;
  /** Whether the attempt is over: then nothing more is kept. */
  over: boolean;
}

const Points = z.number().min(0).max(1000).nullable();
const AttemptRow = z.strictObject({
  id: Id,
  /** A student, or the group whose it is. */
  holderId: Id,
  isGroup: z.boolean(),
  number: z.number().int(),
  begunAt: Moment,
  /** By the clock; null: no end. */
  endsAt: Moment.nullable(),
  endedAt: Moment.nullable(),
  endedHow: z.enum(["handed in", "time", "staff", "void"]).nullable(),
  extraMinutes: z.number().int(),
  /** Why staff ended it or made it void. */
  reason: z.string(),
  /** When its browser was last heard of. */
  seenAt: Moment,
  /** How many questions it was asked. */
  asked: z.number().int(),
  answered: z.number().int(),
  /** What it earned as a mark of the column; null while something is to be marked. */
  points: z.number().nullable(),
});
export type AttemptRow = z.infer<typeof AttemptRow>;
const QuestionRow = z.strictObject({
  id: z.string(),
  kind: z.enum(["one", "several", "number", "short", "long", "file"]),
  /** In words. */
  text: z.string(),
  points: z.number(),
  choices: z.array(z.strictObject({ id: z.string(), text: z.string(), right: z.boolean() })),
});
export type QuestionRow = z.infer<typeof QuestionRow>;
const AttemptRows = z.strictObject({ now: Moment, attempts: z.array(AttemptRow) });
export type AttemptRows = z.infer<typeof AttemptRows>;
const EarnedRow = z.strictObject({
  attemptId: Id,
  /** By question what it earned; null: to be marked. */
  earned: z.record(z.string(), z.number().nullable()),
  /** By question the choices that were ticked. */
  chosen: z.record(z.string(), z.array(z.string())),
});
export type EarnedRow = z.infer<typeof EarnedRow>;
const QuestionRows = z.strictObject({ questions: z.array(QuestionRow), earned: z.array(EarnedRow) });
export type QuestionRows = z.infer<typeof QuestionRows>;

export const readAttempts = endpoint("GET", "/attempts/[item]", "staff", {
  isLong: true,
  says: "How the attempts on an item stand, of whoever is in one's scope.",
  answer: AttemptRows,
});
export const readQuestions = endpoint("GET", "/attempts/[item]/questions", "staff", {
  isLong: true,
  says: "The questions of an item, and what each attempt that ended earned by them, of whoever is in one's scope.",
  answer: QuestionRows,
});

const Minutes = z.number().int().min(1).max(10_000);
const Act = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("more time"), minutes: Minutes }),
  z.object({ kind: z.literal("end") }),
  z.object({ kind: z.literal("reopen"), minutes: Minutes }),
  z.object({ kind: z.literal("void"), reason: z.string().trim().min(1).max(500) }),
]);
export type AttemptAct = z.infer<typeof Act>;
export const actOnAttempts = endpoint("POST", "/attempts/[item]", "staff", {
  says: "Gives attempts that run more time, ends them, opens those that ended again, or makes some as if they had not been.",
  body: z.object({ attemptIds: z.array(Id).min(1).max(5000), act: Act }),
  /** Of how many it was so; the others ran, or had ended, already. */
  answer: z.strictObject({ done: z.number().int() }),
});

const AnswerRow = z.strictObject({
  attemptId: Id,
  holderId: Id,
  number: z.number().int(),
  questionId: z.string(),
  kind: QuestionRow.shape.kind,
  text: z.string(),
  worth: z.number(),
  /** In words; empty where nothing was answered. */
  answer: z.string(),
  file: z.strictObject({ id: Id, name: z.string(), size: z.number() }).nullable(),
  /** What is right, in words. */
  right: z.string(),
  earned: Points,
  /** Whether a person gave these points. */
  byHand: z.boolean(),
});
export type AnswerRow = z.infer<typeof AnswerRow>;
export const readAnswers = endpoint("GET", "/attempts/[item]/answers", "staff", {
  isLong: true,
  says: "The answers of attempts that ended: of one student or group, or to one question.",
  query: z.object({ holder: Id.optional(), question: z.string().max(100).optional() }),
  answer: z.array(AnswerRow),
});
export const markAnswers = endpoint("POST", "/attempts/[item]/answers", "staff", {
  says: "Gives points to answers, or takes them back; the marks of the column follow.",
  body: z.object({
    marks: z
      .array(z.object({ attemptId: Id, questionId: z.string().max(100), points: Points }))
      .min(1)
      .max(5000),
  }),
  answer: z.strictObject({ stored: z.number().int() }),
});

const Anew = z.strictObject({
  attemptId: Id,
  holderId: Id,
  number: z.number().int(),
  before: z.number().nullable(),
  after: z.number().nullable(),
});
export const markAnew = endpoint("POST", "/attempts/[item]/anew", "staff", {
  says: "Marks attempts that ended by what is called right now. Without keeping, only what would change is told.",
  body: z.object({ keep: z.boolean() }),
  answer: z.array(Anew),
});
export type Anew = z.infer<typeof Anew>;

const Running = z.array(z.strictObject({ itemId: Id, count: z.number().int() }));
export type Running = z.infer<typeof Running>;
export const readRunning = endpoint("GET", "/attempts", "staff", {
  says: "How many attempts run now, by item, of whoever is in one's scope.",
  answer: Running,
});
