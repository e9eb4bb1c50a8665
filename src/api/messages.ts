/** Messages to people of the course. */
import { z } from "zod";
import { Message, type SentMessage as SentMessageType } from "../core/messages/message.ts";
import { Id } from "../core/plan/types.ts";
import { endpoint } from "./endpoint.ts";
import { Moment } from "./parts.ts";

const count = z.number().int();
const SentMessage = z.strictObject({
  id: Id,
  at: Moment,
  by: z.string(),
  subject: z.string(),
  body: z.string(),
  recipients: count,
  sent: count,
  waiting: count,
  refused: count,
  unread: count,
  error: z.string(),
}) satisfies z.ZodType<SentMessageType>;
export const readMessages = endpoint("GET", "/messages", "staff", {
  says: "What was sent: by anybody for the coordinator, by themselves for others on the staff.",
  answer: z.array(SentMessage),
});
export const sendMessage = endpoint("POST", "/messages", "staff", {
  says: "Sends a message at once, to whoever of the sender's students and groups it names.",
  body: Message,
  /** How many get it, and how many of them by mail as well. */
  answer: z.strictObject({ recipients: count, mails: count }),
});
export const retryMessage = endpoint("POST", "/messages/[message]", "staff", {
  says: "Tries mails again that were refused.",
  answer: z.strictObject({ waiting: count }),
});
