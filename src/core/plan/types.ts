/**
 * The plan: everything a coordinator decides about a course, as one value.
 *
 * Rows are plain objects keyed by id, one table a concept, so that the difference between two plans is a list
 * of rows (difference.ts) and a command (command.ts) is a small change to a few of them.
 * Instants are epoch milliseconds. Dates people type are wall-clock strings in the course's time zone.
 * Source: semantics.md sections 1 to 6.
 */

import { z } from "zod";
import { Id, MeetingDays, Moment, Title } from "./basics.ts";
import { Between, type Course } from "./course.ts";
import { frozen } from "./frozen.ts";
import type { Group, Layer, NamedSet, Placement } from "./groups.ts";
import { Quiz } from "./questions.ts";

export { Anchor, Day, Id, MeetingSlot, Moment, Wall } from "./basics.ts";
export * from "./course.ts";
export * from "./groups.ts";

/** Who or what an audience, an override or a condition names. */
export const Target = z.object({ kind: z.enum(["group", "section", "person", "set"]), id: Id });

/** `everyone` means whoever the folder is for; an empty list is nobody. Source: semantics.md section 4. */
export const Audience = z.object({
  to: z.union([z.literal("everyone"), z.array(Target).max(5000)]),
  minus: z.array(Target).max(5000),
});

const Percent = z.number().min(0).max(1000);
/** A release condition. Source: semantics.md section 5. */
export type Condition =
  | { kind: "allOf" | "anyOf" | "noneOf"; of: Condition[] }
  | { kind: "from" | "before"; moment: Moment }
  | { kind: "in"; targets: Target[] }
  | { kind: "atLeast" | "lessThan"; itemId: string; percent: number }
  | { kind: "handedIn" | "opened" | "read"; itemId: string };
const AnyCondition: z.ZodType<Condition> = z.lazy(() =>
  z.union([
    z.object({ kind: z.enum(["allOf", "anyOf", "noneOf"]), of: z.array(AnyCondition).max(100) }),
    z.object({ kind: z.enum(["from", "before"]), moment: Moment }),
    z.object({ kind: z.literal("in"), targets: z.array(Target).max(500) }),
    z.object({ kind: z.enum(["atLeast", "lessThan"]), itemId: Id, percent: Percent }),
    z.object({ kind: z.enum(["handedIn", "opened", "read"]), itemId: Id }),
  ]),
);
/** How many conditions stand within each other at most: nobody reads more, and each is a step for every student. */
export const deepestCondition = 10;
const isShallow = (condition: Condition, left = deepestCondition): boolean =>
  left > 0 && (!("of" in condition) || condition.of.every((one) => isShallow(one, left - 1)));
export const Condition = AnyCondition.refine(
  (condition) => isShallow(condition),
  `at most ${deepestCondition} conditions within each other`,
);

const None = z.literal("none");
/** An absent field is unset; `none` is the explicit "no limit". Source: semantics.md section 6. */
export const DateFields = z.object({
  opens: z.union([Moment, None]).optional(),
  due: z.union([Moment, None]).optional(),
  closes: z.union([Moment, None]).optional(),
  attempts: z.union([z.number().int().min(1).max(1000), None]).optional(),
  minutes: z.union([z.number().int().min(1).max(100_000), None]).optional(),
  accessWord: z.union([z.string().min(1).max(100), None]).optional(),
});

export const Section = z.object({
  id: Id,
  code: z.string().trim().min(1).max(60),
  title: Title,
  studentTitle: Title,
  ...MeetingDays,
});

export const Person = z.object({
  id: Id,
  /** The registrar's id, kept as text: leading zeros stay. */
  sourcedId: z.string().min(1).max(100),
  username: z.string().max(100).nullable(),
  email: z.string().max(200).nullable(),
  givenName: z.string().max(100),
  familyName: z.string().max(100),
  attributes: z.record(z.string(), z.string()),
});

export const Role = z.enum(["coordinator", "instructor", "support", "visitor", "student"]);
/** Those who teach or help, the strongest first. */
export const staffRoles = ["coordinator", "instructor", "support"] as const satisfies Role[];
export type StaffRole = (typeof staffRoles)[number];
export const isStaffRole = (role: Role): role is StaffRole => (staffRoles as readonly Role[]).includes(role);

export const Enrolment = z.object({
  id: Id,
  personId: Id,
  sectionId: Id.nullable(),
  role: Role,
  since: z.number(),
  until: z.number().nullable(),
  origin: z.enum(["roster", "hand", "code"]),
  /** True where somebody chose this section as the home of a double-enrolled student. */
  home: z.boolean(),
});

export const ItemKind = z.enum(["folder", "page", "file", "link", "discussion", "assignment", "quiz", "event"]);

export const Item = z.object({
  id: Id,
  parentId: Id.nullable(),
  position: z.number(),
  kind: ItemKind,
  title: Title,
  body: z.string().max(100_000),
  published: z.boolean(),
  /** Folders only: true for a sealing folder, false for one that hides nothing by itself. */
  seals: z.boolean(),
  audience: Audience,
  condition: Condition.nullable(),
  variants: z.array(z.object({ targets: z.array(Target), condition: Condition.nullable() })),
  /** True: announced (title and what is needed are shown before it opens); false: veiled. */
  announced: z.boolean(),
  readableAfterClose: z.boolean(),
  /** Points the item can earn; null where it carries no mark. */
  points: z.number().positive().max(100_000).nullable(),
  /** The category of the course that its marks belong to; null: none. */
  categoryId: Id.nullable(),
  dates: DateFields,
  split: z.object({ layerId: Id, between: Between }).nullable(),
  /** Split assignments and quizzes: whether only a lead of the group hands in. */
  leadHandsIn: z.boolean(),
  /** Quizzes only: what is asked, how attempts count, and when answers are shown; null: nothing is asked yet. */
  quiz: Quiz.nullable(),
  /** Files only: what was stored. Size in bytes. */
  file: z.object({ id: Id, name: z.string().min(1).max(200), type: z.string().max(100), size: z.number() }).nullable(),
  /** Folders only: the group whose page this is. */
  pageOf: Id.nullable(),
  /** Staff who own it and may change it beside the coordinator. Source: semantics.md section 9. */
  owners: z.array(Id).max(50),
  /** Items that were made into this one: their marks, hand-ins, posts and openings are its own. */
  combines: z.array(z.object({ itemId: Id, groupIds: z.array(Id) })).max(500),
});

/** An item as it is before anything is decided: for everyone, announced, without dates, marks or conditions. */
export const blankItem: Omit<z.infer<typeof Item>, "id" | "parentId" | "position" | "kind" | "title"> = frozen({
  body: "",
  published: true,
  seals: true,
  audience: { to: "everyone", minus: [] },
  condition: null,
  variants: [],
  announced: true,
  readableAfterClose: true,
  points: null,
  categoryId: null,
  dates: {},
  split: null,
  leadHandsIn: false,
  quiz: null,
  file: null,
  pageOf: null,
  owners: [],
  combines: [],
});

/** An extra entrance: the item can be opened from this folder too (null: from the top of the outline). */
export const Entrance = z.object({
  id: Id,
  itemId: Id,
  folderId: Id.nullable(),
  position: z.number(),
});

export const Override = z.object({ id: Id, itemId: Id, target: Target, dates: DateFields });

export const Allowance = z.object({
  id: Id,
  target: Target,
  /** An exact decimal such as `1.5`, or null. */
  minutesFactor: z
    .string()
    .regex(/^\d{1,2}(\.\d{1,4})?$/)
    .nullable(),
  extraDays: z.number().int().min(0).max(365).nullable(),
  extraAttempts: z.number().int().min(0).max(100).nullable(),
});

/** A finding of the audit that somebody looked at and let stand; it is quiet until what it says changes. Section 4. */
export const Acceptance = z.object({
  id: Id,
  /** What the finding is about, and what it said then. */
  finding: z.string().max(300),
  state: z.string().max(64),
  reason: z.string().trim().min(1).max(500),
  at: z.number(),
});

export type Target = z.infer<typeof Target>;
export type Audience = z.infer<typeof Audience>;
export type DateFields = z.infer<typeof DateFields>;
export type DateField = keyof DateFields;
export type Section = z.infer<typeof Section>;
export type Person = z.infer<typeof Person>;
export type Role = z.infer<typeof Role>;
export type Enrolment = z.infer<typeof Enrolment>;
export type ItemKind = z.infer<typeof ItemKind>;
export type Item = z.infer<typeof Item>;
export type Entrance = z.infer<typeof Entrance>;
export type Override = z.infer<typeof Override>;
export type Allowance = z.infer<typeof Allowance>;

export type Acceptance = z.infer<typeof Acceptance>;

export type Table<Row> = Record<string, Row>;

export interface Plan {
  course: Course;
  sections: Table<Section>;
  people: Table<Person>;
  enrolments: Table<Enrolment>;
  layers: Table<Layer>;
  groups: Table<Group>;
  sets: Table<NamedSet>;
  placements: Table<Placement>;
  items: Table<Item>;
  entrances: Table<Entrance>;
  overrides: Table<Override>;
  allowances: Table<Allowance>;
  acceptances: Table<Acceptance>;
}

/** The tables of a plan, parents before children: the order in which rows may be written. */
export const tableNames = [
  "sections",
  "people",
  "enrolments",
  "layers",
  "groups",
  "sets",
  "placements",
  "items",
  "entrances",
  "overrides",
  "allowances",
  "acceptances",
] as const;
export type TableName = (typeof tableNames)[number];

/** A plan with a course and nothing in it. */
export function emptyPlan(course: Course): Plan {
  const tables = Object.fromEntries(tableNames.map((name) => [name, {}])) as Record<TableName, Record<string, never>>;
  return { course, ...tables };
}
