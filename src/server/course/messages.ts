/** Messages: written once with what each recipient reads, as a notice in the course and a mail that waits to be sent. */
import type { PoolConnection } from "mysql2/promise";
import { v7 } from "uuid";
import { type Message, recipientsOf, type SentMessage } from "../../core/messages/message.ts";
import { fillPlaceholders } from "../../core/messages/placeholders.ts";
import type { Plan } from "../../core/plan/types.ts";
import { insertMany, rows, run, transaction } from "../store/database.ts";
import { writeJournal } from "../store/journal.ts";

export interface Written {
  recipients: number;
  mails: number;
}

/** Whom a message is from: staff may fill in blanks and are answered by mail; members' go out as they were typed. */
export type From = "staff" | "member" | "member, in the course alone";

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
  const added = await run(
    "INSERT IGNORE INTO messages (id, course_id, account_id, at, subject, body) VALUES (?, ?, ?, ?, ?, ?)",
    [message.id, courseId, accountId, at, message.subject, message.body],
    connection,
  );
  const byMail = from !== "member, in the course alone";
  const recipients = recipientsOf(plan, message, at).map((one) => (byMail ? one : { ...one, address: null }));
  const written = { recipients: recipients.length, mails: recipients.filter(({ address }) => address).length };
  if (added === 0) return written;
  const textOf = (text: string) => (from === "staff" ? fillPlaceholders(plan, text, at) : () => text);
  const [subject, body] = [textOf(message.subject), textOf(message.body)];
  const [sender] = await rows<{ email: string | null }>(
    "SELECT p.email FROM accounts a JOIN people p ON p.sourced_id = a.sourced_id AND p.course_id = ? WHERE a.id = ?",
    [courseId, accountId],
    connection,
  );
  await insertMany(
    "deliveries",
    ["id", "course_id", "message_id", "person_id", "address", "reply_to", "subject", "body", "at", "state", "next_at"],
    recipients.map(({ personId, address }) => [
      v7(),
      courseId,
      message.id,
      personId,
      address,
      // Members do not learn one another's addresses.
      from === "staff" ? (sender?.email ?? null) : null,
      subject(personId).slice(0, 400),
      body(personId),
      at,
      address ? "waiting" : "none",
      0,
    ]),
    connection,
  );
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
     WHERE m.course_id = ? ${accountId ? "AND m.account_id = ?" : ""}
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
  subject: string;
  body: string;
  readAt: number | null;
}

/** What somebody was written in a course, the latest first. */
export const noticesOf = (courseId: string, personId: string): Promise<Notice[]> =>
  rows<Notice>(
    `SELECT id, at, subject, body, read_at AS readAt FROM deliveries
     WHERE course_id = ? AND person_id = ? ORDER BY at DESC, id DESC LIMIT 200`,
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
