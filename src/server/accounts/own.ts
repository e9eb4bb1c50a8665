/** What somebody decides of their own account: which letters they get, and where they are signed in. */
import Bowser from "bowser";
import { rows, run } from "../store/database.ts";
import { digest } from "./accounts.ts";

export interface AccountSettings {
  /** Whether notices come by mail as well. */
  mails: boolean;
  /** Whether each hand-in is confirmed in writing. */
  receipts: boolean;
}
const usual: AccountSettings = { mails: true, receipts: false };

export async function settingsOf(accountId: string): Promise<AccountSettings> {
  const [found] = await rows<{ mails: number; receipts: number }>(
    "SELECT mails, receipts FROM account_settings WHERE account_id = ?",
    [accountId],
  );
  return found ? { mails: found.mails === 1, receipts: found.receipts === 1 } : usual;
}

export const keepSettings = (accountId: string, { mails, receipts }: AccountSettings): Promise<number> =>
  run(
    `INSERT INTO account_settings (account_id, mails, receipts) VALUES (?, ?, ?)
     ON DUPLICATE KEY UPDATE mails = VALUES(mails), receipts = VALUES(receipts)`,
    [accountId, mails, receipts],
  );

export interface Session {
  id: string;
  begunAt: number;
  usedAt: number;
  /** The browser and the machine, as far as they say: "Firefox on Linux". */
  where: string;
  isThis: boolean;
}

function sayAgent(agent: string): string {
  // The library takes no empty text.
  const { browser, os } = Bowser.parse(agent || "unknown");
  const names = [browser.name, os.name].filter(Boolean);
  return names.length === 0 ? "A browser that does not say which" : names.join(" on ");
}

/** Where somebody is signed in, the latest used first. `token`: of the session that asks. */
export async function sessionsOf(accountId: string, token: string): Promise<Session[]> {
  const found = await rows<{ id: string; begunAt: number; usedAt: number; agent: string; tokenHash: string }>(
    `SELECT id, begun_at AS begunAt, used_at AS usedAt, agent, token_hash AS tokenHash FROM sessions
     WHERE account_id = ? AND expires_at > ? ORDER BY used_at DESC, id`,
    [accountId, Date.now()],
  );
  const own = digest(token);
  return found.map(({ agent, tokenHash, ...one }) => ({ ...one, where: sayAgent(agent), isThis: tokenHash === own }));
}

/** Ends one session of somebody; false where it is none of theirs. */
export const endSession = async (accountId: string, sessionId: string): Promise<boolean> =>
  (await run("DELETE FROM sessions WHERE account_id = ? AND id = ?", [accountId, sessionId])) > 0;

/** Ends all sessions of somebody but the one that asks. */
export const endOtherSessions = (accountId: string, token: string): Promise<number> =>
  run("DELETE FROM sessions WHERE account_id = ? AND token_hash <> ?", [accountId, digest(token)]);
