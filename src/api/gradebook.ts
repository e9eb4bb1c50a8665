/** Marks, work that was handed in, and filters of the gradebook. */
import { z } from "zod";
import { type SavedFilter as SavedFilterType, SavedView } from "../core/gradebook/view.ts";
import type { MarkChange } from "../core/plan/progress.ts";
import { Id } from "../core/plan/types.ts";
import { endpoint } from "./endpoint.ts";
import { MarkRow, Moment } from "./parts.ts";

const MarkValue = z.object({
  points: z.number().min(0).max(1_000_000).multipleOf(0.001).nullable(),
  excused: z.boolean(),
});
/** `seen`: the mark that the marker saw; somebody else's newer one is never overwritten unseen. */
const NewMark = MarkValue.extend({ itemId: Id, seen: MarkValue.nullable() });
const Change = z.union([
  z.strictObject({ itemId: Id, personId: Id, mark: MarkRow.nullable() }),
  z.strictObject({ itemId: Id, groupId: Id, mark: MarkRow.nullable() }),
]) satisfies z.ZodType<MarkChange>;
export const giveMarks = endpoint("POST", "/marks", "staff", {
  isLarge: true,
  says: "Stores marks of persons and shared ones of groups; those that somebody else changed meanwhile are given back.",
  body: z.object({
    marks: z
      .array(z.union([NewMark.extend({ personId: Id }), NewMark.extend({ groupId: Id })]))
      .min(1)
      .max(100_000),
  }),
  answer: z.strictObject({ stored: z.array(Change), newer: z.array(Change) }),
});

const Remark = z.object({
  /** What the student, or every member of the group, reads. */
  comment: z.string().max(20_000),
  /** What only staff read. */
  note: z.string().max(20_000),
});
export type Remark = z.infer<typeof Remark>;
const StoredRemark = z.strictObject({ comment: z.string(), note: z.string(), at: Moment, by: z.string() });
export type StoredRemark = z.infer<typeof StoredRemark>;
const Work = z.strictObject({
  handIns: z.array(
    z.strictObject({
      id: Id,
      at: Moment,
      body: z.string(),
      link: z.string().nullable(),
      file: z.strictObject({ id: Id, name: z.string(), size: z.number().optional() }).nullable(),
      /** Who handed it in for the group. */
      by: Id.nullable(),
    }),
  ),
  own: StoredRemark.nullable(),
  /** About the group's work. */
  shared: StoredRemark.nullable(),
});
export type Work = z.infer<typeof Work>;
export const readWork = endpoint("GET", "/work", "staff", {
  says: "What a student handed in for an item, and what was written about it.",
  query: z.object({ item: z.string().default(""), person: z.string().default(""), group: z.string().default("") }),
  answer: Work,
});
export const writeRemark = endpoint("POST", "/work", "staff", {
  says: "Keeps a comment and a private note about the work of a student or of a group.",
  body: Remark.extend({ itemId: Id, holderId: Id, seen: Remark.nullable() }),
  answer: StoredRemark.nullable(),
});
export const readAttachment = endpoint("GET", "/attachments/[file]", "staff", {
  says: "A file that goes with a student's work or post.",
  gives: ["application/octet-stream"],
});

const Filter = z.object({
  id: Id,
  name: z.string().trim().min(1).max(100),
  text: z.string().max(2000),
  pinned: z.boolean(),
  shared: z.boolean(),
  view: SavedView.nullable(),
});
const SavedFilter = z.strictObject({
  ...Filter.shape,
  from: z.string().nullable(),
}) satisfies z.ZodType<SavedFilterType>;
const Filters = z.array(SavedFilter);
export const readFilters = endpoint("GET", "/filters", "staff", {
  says: "One's own filters, and shared ones that name nothing outside one's scope.",
  answer: Filters,
});
export const saveFilters = endpoint("POST", "/filters", "staff", {
  says: "Saves filters, all of them or none.",
  body: z.object({ filters: z.array(Filter).min(1).max(500) }),
  answer: Filters,
});
export const removeFilter = endpoint("DELETE", "/filters", "staff", {
  says: "Removes one of one's own filters.",
  body: z.object({ id: Id }),
  answer: Filters,
});

const count = z.number().int();
const OtherStudents = z.strictObject({
  others: z
    .strictObject({
      members: count,
      toMark: count,
      missing: count,
      late: count,
      sums: z.strictObject({ n: count, mean: z.number(), variance: z.number() }).nullable(),
    })
    .nullable(),
});
export type OtherStudents = z.infer<typeof OtherStudents>;
export const readOtherStudents = endpoint("GET", "/other-students", "staff", {
  says: "All students but one's own in a column or in the total, as sums of at least five, where the coordinator allows it.",
  query: z.object({
    /** A column; without one the total. */
    item: Id.optional(),
  }),
  answer: OtherStudents,
});
