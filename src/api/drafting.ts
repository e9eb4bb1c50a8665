/** Drafts, their publication at once or at a moment, and proposals. */
import { z } from "zod";
import { Command } from "../core/commands.ts";
import { Message } from "../core/messages/message.ts";
import { isUuid } from "../core/plan/basics.ts";
import { Id } from "../core/plan/types.ts";
import { type Draft as DraftType, Seen } from "../core/review/draft.ts";
import type { Proposal as ProposalType } from "../core/review/proposal.ts";
import { endpoint } from "./endpoint.ts";
import { Moment } from "./parts.ts";

const Planned = z.strictObject({
  id: Id,
  at: Moment,
  state: z.enum(["waiting", "held back"]),
  says: z.string(),
  commandIds: z.array(Id),
  messages: z.array(Message),
  seen: Seen,
});
export const Draft = z.strictObject({
  version: z.number().int(),
  commands: z.array(Command),
  undone: z.array(Command),
  planned: z.array(Planned),
  messages: z.array(Message),
}) satisfies z.ZodType<DraftType>;

export const readDraft = endpoint("GET", "/draft", "staff", {
  isLight: true,
  says: "One's draft, and the server's clock beside it.",
  answer: Draft.extend({
    now: Moment,
    /** Whether the clock stands still: for looking at a course at a moment of its own. */
    clockFixed: z.boolean(),
  }),
});
/** What is drafted has an id that nobody can guess: the ids of what it makes are made of it. */
const Drafted = Command.refine(({ id }) => isUuid(id), { path: ["id"], message: "a UUID" });
export const changeDraft = endpoint("POST", "/draft", "staff", {
  isLarge: true,
  says: "Adds commands to one's draft, takes steps back or forward, or keeps the messages that go out with it.",
  body: z.union([
    z.object({ commands: z.array(Drafted).min(1).max(500) }),
    z.object({ messages: z.array(Message).max(20) }),
    z.object({ step: z.enum(["undo", "redo", "undo all", "redo all"]) }),
  ]),
  answer: Draft,
});

export const publish = endpoint("POST", "/publish", "staff", {
  says: "Publishes the draft, or plans that. Whoever accepts lines of JSON is told meanwhile how far it is.",
  body: z.object({
    publicationId: Id,
    revision: z.number().int(),
    version: z.number().int(),
    leave: z.array(Id).max(5000).default([]),
    /** At which moment, with what was counted in the review; without it at once. */
    planned: z.object({ at: Moment, seen: Seen }).optional(),
  }),
  answer: z.union([
    z.strictObject({ published: z.literal(true), revision: z.number().int() }),
    z.strictObject({ planned: z.literal(true) }),
  ]),
  gives: ["application/x-ndjson"],
});
export const movePlanned = endpoint("PATCH", "/publish", "coordinator", {
  says: "Moves a planned publication to another moment.",
  body: z.object({ plannedId: Id, at: Moment }),
  answer: z.strictObject({ moved: z.boolean() }),
});
export const takePlannedBack = endpoint("DELETE", "/publish", "coordinator", {
  says: "Takes a planned publication back into the draft.",
  body: z.object({ plannedId: Id }),
  answer: z.strictObject({ taken: z.boolean() }),
});

const Proposal = z.strictObject({
  id: Id,
  by: z.string(),
  at: Moment,
  state: z.enum(["waiting", "taken", "handed back", "taken back"]),
  answer: z.string(),
  taken: z.number().int(),
  published: z.number().int(),
  publishedAt: Moment.nullable(),
  lines: z.array(z.strictObject({ id: Id, says: z.string(), why: z.string().nullable() })),
  commands: z.array(Command),
}) satisfies z.ZodType<ProposalType>;
export const readProposals = endpoint("GET", "/proposals", "staff", {
  isLight: true,
  says: "For the coordinator the proposals that wait; for others on the staff their own.",
  answer: z.strictObject({ proposals: z.array(Proposal) }),
});
export const propose = endpoint("POST", "/proposals", "staff", {
  says: "Proposes what one drafted, without what stays.",
  body: z.object({ leave: z.array(Id).max(5000) }),
  answer: z.strictObject({ id: Id }),
});
export const takeProposal = endpoint("POST", "/proposals/[proposal]", "coordinator", {
  says: "Takes lines of a proposal into the draft, and hands back the others with a word.",
  body: z.object({ take: z.array(Id).max(5000), answer: z.string().trim().max(1000) }),
  answer: z.strictObject({ taken: z.number().int() }),
});
export const takeProposalBack = endpoint("DELETE", "/proposals/[proposal]", "staff", {
  says: "Takes one's own proposal back.",
  answer: z.strictObject({ back: z.boolean() }),
});
