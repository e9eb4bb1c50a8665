/** What an institution is set up with: by a page, or by a JSON file of the same shape (`/set-up.schema.json`). */
import { z } from "zod";
import { daysBetween, isTimeZone, longestTerm } from "../core/clock/local-time.ts";
import { Day, Title } from "../core/plan/basics.ts";
import { NoClassDay } from "../core/plan/course.ts";
import { hourChoices, locales } from "../core/text/locale.ts";
import { loginOf } from "../core/text/logins.ts";

export const Locale = z.enum(locales).describe("In whose way dates and numbers are written, and names are sorted.");
export const Hours = z.enum(hourChoices).describe("Of a clock: as is usual in that locale, or always 12 or 24.");

export const Institution = z.object({
  name: Title.describe("What the institution is called: it stands on the sign-in page."),
  timeZone: z
    .string()
    .max(60)
    .refine(isTimeZone, "a time zone such as Europe/Dublin")
    .describe("The time zone that new courses begin with."),
  locale: Locale.default("en-GB"),
  hours: Hours.default("usual"),
});

export const Term = z
  .object({
    name: Title.max(80),
    starts: Day.describe("The first day."),
    ends: Day.describe("The last day."),
    noClassDays: z.array(NoClassDay).max(200).default([]),
    workUntil: Day.nullable()
      .default(null)
      .describe("The last day on which words and files of students are kept; null: until somebody says otherwise."),
    coursesUntil: Day.nullable()
      .default(null)
      .describe("The last day on which its courses are kept at all; null: until somebody says otherwise."),
  })
  .refine(({ starts, ends }) => starts < ends, { error: "the term ends before it begins", path: ["ends"] })
  .refine(({ starts, ends }) => daysBetween(starts, ends) <= longestTerm, {
    error: "a term is at most two years long",
    path: ["ends"],
  })
  .refine(({ ends, workUntil }) => workUntil === null || workUntil >= ends, {
    error: "what students do is kept at least until the term ends",
    path: ["workUntil"],
  })
  .refine(({ ends, workUntil, coursesUntil }) => coursesUntil === null || coursesUntil >= (workUntil ?? ends), {
    error: "courses are kept at least as long as the term, and what students did in it",
    path: ["coursesUntil"],
  });

const Name = z.string().trim().min(1, "a name").max(100);
export const Username = z
  .string()
  .trim()
  .min(2, "at least two characters")
  .max(100)
  .refine((text) => loginOf(text) !== null, "a username without signs that nobody sees");
export const Email = z.email("an e-mail address").max(200);
/** An account as somebody makes it by hand. */
export const NewAccount = z.object({
  username: Username,
  givenName: Name,
  familyName: Name,
  email: Email,
  sourcedId: z
    .string()
    .trim()
    .max(100)
    .default("")
    .describe("The registrar's id, where the person is known there; left empty, one is made of the username."),
});

export const SetUp = z.object({
  $schema: z.string().optional(),
  institution: Institution,
  terms: z.array(Term).min(1, "at least one term").max(50),
  administrators: z
    .array(
      NewAccount.extend({
        password: z.string().max(1000).optional().describe("Left out, they are sent an address to choose one."),
      }),
    )
    .min(1, "at least one administrator")
    .max(50),
});

export type Institution = z.infer<typeof Institution>;
export type Term = z.infer<typeof Term>;
export type NewAccount = z.infer<typeof NewAccount>;
export type SetUp = z.infer<typeof SetUp>;
