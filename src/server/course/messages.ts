/** Messages: written once with what each recipient reads, as a notice in the course and a mail that waits to be sent. */

import type { PoolConnection } from "mysql2/promise";
import { v7 } from "uuid";
import { type Message, type Recipient, recipientsOf, type SentMessage } from "../../core/messages/message.ts";
import { fillPlaceholders } from "../../core/messages/placeholders.ts";
import { noProgress } from "../../core/plan/progress.ts";
import type { Plan } from "../../core/plan/types.ts";
import { reachAt } from "../../core/reach/reach.ts";
import { hasBit } from "../../core/sets/bits.ts";
import { type LocaleSetting, plainLocale, withLocale } from "../../core/text/locale.ts";
import { cut } from "../../core/text/shorten.ts";
import { givenFirst, type LocaleFound, localeColumns, localeIn, localeTables } from "../accounts/accounts.ts";
import { insertMany, rows, run, transaction } from "../store/database.ts";
import { writeJournal } from "../store/journal.ts";

export interface Written {
  recipients: number;
  mails: number;
}

interface Way {
  /** Whether blanks in it are filled in for each reader. */
  fillsIn: boolean;
  byMail: boolean;
  /** Whether its readers answer to its writer's own address: members of a group do not learn one another's. */
  toldAddress: boolean;
  /** Whether it stands among what was sent, and in the journal: what the course writes by itself does not. */
  isSent: boolean;
  /** Nobody has to read what they asked to have in writing. */
  isRead: boolean;
}
const sent = { isSent: true, isRead: false };
const ways = {
  staff: { fillsIn: true, byMail: true, toldAddress: true, ...sent },
  member: { fillsIn: false, byMail: true, toldAddress: false, ...sent },
  "member, in the course alone": { fillsIn: false, byMail: false, toldAddress: false, ...sent },
  "to staff": { fillsIn: false, byMail: true, toldAddress: true, ...sent },
  receipt: { fillsIn: false, byMail: true, toldAddress: false, isSent: false, isRead: true },
  "about a proposal": { fillsIn: false, byMail: true, toldAddress: true, isSent: false, isRead: false },
} satisfies Record<string, Way>;
/** Whom a message is from, and how it goes out. */
export type From = keyof typeof ways;

/** In whose way each reader of a course wants dates and numbers written, as far as they have an account. */
async function localesOfReaders(courseId: string, connection: PoolConnection): Promise<(id: string) => LocaleSetting> {
  const found = await rows<LocaleFound & { personId: string }>(
    `SELECT p.id AS personId, ${localeColumns} FROM people p JOIN accounts a ON a.sourced_id = p.sourced_id ${localeTables}
     WHERE p.course_id = ?`,
    [courseId],
    connection,
  );
  const known = new Map(found.map(({ personId, ...locale }) => [personId, localeIn(locale)]));
  return (personId) => known.get(personId) ?? plainLocale;
}

/** Who wants notices in the course alone, and no mail. */
async function withoutMail(courseId: string, connection: PoolConnection): Promise<Set<string>> {
  const found = await rows<{ id: string }>(
    `SELECT p.id FROM account_settings s JOIN accounts a ON a.id = s.account_id
       JOIN people p ON p.sourced_id = a.sourced_id AND p.course_id = ? WHERE s.mails = 0`,
    [courseId],
    connection,
  );
  return new Set(found.map(({ id }) => id));
}

/** Who of the readers is let in where the message is about: nobody learns of a thing that is not for them. */
function seesWhatItIsAbout(plan: Plan, itemId: string | null, at: number): (personId: string) => boolean {
  const item = itemId === null ? undefined : plan.items[itemId];
  if (!item) return () => false;
  const reach = reachAt(plan, noProgress, at);
  return (personId) => {
    const place = reach.indexOf.get(personId);
    return place !== undefined && hasBit(reach.sees(item), place);
  };
}

/** Whose name a message bears, and where its readers answer. */
async function senderOf(plan: Plan, accountId: string, { from }: Message, way: Way, connection: PoolConnection) {
  const [account] = await rows<{ name: string; email: string | null }>(
    `SELECT a.display_name AS name, p.email FROM accounts a
       LEFT JOIN people p ON p.sourced_id = a.sourced_id AND p.course_id = ? WHERE a.id = ?`,
    [plan.course.id, accountId],
    connection,
  );
  if (from === "course" || !account) return { name: null, address: null };
  return { name: givenFirst(account.name), address: way.toldAddress ? account.email : null };
}

/** What each reader gets of it. */
async function insertDeliveries(
  plan: Plan,
  message: Message,
  recipients: Recipient[],
  { at, fillsIn, replyTo, readAt }: { at: number; fillsIn: boolean; replyTo: string | null; readAt: number | null },
  connection: PoolConnection,
): Promise<void> {
  const textOf = (text: string) => (fillsIn ? fillPlaceholders(plan, text, at) : () => text);
  const [subject, body] = [textOf(message.subject), textOf(message.body)];
  const sees = seesWhatItIsAbout(plan, message.itemId, at);
  const localeOf = fillsIn ? await localesOfReaders(plan.course.id, connection) : () => plainLocale;
  const columns = ["id", "course_id", "message_id", "person_id", "address", "reply_to", "subject", "body", "at"];
  await insertMany(
    "deliveries",
    [...columns, "state", "next_at", "item_id", "read_at"],
    recipients.map(({ personId, address }) => [
      v7(),
      plan.course.id,
      message.id,
      personId,
      address,
      replyTo,
      withLocale(localeOf(personId), () => cut(subject(personId), 400)),
      withLocale(localeOf(personId), () => body(personId)),
      at,
      address ? "waiting" : "none",
      0,
      sees(personId) ? message.itemId : null,
      readAt,
    ]),
    connection,
  );
}

/** Writes a message inside a transaction of its own or another's; one that is there already is passed over. */
export async function writeMessage(
  plan: Plan,
  accountId: string,
  message: Message,
  at: number,
  connection: PoolConnection,
  from: From = "staff",
): Promise<Written> {
  const courseId = plan.course.id;
  const way = ways[from];
  const sender = await senderOf(plan, accountId, message, way, connection);
  const added = await run(
    "INSERT IGNORE INTO messages (id, course_id, account_id, at, subject, body, sender, item_id, is_sent) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)",
    [message.id, courseId, accountId, at, message.subject, message.body, sender.name, message.itemId, way.isSent],
    connection,
  );
  const noMail = await withoutMail(courseId, connection);
  const recipients = recipientsOf(plan, message, at).map((one) =>
    way.byMail && !noMail.has(one.personId) ? one : { ...one, address: null },
  );
  const written = { recipients: recipients.length, mails: recipients.filter(({ address }) => address).length };
  if (added === 0) return written;
  await insertDeliveries(
    plan,
    message,
    recipients,
    { at, fillsIn: way.fillsIn, replyTo: sender.address, readAt: way.isRead ? at : null },
    connection,
  );
  if (!way.isSent) return written;
  const says = `Message "${message.subject}" to ${recipients.length} ${recipients.length === 1 ? "person" : "people"}`;
  const detail = { messageId: message.id, people: recipients.map(({ personId }) => personId) };
  await writeJournal(courseId, 0, { accountId, at, kind: "message", lines: [{ says, detail }] }, connection);
  return written;
}

/** Sends a message by itself. */
export const sendMessage = (
  plan: Plan,
  accountId: string,
  message: Message,
  at: number,
  from: From = "staff",
): Promise<Written> => transaction((connection) => writeMessage(plan, accountId, message, at, connection, from));

/** What was sent in a course, the latest first: all of it, or what one account sent. */
export function sentMessages(courseId: string, accountId: string | null): Promise<SentMessage[]> {
  return rows<SentMessage>(
    `SELECT m.id, m.at, COALESCE(a.display_name, '') AS \`by\`, m.subject, m.body, COUNT(d.id) AS recipients,
       COALESCE(SUM(d.state = 'sent'), 0) AS sent, COALESCE(SUM(d.state = 'waiting'), 0) AS waiting,
       COALESCE(SUM(d.state = 'refused'), 0) AS refused, COALESCE(SUM(d.read_at IS NULL), 0) AS unread,
       COALESCE(MAX(CASE WHEN d.state IN ('waiting', 'refused') THEN d.error END), '') AS error
     FROM messages m LEFT JOIN deliveries d ON d.message_id = m.id LEFT JOIN accounts a ON a.id = m.account_id
     WHERE m.course_id = ? AND m.is_sent ${accountId ? "AND m.account_id = ?" : ""}
     GROUP BY m.id, m.at, a.display_name, m.subject, m.body ORDER BY m.at DESC, m.id DESC LIMIT 200`,
    accountId ? [courseId, accountId] : [courseId],
  );
}

/** Tries mails of a message again that were refused. */
export const tryAgain = (courseId: string, messageId: string): Promise<number> =>
  run(
    "UPDATE deliveries SET state = 'waiting', tries = 0, next_at = 0, error = '' WHERE course_id = ? AND message_id = ? AND state = 'refused'",
    [courseId, messageId],
  );

export interface Notice {
  id: string;
  at: number;
  /** Who wrote it; null where it bears the course's name. */
  sender: string | null;
  /** What it is about, where its reader was let in when it was written. */
  itemId: string | null;
  subject: string;
  body: string;
  readAt: number | null;
}

/** What somebody was written in a course, the latest first. */
export const noticesOf = (courseId: string, personId: string): Promise<Notice[]> =>
  rows<Notice>(
    `SELECT d.id, d.at, m.sender, d.item_id AS itemId, d.subject, d.body, d.read_at AS readAt
     FROM deliveries d JOIN messages m ON m.id = d.message_id
     WHERE d.course_id = ? AND d.person_id = ? ORDER BY d.at DESC, d.id DESC LIMIT 200`,
    [courseId, personId],
  );

export const unreadNotices = async (courseId: string, personId: string): Promise<number> => {
  const [found] = await rows<{ count: number }>(
    "SELECT COUNT(*) AS count FROM deliveries WHERE course_id = ? AND person_id = ? AND read_at IS NULL",
    [courseId, personId],
  );
  return found?.count ?? 0;
};

export const readNotices = (courseId: string, personId: string, at: number): Promise<number> =>
  run("UPDATE deliveries SET read_at = ? WHERE course_id = ? AND person_id = ? AND read_at IS NULL", [
    at,
    courseId,
    personId,
  ]);
