/** The journal of the course, and its access log. */
import { z } from "zod";
import { type AccessLine, accessKinds } from "../core/access/access-line.ts";
import { Id } from "../core/plan/types.ts";
import { type JournalDetail, type JournalLine, journalKinds } from "../core/review/journal.ts";
import { Draft } from "./drafting.ts";
import { endpoint } from "./endpoint.ts";
import { Moment } from "./parts.ts";

const Line = z.strictObject({
  id: Id,
  revision: z.number().int(),
  at: Moment,
  by: z.string(),
  kind: z.enum(journalKinds),
  says: z.string(),
}) satisfies z.ZodType<JournalLine>;
const MarkThen = z.strictObject({ points: z.number().nullable(), excused: z.boolean() }).nullable();
const Detail = z.strictObject({
  line: Line,
  rows: z.array(
    z.strictObject({
      about: z.string(),
      field: z.string(),
      from: z.string(),
      to: z.string(),
    }),
  ),
  more: z.number().int(),
  marks: z.array(
    z.strictObject({
      itemId: z.string(),
      personId: z.string().optional(),
      groupId: z.string().optional(),
      from: MarkThen,
      to: MarkThen,
    }),
  ),
  revert: z.strictObject({ rows: z.number().int(), staying: z.array(z.string()) }).nullable(),
}) satisfies z.ZodType<JournalDetail>;
export const readJournal = endpoint("GET", "/journal", "coordinator", {
  says: "Lines of the journal, the latest first.",
  query: z.object({
    /** Words that stand in it. */
    q: z.string().default(""),
    kind: z.enum(journalKinds).nullable().catch(null).default(null),
    /** The last line that is known. */
    before: z.string().nullable().default(null),
  }),
  answer: z.strictObject({ lines: z.array(Line), more: z.boolean() }),
});
export const openJournalLine = endpoint("GET", "/journal/[line]", "coordinator", {
  says: "What a line of the journal changed, row by row.",
  answer: Detail,
});
export const revertJournalLine = endpoint("POST", "/journal/[line]", "coordinator", {
  says: "Drafts what leads a publication back.",
  answer: z.strictObject({ draft: Draft, staying: z.array(z.string()) }),
});

const Access = z.strictObject({
  id: Id,
  kind: z.enum(accessKinds),
  by: z.string(),
  whose: z.string().nullable(),
  what: z.string(),
  at: Moment,
  lastAt: Moment,
  times: z.number().int(),
}) satisfies z.ZodType<AccessLine>;
export const readAccessLog = endpoint("GET", "/access-log", "coordinator", {
  says: "Who looked through whose eyes, and who saved which file, the latest first.",
  query: z.object({
    kind: z.enum(accessKinds).nullable().catch(null).default(null),
    /** The last line that is known. */
    before: Id.nullable().default(null),
  }),
  answer: z.strictObject({ lines: z.array(Access), more: z.boolean() }),
});
export const noteExport = endpoint("POST", "/access-log", "staff", {
  says: "Says that one saved a file that the workbench made.",
  /** The name of the file. */
  body: z.object({ name: z.string().trim().min(1).max(200) }),
  answer: z.strictObject({}),
});
