/** Sign-in by username and password, sessions in the database, and the slowing of repeated failures. */
import { createHash, randomBytes } from "node:crypto";
import { hash, verify } from "@node-rs/argon2";
import { v7 } from "uuid";
import { rows, run } from "../store/database.ts";

export interface Account {
  id: string;
  username: string;
  sourcedId: string;
  displayName: string;
}

/** A display name, "Family, Given", with the given name first. */
export function givenFirst(displayName: string): string {
  const [family = "", given] = displayName.split(", ");
  return given ? `${given} ${family}` : family;
}

export const sessionCookie = "amber_session";
const sessionLasts = 12 * 3600_000;
/** A session that nobody uses ends sooner. */
const idleLasts = 4 * 3600_000;
/** How often it is noted that a session is used. */
const notedEvery = 5 * 60_000;
/** Signed in at more places than these, somebody is signed out where they were longest ago. */
const mostSessions = 20;
export const digest = (text: string) => createHash("sha256").update(text).digest("hex");

/** argon2id with the parameters that OWASP names for interactive sign-in. */
export const hashPassword = (password: string): Promise<string> =>
  hash(password, { memoryCost: 19_456, timeCost: 2, parallelism: 1 });

// Verified when the username is unknown, so that the answer takes as long as for a known one.
let decoy: Promise<string> | null = null;

export type SignIn = { token: string } | { wrong: true } | { wait: number };

const freeFailures = 4;
/** Seconds to wait after a number of failures: none for the first few, then doubling up to a quarter of an hour. */
const waitAfter = (failures: number) => (failures <= freeFailures ? 0 : Math.min(900, 2 ** (failures - freeFailures)));

async function openSession(accountId: string, agent: string, at: number): Promise<string> {
  await run("DELETE FROM sessions WHERE expires_at < ? OR (used_at > 0 AND used_at < ?)", [at, at - idleLasts]);
  const token = randomBytes(32).toString("base64url");
  await run(
    "INSERT INTO sessions (token_hash, id, account_id, expires_at, begun_at, used_at, agent) VALUES (?, ?, ?, ?, ?, ?, ?)",
    [digest(token), v7(), accountId, at + sessionLasts, at, at, agent.slice(0, 400)],
  );
  await run(
    `DELETE FROM sessions WHERE account_id = ? AND id NOT IN
       (SELECT id FROM (SELECT id FROM sessions WHERE account_id = ? ORDER BY used_at DESC, id DESC LIMIT ${mostSessions}) kept)`,
    [accountId, accountId],
  );
  return token;
}

/** Checks a password and opens a session. Failures are counted by username, in the database. `agent`: the browser, as it says. */
export async function signIn(
  username: string,
  password: string,
  { at = Date.now(), agent = "" }: { at?: number; agent?: string } = {},
): Promise<SignIn> {
  const usernameHash = digest(username.trim().toLowerCase());
  const [failed] = await rows<{ failures: number; last_at: number }>(
    "SELECT failures, last_at FROM sign_in_failures WHERE username_hash = ?",
    [usernameHash],
  );
  if (failed) {
    const wait = failed.last_at + waitAfter(failed.failures) * 1000 - at;
    if (wait > 0) return { wait: Math.ceil(wait / 1000) };
  }
  const [account] = await rows<{ id: string; password_hash: string }>(
    "SELECT id, password_hash FROM accounts WHERE username = ?",
    [username.trim()],
  );
  decoy ??= hashPassword(randomBytes(16).toString("hex"));
  const right = await verify(account?.password_hash ?? (await decoy), password);
  if (!account || !right) {
    await run(
      "INSERT INTO sign_in_failures (username_hash, failures, last_at) VALUES (?, 1, ?) ON DUPLICATE KEY UPDATE failures = failures + 1, last_at = VALUES(last_at)",
      [usernameHash, at],
    );
    return { wrong: true };
  }
  await run("DELETE FROM sign_in_failures WHERE username_hash = ?", [usernameHash]);
  return { token: await openSession(account.id, agent, at) };
}

export async function accountOf(token: string | undefined): Promise<Account | null> {
  if (!token) return null;
  const at = Date.now();
  const [found] = await rows<Account & { usedAt: number }>(
    `SELECT a.id, a.username, a.sourced_id AS sourcedId, a.display_name AS displayName, s.used_at AS usedAt
     FROM sessions s JOIN accounts a ON a.id = s.account_id
     WHERE s.token_hash = ? AND s.expires_at > ? AND (s.used_at = 0 OR s.used_at > ?)`,
    [digest(token), at, at - idleLasts],
  );
  if (!found) return null;
  const { usedAt, ...account } = found;
  if (usedAt < at - notedEvery) await run("UPDATE sessions SET used_at = ? WHERE token_hash = ?", [at, digest(token)]);
  return account;
}

export const signOut = (token: string): Promise<number> =>
  run("DELETE FROM sessions WHERE token_hash = ?", [digest(token)]);

export async function createAccount(account: Omit<Account, "id">, passwordHash: string): Promise<void> {
  await run(
    `INSERT INTO accounts (id, username, sourced_id, display_name, password_hash) VALUES (?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE display_name = VALUES(display_name)`,
    [v7(), account.username, account.sourcedId, account.displayName, passwordHash],
  );
}
