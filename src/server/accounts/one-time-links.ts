/** Addresses that work once and for a while: whoever opens one has got it from us. Only its digest is stored. */
import { randomBytes } from "node:crypto";
import type { PoolConnection } from "mysql2/promise";
import { rows, run, transaction } from "../store/database.ts";
import { digest } from "./digest.ts";

/**
 * `set-up`: the first administrator's. `password`: somebody chooses a password, the first or another. `second`: somebody has
 * shown a password and is asked for a second factor.
 */
export type LinkKind = "set-up" | "password" | "second";

/** Makes a link's token. One kind has one link for each account: an earlier one does not work any more. */
export async function makeLink(
  kind: LinkKind,
  accountId: string | null,
  { at, lasts }: { at: number; lasts: number },
): Promise<string> {
  const token = randomBytes(24).toString("base64url");
  await transaction(async (connection) => {
    await run(
      "DELETE FROM one_time_links WHERE expires_at < ? OR (kind = ? AND account_id <=> ?)",
      [at, kind, accountId],
      connection,
    );
    await run(
      "INSERT INTO one_time_links (token_hash, kind, account_id, expires_at) VALUES (?, ?, ?, ?)",
      [digest(token), kind, accountId, at + lasts],
      connection,
    );
  });
  return token;
}

/** Whether a link works, and for which account; it is not used up by being looked at. */
export async function openLink(
  kind: LinkKind,
  token: string,
  at: number,
): Promise<{ accountId: string | null } | null> {
  const [found] = await rows<{ accountId: string | null }>(
    "SELECT account_id AS accountId FROM one_time_links WHERE token_hash = ? AND kind = ? AND expires_at > ?",
    [digest(token), kind, at],
  );
  return found ?? null;
}

/** Uses a link up; false where somebody was sooner. */
export const spendLink = async (token: string, connection: PoolConnection): Promise<boolean> =>
  (await run("DELETE FROM one_time_links WHERE token_hash = ?", [digest(token)], connection)) > 0;
