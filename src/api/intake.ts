/** Rosters taken in, the registrar's service, and the institution's directory. */
import { z } from "zod";
import type { TextTable } from "../core/formats/text-table.ts";
import { ColumnMatch } from "../core/intake/columns.ts";
import { PersonCard } from "../core/intake/commands.ts";
import { verdicts } from "../core/intake/verdict.ts";
import { Id, Role } from "../core/plan/types.ts";
import { endpoint } from "./endpoint.ts";
import { Moment } from "./parts.ts";

const Text = z.string().max(1000);
const Row = z.object({
  file: Text,
  line: z.number().int(),
  sourcedId: Text,
  username: Text,
  email: Text,
  givenName: Text,
  familyName: Text,
  sectionCode: Text,
  sectionTitle: Text,
  meets: Text,
  role: Role,
  attributes: z.record(z.string(), Text),
  problem: z.string().nullable(),
});
/** How many rows came to each verdict. */
const Counts = z.record(z.enum(verdicts), z.number().int());
const PastIntake = z.strictObject({
  id: Id,
  at: Moment,
  by: z.string(),
  files: z.array(z.string()),
  counts: Counts.and(z.object({ missing: z.number().int(), written: z.number().int() })),
  undoneAt: Moment.nullable(),
  undoneBy: z.string().nullable(),
});
export type PastIntake = z.infer<typeof PastIntake>;
/** An applied intake as it was looked at, row by row. */
const LookedAt = z.strictObject({
  rows: z.array(
    z.strictObject({
      file: z.string(),
      line: z.number().int(),
      verdict: z.enum(verdicts),
      says: z.string(),
      name: z.string(),
      sourcedId: z.string(),
      sectionCode: z.string(),
    }),
  ),
  missing: z.array(z.strictObject({ name: z.string(), sourcedId: z.string() })),
});
export type LookedAt = z.infer<typeof LookedAt>;

export const readIntakes = endpoint("GET", "/intake", "coordinator", {
  says: "What was taken in, the latest first, and how the columns of files were matched by hand.",
  answer: z.strictObject({ intakes: z.array(PastIntake), matches: z.record(z.string(), ColumnMatch) }),
});
export const applyIntake = endpoint("POST", "/intake", "coordinator", {
  isLarge: true,
  says: "Takes rows in that were looked at, all of them or none, and once however often it is sent.",
  body: z.object({
    intakeId: Id,
    /** The revision that was looked at. */
    revision: z.number().int(),
    rows: z.array(Row).max(200_000),
    options: z.object({
      partial: z.boolean(),
      acceptedSections: z.array(Text),
      chosen: z.array(Text),
      samePeople: z.record(z.string(), Text.nullable()),
      /** What a list that holds only what changed names as ended; null of whole lists. */
      changesOnly: z
        .object({ ended: z.array(z.object({ sourcedId: Text, sectionCode: Text })).max(200_000) })
        .nullable()
        .default(null),
    }),
    sectionLayer: z.string().trim().min(1).max(200).nullable(),
    files: z.array(Text).max(200),
    /** The pulled roster that this is, where it is one. */
    pullId: Id.nullable(),
    /** Column matches that a person made. */
    remember: z.array(z.object({ header: z.array(Text), match: ColumnMatch })).max(200),
  }),
  answer: z.strictObject({
    applied: z.literal(true),
    revision: z.number().int(),
    counts: Counts,
    missing: z.number().int(),
    written: z.number().int(),
  }),
});
export const openIntake = endpoint("GET", "/intake/[intake]", "coordinator", {
  says: "An applied intake, row by row as it was looked at.",
  answer: LookedAt,
});
export const undoIntake = endpoint("DELETE", "/intake/[intake]", "coordinator", {
  says: "Takes an intake back whole, or says what depends on it.",
  answer: z.strictObject({ undone: z.literal(true), revision: z.number().int() }),
});

const FeedSettings = z.object({
  /** Ids of the registrar's classes that make up the course. */
  classes: z.array(z.string().min(1).max(200)).max(500),
  /** Wall-clock time in the course's time zone, or null: on a press only. */
  nightlyAt: z
    .string()
    .regex(/^([01]\d|2[0-3]):[0-5]\d$/, "a time such as 02:30")
    .nullable(),
  appliesItself: z.boolean(),
  /** With more of its students leaving than this, a roster waits. */
  leavingPercent: z.number().min(0).max(100),
  /** With more joining, in per cent of its students, a roster waits. */
  joiningPercent: z.number().min(0).max(1000).default(25),
});
const Pull = z.strictObject({
  id: Id,
  at: Moment,
  state: z.enum(["waiting", "applied", "put away", "failed"]),
  says: z.string(),
});
export type FeedSettings = z.infer<typeof FeedSettings>;
export type Pull = z.infer<typeof Pull>;
const Feed = z.strictObject({
  /** Whether a registrar's service is configured. */
  available: z.boolean(),
  feed: FeedSettings.nullable(),
  pulls: z.array(Pull),
  classes: z.array(z.strictObject({ id: z.string(), code: z.string(), title: z.string(), meets: z.string() })),
  /** Why the classes could not be fetched. */
  trouble: z.string().nullable(),
});
export type Feed = z.infer<typeof Feed>;
export const readFeed = endpoint("GET", "/feed", "coordinator", {
  says: "How the registrar's feed is set, the classes to choose from, and the latest pulls.",
  answer: Feed,
});
export const setFeed = endpoint("POST", "/feed", "coordinator", {
  says: "Sets the registrar's feed.",
  body: FeedSettings,
  answer: z.strictObject({ feed: FeedSettings.nullable() }),
});
export const pullRoster = endpoint("POST", "/pulls", "coordinator", {
  says: "Pulls the registrar's roster now.",
  answer: Pull,
});
const Table = z.looseObject({
  name: z.string(),
  header: z.array(z.string()),
  rows: z.array(z.array(z.string())),
  lines: z.array(z.number().int()),
  sheet: z.string().optional(),
});
export const openPull = endpoint("GET", "/pulls/[pull]", "coordinator", {
  says: "The roster of a pull that waits, as a table.",
  answer: Table as unknown as z.ZodType<TextTable>,
});
export const putPullAway = endpoint("DELETE", "/pulls/[pull]", "coordinator", {
  says: "Puts a pulled roster away; again is the same as once.",
  answer: z.strictObject({ putAway: z.boolean() }),
});
export const searchDirectory = endpoint("GET", "/directory", "coordinator", {
  says: "People of the institution by a part of their name, login or id.",
  query: z.object({ find: z.string().default("") }),
  answer: z.strictObject({ people: z.array(PersonCard) }),
});
