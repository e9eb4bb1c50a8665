/** What is decided of a course as a whole: its term, its settings, and what its staff may do by themselves. */

import { z } from "zod";
import { isTimeZone } from "../clock/local-time.ts";
import { Day, Id, Title } from "./basics.ts";
import { frozen } from "./frozen.ts";
import { Grading } from "./grading.ts";

/** Between groups a split item is sealed (own thread only), readable (others' cannot be answered) or shared. Section 4. */
export const Between = z.enum(["sealed", "readable", "shared"]);

/** Whose names a student finds on the class list. Source: semantics.md section 4. */
export const ClassList = z.discriminatedUnion("to", [
  z.object({ to: z.literal("everyone") }),
  z.object({ to: z.literal("nobody") }),
  z.object({ to: z.literal("layer"), layerId: Id }),
]);

export const NoClassDay = z.object({ day: Day, title: z.string().trim().max(100) });

/**
 * What a coordinator may allow: publishing what touches nobody outside the scope, changing who is in the groups given, and,
 * to support people, marking; instructors mark their students anyway.
 */
export const StaffMay = z.enum(["publish", "change members", "mark", "set allowances"]);

export const Course = z.object({
  id: Id,
  code: z.string().max(40),
  title: Title,
  term: z.string().max(80),
  termStart: Day,
  termEnd: Day,
  timeZone: z.string().max(60).refine(isTimeZone, "a time zone such as Europe/Dublin"),
  noClassDays: z.array(NoClassDay).max(200),
  datePolicy: z.enum(["most generous", "layer order"]),
  /** Layer ids, and `sections` where the order places them; layers left out come after, sections last. */
  layerOrder: z.array(z.string()),
  indexes: z.object({
    discussions: z.boolean(),
    files: z.boolean(),
    calendar: z.boolean(),
    work: z.boolean(),
  }),
  /** What somebody types to visit the course; null where nobody can. */
  visitorCode: z.string().trim().min(3).max(40).nullable(),
  classList: ClassList,
  /** Whether students may write to the instructors of their sections and groups. */
  mayWriteToStaff: z.boolean(),
  /** Whether whoever has a scope may hold their groups against all other students, as sums of at least five. */
  mayCompareWithOthers: z.boolean(),
  /** Words that tell a level or a need: a label that holds one is warned of. */
  tellingWords: z.array(z.string().trim().min(2).max(60)).max(300),
  /** How split items are split, where that is decided once; locked: no item may be split otherwise. */
  splitting: z.object({ layerId: Id, between: Between, locked: z.boolean() }).nullable(),
  /** The layer whose groups' own patterns say when a student meets; null: sections' only. */
  meetingLayerId: Id.nullable(),
  /** By how many percent the working time of groups may differ before the audit asks. */
  unequalShare: z.number().int().min(0).max(100),
  grading: Grading,
  /** What instructors and support people may do by themselves, by person. Source: semantics.md section 9. */
  staffMay: z.record(Id, z.array(StaffMay).max(StaffMay.options.length)),
});

/** A course's settings before anything is decided. */
export const blankCourse = frozen({
  noClassDays: [],
  datePolicy: "most generous" as const,
  layerOrder: [],
  indexes: { discussions: true, files: true, calendar: true, work: true },
  visitorCode: null,
  classList: { to: "everyone" as const },
  mayWriteToStaff: false,
  mayCompareWithOthers: false,
  tellingWords: [
    "remedial",
    "support",
    "special needs",
    "intervention",
    "catch-up",
    "weak",
    "slow",
    "low ability",
    "high ability",
    "gifted",
    "advanced",
    "basic",
    "foundation",
    "dyslexia",
    "disability",
    "extra time",
    "repeat",
    "probation",
  ],
  splitting: null,
  meetingLayerId: null,
  unequalShare: 25,
  grading: { categories: [], missingIsZero: false, scale: [] },
  staffMay: {},
});

export type Between = z.infer<typeof Between>;
export type ClassList = z.infer<typeof ClassList>;
export type StaffMay = z.infer<typeof StaffMay>;
export type Course = z.infer<typeof Course>;
