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

export const sessionCookie = "amber_session";
const sessionLasts = 12 * 3600_000;
const digest = (text: string) => createHash("sha256").update(text).digest("hex");

/** argon2id with the parameters that OWASP names for interactive sign-in. */
export const hashPassword = (password: string): Promise<string> =>
  hash(password, { memoryCost: 19_456, timeCost: 2, parallelism: 1 });

// Verified when the username is unknown, so that the answer takes as long as for a known one.
let decoy: Promise<string> | null = null;

export type SignIn = { token: string } | { wrong: true } | { wait: number };

const freeFailures = 4;
/** Seconds to wait after a number of failures: none for the first few, then doubling up to a quarter of an hour. */
const waitAfter = (failures: number) => (failures <= freeFailures ? 0 : Math.min(900, 2 ** (failures - freeFailures)));

/** Checks a password and opens a session. Failures are counted by username, in the database. */
export async function signIn(username: string, password: string, at = Date.now()): Promise<SignIn> {
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
  await run("DELETE FROM sessions WHERE expires_at < ?", [at]);
  const token = randomBytes(32).toString("base64url");
  await run("INSERT INTO sessions (token_hash, account_id, expires_at) VALUES (?, ?, ?)", [
    digest(token),
    account.id,
    at + sessionLasts,
  ]);
  return { token };
}

export async function accountOf(token: string | undefined): Promise<Account | null> {
  if (!token) return null;
  const [account] = await rows<Account>(
    `SELECT a.id, a.username, a.sourced_id AS sourcedId, a.display_name AS displayName
     FROM sessions s JOIN accounts a ON a.id = s.account_id WHERE s.token_hash = ? AND s.expires_at > ?`,
    [digest(token), Date.now()],
  );
  return account ?? null;
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
