/** Sign-in by username and password, sessions in the database, and the slowing of repeated failures. */

import { randomBytes } from "node:crypto";
import { hash, verify } from "@node-rs/argon2";
import { v7 } from "uuid";
import { loginOf } from "../../core/text/logins.ts";
import { cut } from "../../core/text/shorten.ts";
import { config } from "../config.ts";
import { rows, run } from "../store/database.ts";
import { digest } from "./digest.ts";
import { noteEvent } from "./security-events.ts";
import { countTry, forgetTries } from "./sign-in-tries.ts";

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

/** The cookie of a session. Behind TLS its name binds it to this host alone, and it is sent by TLS only. */
export function sessionCookie() {
  const secure = (config().AMBER_ADDRESS ?? "").startsWith("https:");
  const options = { httpOnly: true, sameSite: "lax", secure, path: "/", maxAge: sessionLasts / 1000 } as const;
  return { name: `${secure ? "__Host-" : ""}amber_session`, options };
}
const sessionLasts = 12 * 3600_000;
/** A session that nobody uses ends sooner. */
const idleLasts = 4 * 3600_000;
/** How often it is noted that a session is used. */
const notedEvery = 5 * 60_000;
/** Signed in at more places than these, somebody is signed out where they were longest ago. */
const mostSessions = 20;

/** argon2id with the parameters that OWASP names for interactive sign-in. */
export const hashPassword = (password: string): Promise<string> =>
  hash(password, { memoryCost: 19_456, timeCost: 2, parallelism: 1 });

// Verified when the username is unknown, so that the answer takes as long as for a known one.
let decoy: Promise<string> | null = null;

export type SignIn = { token: string } | { wrong: true } | { wait: number };

async function openSession(accountId: string, agent: string, at: number): Promise<string> {
  await run("DELETE FROM sessions WHERE expires_at < ? OR (used_at > 0 AND used_at < ?)", [at, at - idleLasts]);
  const token = randomBytes(32).toString("base64url");
  await run(
    "INSERT INTO sessions (token_hash, id, account_id, expires_at, begun_at, used_at, agent) VALUES (?, ?, ?, ?, ?, ?, ?)",
    [digest(token), v7(), accountId, at + sessionLasts, at, at, cut(agent, 400)],
  );
  await run(
    `DELETE FROM sessions WHERE account_id = ? AND id NOT IN
       (SELECT id FROM (SELECT id FROM sessions WHERE account_id = ? ORDER BY used_at DESC, id DESC LIMIT ${mostSessions}) kept)`,
    [accountId, accountId],
  );
  return token;
}

/** Where somebody tries to sign in from, and when. */
interface From {
  at?: number;
  /** The browser, as it says. */
  agent?: string;
  /** The network address. */
  address?: string;
}

/** Checks a password and opens a session. A login that holds invisible signs is nobody's, and counts as its address's try. */
export async function signIn(
  username: string,
  password: string,
  { at = Date.now(), agent = "", address = "" }: From = {},
): Promise<SignIn> {
  const login = loginOf(username) ?? "";
  const { wait } = await countTry(login, address, at);
  if (wait > 0) {
    await noteEvent({ kind: "sign-in slowed", address });
    return { wait };
  }
  const [account] = await rows<{ id: string; password_hash: string }>(
    "SELECT id, password_hash FROM accounts WHERE login = ?",
    [login],
  );
  decoy ??= hashPassword(randomBytes(16).toString("hex"));
  const right = await verify(account?.password_hash ?? (await decoy), password);
  if (!account || !right) {
    await noteEvent({ kind: "sign-in failed", accountId: account?.id, address });
    return { wrong: true };
  }
  await forgetTries(login, address, at);
  await noteEvent({ kind: "signed in", accountId: account.id, address });
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

/** Throws where the username holds signs that nobody sees or types. */
export async function createAccount(account: Omit<Account, "id">, passwordHash: string): Promise<void> {
  const login = loginOf(account.username);
  if (login === null) throw new Error(`The username "${account.username}" holds signs that are not seen.`);
  await run(
    `INSERT INTO accounts (id, username, login, sourced_id, display_name, password_hash) VALUES (?, ?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE display_name = VALUES(display_name)`,
    [v7(), account.username, login, account.sourcedId, account.displayName, passwordHash],
  );
}
