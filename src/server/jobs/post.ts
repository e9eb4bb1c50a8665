/** The mail server: one letter handed to it, and what became of it. */
import nodemailer, { type Transporter } from "nodemailer";
import addressParser from "nodemailer/lib/addressparser/index.js";
import { config } from "../config.ts";

/** Longer than one sending can take: until then nobody else tries a letter that somebody claimed, in milliseconds. */
export const lease = 60_000;
const longestWait = 15 * 60_000;

export interface Outgoing {
  /** Its Message-ID stays, so that one whose sending was cut off is known when it comes again. */
  id: string;
  /** The name it comes from; its address is the application's own. */
  from: string;
  to: string;
  subject: string;
  text: string;
  replyTo: string | null;
  /** How often it was tried before. */
  tries: number;
}
/** What the mail server refuses for good stays refused; anything else is tried again after `wait` milliseconds. */
export type Outcome = { state: "sent" } | { state: "waiting" | "refused"; wait: number; error: string };
export type Post = (letter: Outgoing) => Promise<Outcome>;

let transport: Transporter | null = null;

/** Hands letters to the mail server; null where none is set up. */
export function postOffice(): Post | null {
  const { AMBER_SMTP_URL: url, AMBER_MAIL_FROM: from } = config();
  if (!url) return null;
  transport ??= nodemailer.createTransport(
    {
      url,
      pool: true,
      maxConnections: 4,
      connectionTimeout: 5000,
      greetingTimeout: 5000,
      socketTimeout: 20_000,
    } as object,
    { from },
  );
  const by = transport;
  return (letter) => hand(letter, by, from);
}

async function hand(letter: Outgoing, by: Transporter, usually: string): Promise<Outcome> {
  const { id, from, to, subject, text, replyTo, tries } = letter;
  try {
    const [own] = addressParser(usually, { flatten: true });
    await by.sendMail({
      from: { name: from, address: own?.address ?? "" },
      to,
      subject,
      text,
      messageId: `<${id}@amber-weave.example>`,
      ...(replyTo ? { replyTo } : {}),
    });
    return { state: "sent" };
  } catch (error) {
    const { responseCode, message } = error as { responseCode?: number; message?: string };
    const isForGood = responseCode !== undefined && responseCode >= 500;
    const wait = Math.min(longestWait, 2000 * 2 ** Math.min(tries, 12));
    return { state: isForGood ? "refused" : "waiting", wait, error: String(message ?? error).slice(0, 500) };
  }
}
