/**
 * Mails on their way: claimed a few at a time, sent by SMTP, tried again while the post office is down. Each has a
 * Message-ID of its own that stays, so that one whose sending was cut off is known when it comes again.
 */
import nodemailer, { type Transporter } from "nodemailer";
import { config } from "../config.ts";
import { log } from "../log.ts";
import { parameters, rows, run, transaction } from "../store/database.ts";

/** Longer than one sending can take: until then nobody else tries a mail that somebody claimed. */
const lease = 60_000;
const longestWait = 15 * 60_000;
const atOnce = 100;

let transport: Transporter | null = null;
function post(): Transporter | null {
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
  return transport;
}

interface Mail {
  id: string;
  address: string;
  reply_to: string | null;
  subject: string;
  body: string;
  tries: number;
}

const claim = (at: number): Promise<Mail[]> =>
  transaction(async (connection) => {
    const mails = await rows<Mail>(
      `SELECT id, address, reply_to, subject, body, tries FROM deliveries
       WHERE state = 'waiting' AND next_at <= ? ORDER BY next_at LIMIT ${atOnce} FOR UPDATE SKIP LOCKED`,
      [at],
      connection,
    );
    if (mails.length > 0)
      await run(
        `UPDATE deliveries SET next_at = ?, tries = tries + 1 WHERE id IN (${parameters(mails.map(({ id }) => id))})`,
        [at + lease, ...mails.map(({ id }) => id)],
        connection,
      );
    return mails;
  });

async function send({ id, address, reply_to, subject, body, tries }: Mail, by: Transporter, at: number) {
  try {
    await by.sendMail({
      to: address,
      subject,
      text: body,
      messageId: `<${id}@amber-weave.example>`,
      ...(reply_to ? { replyTo: reply_to } : {}),
    });
    await run("UPDATE deliveries SET state = 'sent', error = '' WHERE id = ?", [id]);
  } catch (error) {
    const { responseCode, message } = error as { responseCode?: number; message?: string };
    // What the post office refuses for good stays refused until somebody tries again; anything else is tried later.
    const forGood = responseCode !== undefined && responseCode >= 500;
    const wait = Math.min(longestWait, 2000 * 2 ** Math.min(tries, 12));
    await run("UPDATE deliveries SET state = ?, next_at = ?, error = ? WHERE id = ?", [
      forGood ? "refused" : "waiting",
      at + wait,
      String(message ?? error).slice(0, 500),
      id,
    ]);
  }
}

/** Sends what is due. Several processes may: each mail is claimed by one. */
export async function sendDue(at: number): Promise<void> {
  const by = post();
  if (!by) return;
  for (;;) {
    const mails = await claim(at);
    await Promise.all(mails.map((mail) => send(mail, by, at)));
    if (mails.length > 0) log.info({ mails: mails.length }, "post");
    if (mails.length < atOnce) return;
  }
}
