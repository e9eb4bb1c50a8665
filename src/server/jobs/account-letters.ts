/** Letters about accounts: an invitation, an address to choose a password. Claimed and tried again as mails of courses are. */
import type { PoolConnection } from "mysql2/promise";
import { v7 } from "uuid";
import { institution } from "../institution/institution.ts";
import { parameters, rows, run, transaction } from "../store/database.ts";
import { lease, postOffice } from "./post.ts";

const atOnce = 50;

export interface AccountLetter {
  accountId: string;
  address: string;
  subject: string;
  body: string;
}
interface Waiting {
  id: string;
  address: string;
  subject: string;
  body: string;
  tries: number;
}

/** Puts a letter where it is sent from. */
export const writeLetter = (
  { accountId, address, subject, body }: AccountLetter,
  at: number,
  runner?: PoolConnection,
): Promise<number> =>
  run(
    "INSERT INTO account_letters (id, account_id, address, subject, body, at, state, next_at) VALUES (?, ?, ?, ?, ?, ?, 'waiting', ?)",
    [v7(), accountId, address, subject, body, at, at],
    runner,
  );

const claim = (at: number): Promise<Waiting[]> =>
  transaction(async (connection) => {
    const letters = await rows<Waiting>(
      `SELECT id, address, subject, body, tries FROM account_letters
       WHERE state = 'waiting' AND next_at <= ? ORDER BY next_at LIMIT ${atOnce} FOR UPDATE SKIP LOCKED`,
      [at],
      connection,
    );
    if (letters.length > 0)
      await run(
        `UPDATE account_letters SET next_at = ?, tries = tries + 1 WHERE id IN (${parameters(letters.map(({ id }) => id))})`,
        [at + lease, ...letters.map(({ id }) => id)],
        connection,
      );
    return letters;
  });

/** Sends what is due; of what was sent the words are forgotten, since they hold an address that opens an account. */
export async function sendAccountLetters(at: number): Promise<void> {
  const by = postOffice();
  if (!by) return;
  const letters = await claim(at);
  if (letters.length === 0) return;
  const from = (await institution())?.name ?? "Amber Weave";
  await Promise.all(
    letters.map(async ({ id, address, subject, body, tries }) => {
      const outcome = await by({ id, from, to: address, subject, text: body, replyTo: null, tries });
      if (outcome.state === "sent")
        await run("UPDATE account_letters SET state = 'sent', error = '', body = '' WHERE id = ?", [id]);
      else
        await run("UPDATE account_letters SET state = ?, next_at = ?, error = ? WHERE id = ?", [
          outcome.state,
          at + outcome.wait,
          outcome.error,
          id,
        ]);
    }),
  );
}
