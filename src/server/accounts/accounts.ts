/** Accounts and their sessions, which are kept in the database. */

import { randomBytes } from "node:crypto";
import type { PoolConnection } from "mysql2/promise";
import { v7 } from "uuid";
import { hourChoices, type LocaleSetting, locales, plainLocale } from "../../core/text/locale.ts";
import { loginOf } from "../../core/text/logins.ts";
import { cut } from "../../core/text/shorten.ts";
import { config } from "../config.ts";
import { rows, run } from "../store/database.ts";
import { digest } from "./digest.ts";

export interface Account {
  id: string;
  username: string;
  sourcedId: string;
  displayName: string;
  /** Whether they run the application: terms, courses, people. */
  administers: boolean;
  /** In whose way dates and numbers are written for them: their own choice, or the institution's. */
  locale: LocaleSetting;
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
/** The cookie of whoever has shown a password, and is asked for a second factor. */
export function halfCookie() {
  const { secure } = sessionCookie().options;
  const options = { httpOnly: true, sameSite: "lax", secure, path: "/sign-in", maxAge: 600 } as const;
  return { name: "amber_half", options };
}
/** The cookie that binds what was begun at an identity provider to the browser that began it. */
export function flowCookie() {
  const { secure } = sessionCookie().options;
  const options = { httpOnly: true, sameSite: "lax", secure, path: "/sign-in", maxAge: 900 } as const;
  return { name: "amber_sign_in", options };
}
const sessionLasts = 12 * 3600_000;
/** A session that nobody uses ends sooner. */
const idleLasts = 4 * 3600_000;
/** How often it is noted that a session is used. */
const notedEvery = 5 * 60_000;
/** Signed in at more places than these, somebody is signed out where they were longest ago. */
const mostSessions = 20;

/** Signs somebody in who has shown that they are who they say; gives the token of the session. `provider`: where they did. */
export async function openSession(
  accountId: string,
  agent: string,
  at: number,
  provider: string | null = null,
): Promise<string> {
  await run("DELETE FROM sessions WHERE expires_at < ? OR (used_at > 0 AND used_at < ?)", [at, at - idleLasts]);
  const token = randomBytes(32).toString("base64url");
  await run(
    "INSERT INTO sessions (token_hash, id, account_id, expires_at, begun_at, used_at, agent, provider) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
    [digest(token), v7(), accountId, at + sessionLasts, at, at, cut(agent, 400), provider],
  );
  await run(
    `DELETE FROM sessions WHERE account_id = ? AND id NOT IN
       (SELECT id FROM (SELECT id FROM sessions WHERE account_id = ? ORDER BY used_at DESC, id DESC LIMIT ${mostSessions}) kept)`,
    [accountId, accountId],
  );
  return token;
}

/** The columns and tables by which an account `a` says in whose way it wants dates and numbers written. */
export const localeColumns = "COALESCE(st.locale, i.locale) AS locale, COALESCE(st.hours, i.hours) AS hours";
export const localeTables = "LEFT JOIN account_settings st ON st.account_id = a.id LEFT JOIN institution i ON TRUE";
export interface LocaleFound {
  locale: string | null;
  hours: string | null;
}
/** A locale that is offered no more, or none at all, is the plain one. */
export const localeIn = ({ locale, hours }: LocaleFound): LocaleSetting => ({
  locale: locales.find((one) => one === locale) ?? plainLocale.locale,
  hours: hourChoices.find((one) => one === hours) ?? plainLocale.hours,
});

interface Found extends LocaleFound {
  administers: number;
  usedAt: number;
}
export async function accountOf(token: string | undefined): Promise<Account | null> {
  if (!token) return null;
  const at = Date.now();
  const [found] = await rows<Omit<Account, "administers" | "locale"> & Found>(
    `SELECT a.id, a.username, a.sourced_id AS sourcedId, a.display_name AS displayName, a.administers,
       s.used_at AS usedAt, ${localeColumns}
     FROM sessions s JOIN accounts a ON a.id = s.account_id AND a.disabled_at IS NULL ${localeTables}
     WHERE s.token_hash = ? AND s.expires_at > ? AND (s.used_at = 0 OR s.used_at > ?)`,
    [digest(token), at, at - idleLasts],
  );
  if (!found) return null;
  const { usedAt, administers, locale, hours, ...account } = found;
  if (usedAt < at - notedEvery) await run("UPDATE sessions SET used_at = ? WHERE token_hash = ?", [at, digest(token)]);
  return { ...account, administers: administers === 1, locale: localeIn({ locale, hours }) };
}

/** Ends a session; gives the identity provider that somebody signed in at, or null. */
export async function signOut(token: string): Promise<string | null> {
  const [found] = await rows<{ provider: string | null }>("SELECT provider FROM sessions WHERE token_hash = ?", [
    digest(token),
  ]);
  await run("DELETE FROM sessions WHERE token_hash = ?", [digest(token)]);
  return found?.provider ?? null;
}

/** What an account is made of. */
export interface NewAccount {
  username: string;
  /** The registrar's id: the account is whoever bears it in a course. */
  sourcedId: string;
  /** "Family, Given". */
  displayName: string;
  email?: string | null;
  /** Null: there is none yet. */
  passwordHash: string | null;
  administers?: boolean;
}

/**
 * Makes an account, or changes the name of the one that has this login or registrar's id; gives its id. Throws where the
 * username holds signs that nobody sees or types.
 */
export async function createAccount(account: NewAccount, runner?: PoolConnection): Promise<string> {
  const { username, sourcedId, displayName, email = null, passwordHash, administers = false } = account;
  const login = loginOf(username);
  if (login === null) throw new Error(`The username "${username}" holds signs that are not seen.`);
  await run(
    `INSERT INTO accounts (id, username, login, sourced_id, display_name, email, password_hash, administers)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?) ON DUPLICATE KEY UPDATE display_name = VALUES(display_name)`,
    [v7(), username, login, sourcedId, displayName, email, passwordHash, administers],
    runner,
  );
  const [made] = await rows<{ id: string }>("SELECT id FROM accounts WHERE login = ?", [login], runner);
  return made?.id ?? "";
}
