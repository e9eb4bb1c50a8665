/**
 * Mails on their way: claimed a few at a time, sent by SMTP, tried again while the post office is down. Each has a
 * Message-ID of its own that stays, so that one whose sending was cut off is known when it comes again.
 */
import { type Letterhead, mailOf } from "../../core/messages/message.ts";
import { config } from "../config.ts";
import { log } from "../log.ts";
import { parameters, rows, run, transaction } from "../store/database.ts";
import { lease, type Post, postOffice } from "./post.ts";

const atOnce = 100;

/** What a mail is about; nulls where it is about nothing that its reader sees. */
interface About {
  itemId: string | null;
  title: string | null;
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

/** Who wrote each of some mails, in which course, and about what; by the mail's id. */
async function letterheadsOf(mails: Mail[]): Promise<Map<string, Letterhead>> {
  const ids = mails.map(({ id }) => id);
  const found = await rows<{ id: string; courseId: string; sender: string | null; course: string } & About>(
    `SELECT d.id, d.course_id AS courseId, m.sender, CONCAT(c.code, ' ', c.title) AS course, d.item_id AS itemId, i.title
     FROM deliveries d JOIN messages m ON m.id = d.message_id JOIN courses c ON c.id = d.course_id
       LEFT JOIN items i ON i.id = d.item_id AND i.course_id = d.course_id WHERE d.id IN (${parameters(ids)})`,
    ids,
  );
  const base = config().AMBER_ADDRESS?.replace(/\/+$/, "");
  return new Map(
    found.map(({ id, courseId, sender, course, itemId, title }) => {
      const at = (path: string) => (base ? `${base}/course/${courseId}/${path}` : null);
      const item = title === null ? null : { title, address: at(`item/${itemId}`) };
      return [id, { sender: sender ?? course, course, item, address: at("notices") }];
    }),
  );
}

async function send({ id, address, reply_to, subject, body, tries }: Mail, head: Letterhead, by: Post, at: number) {
  const from = head.sender;
  const outcome = await by({ id, from, to: address, subject, text: mailOf(body, head), replyTo: reply_to, tries });
  if (outcome.state === "sent") {
    await run("UPDATE deliveries SET state = 'sent', error = '' WHERE id = ?", [id]);
    return;
  }
  const { state, wait, error } = outcome;
  await run("UPDATE deliveries SET state = ?, next_at = ?, error = ? WHERE id = ?", [state, at + wait, error, id]);
}

/** Sends what is due. Several processes may: each mail is claimed by one. */
export async function sendDue(at: number): Promise<void> {
  const by = postOffice();
  if (!by) return;
  for (;;) {
    const mails = await claim(at);
    if (mails.length === 0) return;
    const heads = await letterheadsOf(mails);
    await Promise.all(mails.map((mail) => send(mail, heads.get(mail.id) as Letterhead, by, at)));
    log.info({ mails: mails.length }, "post");
    if (mails.length < atOnce) return;
  }
}
