/**
 * The plan: everything a coordinator decides about a course, as one value.
 *
 * Rows are plain objects keyed by id, one table a concept, so that the difference between two plans is a list
 * of rows (difference.ts) and a command (command.ts) is a small change to a few of them.
 * Instants are epoch milliseconds. Dates people type are wall-clock strings in the course's time zone.
 * Source: semantics.md sections 1 to 6.
 */
import { z } from "zod";
import { Forming } from "../placement/forming/wishes.ts";

export const Id = z.string().min(1).max(64);
/** A wall-clock time without a zone, `2026-10-05T09:00`; the course's time zone says which instant it is. */
export const Wall = z.string().regex(/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/, "a date and time such as 2026-10-05T09:00");
/** A calendar day, `2026-10-05`. */
export const Day = z.string().regex(/^\d{4}-\d{2}-\d{2}$/, "a day such as 2026-10-05");
const Clock = z.string().regex(/^\d{2}:\d{2}$/, "a time such as 09:00");
const Title = z.string().trim().min(1).max(200);

/** Monday is 1, Sunday is 7. */
export const MeetingSlot = z.object({
  weekday: z.number().int().min(1).max(7),
  start: Clock,
  end: Clock,
  place: z.string().max(100).default(""),
});

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
  | { kind: "from" | "before"; moment: string }
  | { kind: "in"; targets: Target[] }
  | { kind: "atLeast" | "lessThan"; itemId: string; percent: number }
  | { kind: "handedIn" | "opened" | "read"; itemId: string };
export const Condition: z.ZodType<Condition> = z.lazy(() =>
  z.union([
    z.object({ kind: z.enum(["allOf", "anyOf", "noneOf"]), of: z.array(Condition).max(100) }),
    z.object({ kind: z.enum(["from", "before"]), moment: Wall }),
    z.object({ kind: z.literal("in"), targets: z.array(Target).max(500) }),
    z.object({ kind: z.enum(["atLeast", "lessThan"]), itemId: Id, percent: Percent }),
    z.object({ kind: z.enum(["handedIn", "opened", "read"]), itemId: Id }),
  ]),
);

const None = z.literal("none");
/** An absent field is unset; `none` is the explicit "no limit". Source: semantics.md section 6. */
export const DateFields = z.object({
  opens: z.union([Wall, None]).optional(),
  due: z.union([Wall, None]).optional(),
  closes: z.union([Wall, None]).optional(),
  attempts: z.union([z.number().int().min(1).max(1000), None]).optional(),
  minutes: z.union([z.number().int().min(1).max(100_000), None]).optional(),
  accessWord: z.union([z.string().min(1).max(100), None]).optional(),
});

export const NoClassDay = z.object({ day: Day, title: z.string().trim().max(100) });

export const Course = z.object({
  id: Id,
  code: z.string().max(40),
  title: Title,
  term: z.string().max(80),
  termStart: Day,
  termEnd: Day,
  timeZone: z.string().max(60),
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
});

export const Section = z.object({
  id: Id,
  code: z.string().trim().min(1).max(60),
  title: Title,
  studentTitle: Title,
  pattern: z.array(MeetingSlot).max(30),
  noClassDays: z.array(Day).max(200),
  /** Meetings moved by hand: the one that the pattern puts on a day at a time takes place at another moment. */
  moved: z.array(z.object({ day: Day, start: Clock, to: Wall })).max(200),
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

/** One line of the ordered list by which a layer follows sections. Source: semantics.md section 3. */
export const PlacementRule = z.object({
  sectionIds: z.array(Id),
  attribute: z
    .object({
      column: z.string(),
      test: z.enum(["is", "starts with", "is between"]),
      values: z.array(z.string()).min(1).max(2),
    })
    .nullable(),
  groupId: Id,
});

/** How students place themselves. Source: semantics.md section 3. */
export const SelfPlacement = z.object({
  /** From this moment, before that one; null: at once, without end. */
  opens: Wall.nullable(),
  closes: Wall.nullable(),
  by: z.enum(["choice", "code"]),
  /** What students are told, as HTML of a few elements. */
  help: z.string().max(20_000),
  /** Whether students see the names of a group's members before they choose. */
  showNames: z.boolean(),
});

export const Layer = z.object({
  id: Id,
  position: z.number(),
  name: Title,
  rule: z.enum(["exactly one", "at most one", "any number"]),
  private: z.boolean(),
  /** Null where the layer does not follow sections. */
  following: z.array(PlacementRule).nullable(),
  /** Sets of people of whom no two belong in one group. */
  keepApart: z.array(z.array(Id)),
  /** What its groups were formed from, to form again and to place late arrivals; null where they were not. */
  forming: Forming.nullable(),
  /** How students place themselves; null where they do not. */
  selfPlacement: SelfPlacement.nullable(),
  /** When it was put away: its groups are then kept for what was, and offered nowhere. */
  archivedAt: z.number().nullable(),
});

/** Colour and pattern are numbers of the kit's twelve colours and eight patterns. */
export const Stripe = z.object({
  colour: z.number().int().min(0).max(11),
  pattern: z.number().int().min(0).max(7),
  mark: z.string().trim().min(1).max(3),
});

export const Group = z.object({
  id: Id,
  layerId: Id,
  position: z.number(),
  name: Title,
  label: Title,
  stripe: Stripe,
  min: z.number().int().min(0).nullable(),
  max: z.number().int().min(1).nullable(),
  description: z.string().max(2000),
  /** Members who may hand in for the group. */
  leads: z.array(Id).max(50),
  /** The group of another layer whose people it was formed from; null: of everyone. */
  scopeGroupId: Id.nullable(),
  /** What a student types to be placed here; unique in the course, compared without case. */
  code: z.string().trim().min(3).max(40).nullable(),
  /** When it meets, where the registrar did not divide its people into sections. */
  pattern: z.array(MeetingSlot).max(30),
  /** When it was put away; from then on nobody is in it. */
  archivedAt: z.number().nullable(),
});

/** Groups of any layers under one name, which stands wherever a group can. Source: semantics.md section 3. */
export const NamedSet = z.object({ id: Id, name: Title, groupIds: z.array(Id).max(1000) });

/** A group before anything is said of it. */
export const blankGroup = {
  min: null,
  max: null,
  description: "",
  leads: [],
  scopeGroupId: null,
  code: null,
  pattern: [],
  archivedAt: null,
};
/** A layer before anything is said of it. */
export const blankLayer = {
  private: false,
  following: null,
  keepApart: [],
  forming: null,
  selfPlacement: null,
  archivedAt: null,
};

export const Placement = z.object({
  id: Id,
  groupId: Id,
  personId: Id,
  since: z.number(),
  until: z.number().nullable(),
  held: z.boolean(),
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
  /** Folders only: true for a sealing folder, false for a doorway. */
  seals: z.boolean(),
  audience: Audience,
  condition: Condition.nullable(),
  variants: z.array(z.object({ targets: z.array(Target), condition: Condition.nullable() })),
  /** True: announced (title and what is needed are shown before it opens); false: veiled. */
  announced: z.boolean(),
  readableAfterClose: z.boolean(),
  /** Points the item can earn; null where it carries no mark. */
  points: z.number().positive().max(100_000).nullable(),
  dates: DateFields,
  split: z.object({ layerId: Id, between: z.enum(["sealed", "readable", "shared"]) }).nullable(),
});

/** An item as it is before anything is decided: for everyone, announced, without dates, marks or conditions. */
export const blankItem: Omit<z.infer<typeof Item>, "id" | "parentId" | "position" | "kind" | "title"> = {
  body: "",
  published: true,
  seals: true,
  audience: { to: "everyone", minus: [] },
  condition: null,
  variants: [],
  announced: true,
  readableAfterClose: true,
  points: null,
  dates: {},
  split: null,
};

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

export type SelfPlacement = z.infer<typeof SelfPlacement>;
export type MeetingSlot = z.infer<typeof MeetingSlot>;
export type Target = z.infer<typeof Target>;
export type Audience = z.infer<typeof Audience>;
export type DateFields = z.infer<typeof DateFields>;
export type DateField = keyof DateFields;
export type Course = z.infer<typeof Course>;
export type Section = z.infer<typeof Section>;
export type Person = z.infer<typeof Person>;
export type Role = z.infer<typeof Role>;
export type Enrolment = z.infer<typeof Enrolment>;
export type PlacementRule = z.infer<typeof PlacementRule>;
export type Layer = z.infer<typeof Layer>;
export type Stripe = z.infer<typeof Stripe>;
export type Group = z.infer<typeof Group>;
export type NamedSet = z.infer<typeof NamedSet>;
export type Placement = z.infer<typeof Placement>;
export type ItemKind = z.infer<typeof ItemKind>;
export type Item = z.infer<typeof Item>;
export type Entrance = z.infer<typeof Entrance>;
export type Override = z.infer<typeof Override>;
export type Allowance = z.infer<typeof Allowance>;

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
] as const;
export type TableName = (typeof tableNames)[number];

/** A plan with a course and nothing in it. */
export function emptyPlan(course: Course): Plan {
  const tables = Object.fromEntries(tableNames.map((name) => [name, {}])) as Record<TableName, Record<string, never>>;
  return { course, ...tables };
}
