/** What many rows of a plan are made of: ids, moments, days, titles. Source: semantics.md sections 1 and 6. */
import { validate } from "uuid";
import { z } from "zod";
import { isDay } from "../clock/local-time.ts";

/** A UUID in its one spelling, lower case: ids of courses, people and commands, and of all rows that are made here. */
export const isUuid = (text: string): boolean => validate(text) && text === text.toLowerCase();
/** Words that every object of the language knows: no row is looked up by them. */
const knownToAll = new Set(Object.getOwnPropertyNames(Object.prototype));
/** The id of a row: a UUID, or where a plan was written by hand a short name. */
export const Id = z
  .string()
  .regex(/^[0-9A-Za-z][\w -]{0,63}$/, "an id")
  .refine((id) => !knownToAll.has(id), "an id");
/** Years that a course may speak of: what lies beyond is a slip of the keyboard, and clocks there are guesses. */
const years = { from: "1970", to: "2199" };
const isSane = (text: string) =>
  isDay(text.slice(0, 10)) && text.slice(0, 4) >= years.from && text.slice(0, 4) <= years.to;
const saneDay = `a day that there is, from ${years.from} to ${years.to}`;
/** A wall-clock time without a zone, `2026-10-05T09:00`; the course's time zone says which instant it is. */
export const Wall = z
  .string()
  .regex(/^\d{4}-\d{2}-\d{2}T([01]\d|2[0-3]):[0-5]\d$/, "a date and time such as 2026-10-05T09:00")
  .refine(isSane, saneDay);
/** A calendar day, `2026-10-05`. */
export const Day = z
  .string()
  .regex(/^\d{4}-\d{2}-\d{2}$/, "a day such as 2026-10-05")
  .refine(isSane, saneDay);
export const Clock = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, "a time such as 09:00");
/** One line: a line end that came in by pasting or from a file is a space. */
export const Title = z
  .string()
  .overwrite((text) => text.replace(/\s*[\r\n\u2028\u2029]+\s*/g, " "))
  .trim()
  .min(1)
  .max(200);

/** Monday is 1, Sunday is 7. */
export const MeetingSlot = z.object({
  weekday: z.number().int().min(1).max(7),
  start: Clock,
  end: Clock,
  place: z.string().max(100).default(""),
});

export type MeetingSlot = z.infer<typeof MeetingSlot>;

/**
 * A date given as a class meeting: the nth, or the last one before a day; its start or end, plus or minus whole days,
 * optionally at a given time of day. Each section turns it into its own date. Source: semantics.md section 6.
 */
export const Anchor = z.object({
  meeting: z.union([z.number().int().min(1).max(1000), z.object({ lastBefore: Day })]),
  edge: z.enum(["start", "end"]),
  days: z.number().int().min(-365).max(365),
  time: Clock.nullable(),
  /** What holds where there is no such meeting; null: then there is no date. */
  fallback: Wall.nullable(),
});
/** When something is: a wall-clock time, or a meeting anchor. */
export const Moment = z.union([Wall, Anchor]);

export type Anchor = z.infer<typeof Anchor>;
export type Moment = z.infer<typeof Moment>;

/** When a section or a group has class: its pattern, and what is otherwise. Source: semantics.md section 6. */
export const MeetingDays = {
  pattern: z.array(MeetingSlot).max(30),
  noClassDays: z.array(Day).max(200),
  /** Meetings moved by hand: the one that the pattern puts on a day at a time takes place at another moment. */
  moved: z.array(z.object({ day: Day, start: Clock, to: Wall })).max(200),
  /** Meetings beside the pattern; they are counted among its own by when they begin. */
  added: z.array(z.object({ start: Wall, end: Clock, place: z.string().max(100) })).max(200),
};
