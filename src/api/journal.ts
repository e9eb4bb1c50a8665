/** The journal of the course. */
import { z } from "zod";
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
