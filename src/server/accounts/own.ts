/** What somebody decides of their own account: which letters they get, and where they are signed in. */
import Bowser from "bowser";
import { rows, run } from "../store/database.ts";
import { digest } from "./digest.ts";
import { noteEvent } from "./security-events.ts";

export interface AccountSettings {
  /** Whether notices come by mail as well. */
  mails: boolean;
  /** Whether each hand-in is confirmed in writing. */
  receipts: boolean;
  /** How they like to be spoken of; empty where they say nothing. */
  pronouns: string;
  /** In whose way dates and numbers are written for them; null: as the institution has it. */
  locale: string | null;
  hours: string | null;
}
const usual: AccountSettings = { mails: true, receipts: false, pronouns: "", locale: null, hours: null };

export async function settingsOf(accountId: string): Promise<AccountSettings> {
  const [found] = await rows<Omit<AccountSettings, "mails" | "receipts"> & { mails: number; receipts: number }>(
    "SELECT mails, receipts, pronouns, locale, hours FROM account_settings WHERE account_id = ?",
    [accountId],
  );
  return found ? { ...found, mails: found.mails === 1, receipts: found.receipts === 1 } : usual;
}

/** Keeps some settings of somebody; the others stay as they are. */
export async function keepSettings(accountId: string, changed: Partial<AccountSettings>): Promise<void> {
  const { mails, receipts, pronouns, locale, hours } = { ...(await settingsOf(accountId)), ...changed };
  await run(
    `REPLACE INTO account_settings (account_id, mails, receipts, pronouns, locale, hours) VALUES (?, ?, ?, ?, ?, ?)`,
    [accountId, mails, receipts, pronouns, locale, hours],
  );
}

export async function usernameOf(accountId: string): Promise<string> {
  const [found] = await rows<{ username: string }>("SELECT username FROM accounts WHERE id = ?", [accountId]);
  return found?.username ?? "";
}

/** What people of a course say of themselves, by the person's id; nobody who says nothing. */
export type Pronouns = ReadonlyMap<string, string>;
export async function pronounsIn(courseId: string): Promise<Pronouns> {
  const found = await rows<{ id: string; pronouns: string }>(
    `SELECT p.id, s.pronouns FROM account_settings s JOIN accounts a ON a.id = s.account_id
       JOIN people p ON p.sourced_id = a.sourced_id AND p.course_id = ? WHERE s.pronouns <> ''`,
    [courseId],
  );
  return new Map(found.map(({ id, pronouns }) => [id, pronouns]));
}

/** A name with the pronouns of whoever bears it: "Ada Lovelace (she/her)". */
export const withPronouns = (name: string, pronouns: string | undefined): string =>
  pronouns ? `${name} (${pronouns})` : name;

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
export async function endSession(accountId: string, sessionId: string): Promise<boolean> {
  const ended = await run("DELETE FROM sessions WHERE account_id = ? AND id = ?", [accountId, sessionId]);
  if (ended > 0) await noteEvent({ kind: "sessions ended", accountId });
  return ended > 0;
}

/** Ends all sessions of somebody but the one that asks. */
export async function endOtherSessions(accountId: string, token: string): Promise<void> {
  await run("DELETE FROM sessions WHERE account_id = ? AND token_hash <> ?", [accountId, digest(token)]);
  await noteEvent({ kind: "sessions ended", accountId });
}
