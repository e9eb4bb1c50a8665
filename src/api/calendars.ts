/** Calendars as files, and the private addresses under which calendar programs read them. */
import { z } from "zod";
import { Id } from "../core/plan/types.ts";
import { endpoint } from "./endpoint.ts";
import { Moment } from "./parts.ts";

/** Private addresses of one calendar that one account may have: a phone, a computer, and some to spare. */
export const mostAddresses = 5;

/** Reminders that an address can ask for, in minutes before each entry. */
export const reminders = [
  { minutes: 60, says: "An hour before" },
  { minutes: 1440, says: "A day before" },
  { minutes: 2880, says: "Two days before" },
];

/** Whose calendar: a student's (or visitor's), what all of a group see, or all of the course. */
export const Whose = z.discriminatedUnion("kind", [
  z.object({ kind: z.enum(["student", "group"]), id: Id }),
  z.object({ kind: z.literal("staff") }),
]);
export type Whose = z.infer<typeof Whose>;
const CalendarAddress = z.strictObject({
  id: Id,
  kind: z.enum(["student", "group", "staff"]),
  /** For whom, as staff say it. */
  says: z.string(),
  madeAt: Moment,
  readAt: Moment.nullable(),
  /** Whether the asker made it. */
  own: z.boolean(),
});
export type CalendarAddress = z.infer<typeof CalendarAddress>;
export const readCalendars = endpoint("GET", "/calendars", "coordinator", {
  says: "The private addresses of the course; with `of`, a calendar as a file.",
  query: z.object({
    /** `staff`, `group/ID` or `student/ID`. */
    of: z.string().optional(),
  }),
  answer: z.array(CalendarAddress),
  gives: ["text/calendar"],
});
export const makeCalendarAddress = endpoint("POST", "/calendars", "coordinator", {
  says: "Makes a private address for a calendar.",
  body: Whose,
  answer: z.strictObject({ address: z.string() }),
  status: 201,
});
export const withdrawCalendarAddress = endpoint("DELETE", "/calendars/[address]", "coordinator", {
  says: "Withdraws a private address: it answers no more.",
  answer: z.array(CalendarAddress),
});
