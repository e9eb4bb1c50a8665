/** The course as the workbench reads it, its audit, and a new course out of it. */
import { z } from "zod";
import { Piece } from "../core/plan/columns.ts";
import type { RowAfter } from "../core/plan/difference.ts";
import type { Progress } from "../core/plan/progress.ts";
import { rowSchemas } from "../core/plan/rows.ts";
import { Id, type Plan, StaffMay, type TableName, tableNames } from "../core/plan/types.ts";
import { findingKinds } from "../core/reach/audit/finding.ts";
import type { Report } from "../core/reach/audit/report.ts";
import { NewTerm } from "../core/rolling/roll-over.ts";
import { endpoint } from "./endpoint.ts";
import { MarkRow, Moment } from "./parts.ts";

const tableOf = (name: TableName) => [name, z.record(Id, rowSchemas[name])] as const;
/** The course, and every table of the plan by the ids of its rows. */
const PlanSchema = z.strictObject({
  course: rowSchemas.course,
  ...Object.fromEntries(tableNames.map(tableOf)),
}) as unknown as z.ZodType<Plan>;

/** What an instructor or support person was given, and may do by themselves. */
export const Given = z.strictObject({
  personId: Id,
  /** Groups that are theirs as a whole. */
  own: z.array(Id),
  sectionIds: z.array(Id),
  groupIds: z.array(Id),
  may: z.array(StaffMay),
  /** Who can give more, by name, the given name first. */
  coordinators: z.array(z.string()),
});
export type Given = z.infer<typeof Given>;

/** The published plan; `scope` is null for the coordinator. */
const WholePlan = z.strictObject({ revision: z.number().int(), plan: PlanSchema, scope: Given.nullable() });
const RowAfterSchema = z.strictObject({
  table: z.enum(["course", ...tableNames]),
  id: z.string(),
  after: z.looseObject({ id: z.string() }).nullable(),
}) satisfies z.ZodType<RowAfter>;
const PlanSteps = z.strictObject({ revision: z.number().int(), changes: z.array(RowAfterSchema) });

/** The published plan, or what changed in it since a revision. */
export const readPlan = endpoint("GET", "/plan", "staff", {
  isLong: true,
  says: "The published plan: all of it for the coordinator, for others on the staff what is within their scope.",
  query: z.object({
    /** A revision: what changed since is answered where it is not too much. For the coordinator. */
    after: z.coerce.number().int().optional(),
    /** Epoch milliseconds: the plan as it was published then. For the coordinator. */
    at: z.coerce.number().int().optional(),
  }),
  answer: z.union([WholePlan, PlanSteps]),
});
export type WholePlan = z.infer<typeof WholePlan>;

/** The same in columns, which are a fifth as long. */
export const readPlanInColumns = endpoint("GET", "/plan/columns", "staff", {
  isLong: true,
  isLight: true,
  says: "The published plan a column at a time, as a workbench begins with it.",
  answer: z.strictObject({
    revision: z.number().int(),
    scope: Given.nullable(),
    course: rowSchemas.course,
    pieces: z.array(Piece),
  }),
});

const HandInRow = z.strictObject({
  id: Id,
  personId: Id,
  itemId: Id,
  at: Moment,
  by: Id.optional(),
});
const OpeningRow = z.strictObject({ personId: Id, itemId: Id, at: Moment, readAt: Moment.nullable() });
const GroupMarkRow = z.strictObject({
  groupId: Id,
  itemId: Id,
  points: z.number().nullable(),
  excused: z.boolean(),
  at: Moment,
});
const ProgressSchema = z.strictObject({
  marks: z.array(MarkRow),
  handIns: z.array(HandInRow),
  openings: z.array(OpeningRow),
  groupMarks: z.array(GroupMarkRow),
}) satisfies z.ZodType<Progress>;

export const readProgress = endpoint("GET", "/progress", "staff", {
  isLong: true,
  says: "What people did in the course: marks, hand-ins, opened items.",
  answer: ProgressSchema,
});

export const readProgressInColumns = endpoint("GET", "/progress/columns", "staff", {
  isLong: true,
  isLight: true,
  says: "What people did in the course, a column at a time.",
  answer: z.strictObject({ pieces: z.array(Piece) }),
});

export const Station = z.enum(["intake", "placement", "reach", "timing", "gradebook", "review"]);
export const listen = endpoint("GET", "/live", "staff", {
  isLight: true,
  says: "What happens in the course, as server-sent events, as long as one listens.",
  query: z.object({ station: Station.catch("intake") }),
  gives: ["text/event-stream"],
});
export const beAt = endpoint("POST", "/live", "staff", {
  isLight: true,
  says: "Says at which station one is now.",
  body: z.object({ connection: Id, station: Station }),
  answer: z.strictObject({}),
});

const ReportSchema = z.strictObject({
  course: z.string(),
  term: z.string(),
  revision: z.number().int(),
  made: z.string(),
  students: z.number().int(),
  items: z.number().int(),
  totals: z.array(
    z.strictObject({
      kind: z.enum(findingKinds),
      name: z.string(),
      open: z.number().int(),
      accepted: z.number().int(),
    }),
  ),
  sightlines: z
    .strictObject({
      layer: z.string(),
      pairs: z.number().int(),
      possible: z.number().int(),
      surfaces: z.array(z.strictObject({ name: z.string(), pairs: z.number().int(), alone: z.number().int() })),
    })
    .nullable(),
  findings: z.array(
    z.strictObject({
      kind: z.enum(findingKinds),
      name: z.string(),
      subject: z.string(),
      says: z.string(),
      why: z.string(),
      since: z.string().nullable(),
      accepted: z.string().nullable(),
      students: z.array(z.strictObject({ id: z.string(), name: z.string() })),
    }),
  ),
}) satisfies z.ZodType<Report>;
export const readReport = endpoint("GET", "/audit", "coordinator", {
  says: "The audit of what is published, as JSON or CSV.",
  query: z.object({
    /** Between whose groups sightlines are counted. */
    layer: z.string().optional(),
    format: z.string().optional(),
  }),
  answer: ReportSchema,
  gives: ["text/csv"],
});

export const readPlanFile = endpoint("GET", "/plan-file", "coordinator", {
  says: "The published plan as a JSON file of its own format, described by /plan.schema.json.",
  gives: ["application/json"],
});
export const rollOver = endpoint("POST", "/roll-over", "coordinator", {
  isLarge: true,
  says: "Makes a new course out of this one's plan, or out of a plan that was saved, with the asker as its coordinator.",
  body: NewTerm.extend({
    id: z.uuid(),
    /** The text of a plan file; without it the course itself is rolled over. */
    file: z.string().max(100_000_000).optional(),
  }),
  answer: z.strictObject({ id: Id, left: z.array(z.string()) }),
  status: 201,
});
