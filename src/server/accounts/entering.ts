/** Signing in with a password: a session, or first a second factor where the account has one or must have one. */
import { randomBytes } from "node:crypto";
import { loginOf } from "../../core/text/logins.ts";
import { rows, transaction } from "../store/database.ts";
import { openSession } from "./accounts.ts";
import { makeLink, openLink, spendLink } from "./one-time-links.ts";
import { hashPassword, isPassword } from "./passwords.ts";
import { hasSecondFactor, isSecondFactor, needsSecondFactor } from "./second-factor.ts";
import { noteEvent } from "./security-events.ts";
import { countTry, forgetTries } from "./sign-in-tries.ts";

/** A session's token; or that of somebody who has shown a password, and nothing else yet. */
export type Entered = { token: string } | { second: string };
export interface From {
  at: number;
  /** The browser, as it says. */
  agent: string;
  /** The network address. */
  address: string;
}

/** How long somebody may take to find their authenticator. */
const lasts = 10 * 60_000;

/** Lets somebody in whose password was right, or asks for more. */
export async function enter(accountId: string, { at, agent, address }: From): Promise<Entered> {
  if ((await hasSecondFactor(accountId)) || (await needsSecondFactor(accountId, at)))
    return { second: await makeLink("second", accountId, { at, lasts }) };
  await noteEvent({ kind: "signed in", accountId, address });
  return { token: await openSession(accountId, agent, at) };
}

// Verified when the username is unknown, so that the answer takes as long as for a known one.
let decoy: Promise<string> | null = null;

export type SignIn = Entered | { wrong: true } | { wait: number };

/** Checks a password, and lets somebody in or asks for a second factor. A login that holds invisible signs is nobody's, and counts as its address's try. */
export async function signIn(
  username: string,
  password: string,
  { at = Date.now(), agent = "", address = "" }: Partial<From> = {},
): Promise<SignIn> {
  const login = loginOf(username) ?? "";
  const { wait } = await countTry(login, address, at);
  if (wait > 0) {
    await noteEvent({ kind: "sign-in slowed", address });
    return { wait };
  }
  const [account] = await rows<{ id: string; password_hash: string | null }>(
    "SELECT id, password_hash FROM accounts WHERE login = ? AND disabled_at IS NULL",
    [login],
  );
  decoy ??= hashPassword(randomBytes(16).toString("hex"));
  const isRight = await isPassword(password, account?.password_hash ?? (await decoy));
  if (!account?.password_hash || !isRight) {
    await noteEvent({ kind: "sign-in failed", accountId: account?.id, address });
    return { wrong: true };
  }
  await forgetTries(login, address, at);
  return enter(account.id, { at, agent, address });
}

/** Who has shown a password and is asked for more; null where nobody has, or too long ago. */
export const halfEntered = async (second: string, at: number): Promise<string | null> =>
  (await openLink("second", second, at))?.accountId ?? null;

export type Second = { token: string } | { wrong: true } | { wait: number } | { gone: true };

/** A code was typed: counted before it is looked at, as passwords are. */
export async function enterByCode(second: string, typed: string, { at, agent, address }: From): Promise<Second> {
  const accountId = await halfEntered(second, at);
  if (!accountId) return { gone: true };
  const login = `code ${accountId}`;
  const { wait } = await countTry(login, address, at);
  if (wait > 0) return { wait };
  if (!(await isSecondFactor(accountId, typed, at))) {
    await noteEvent({ kind: "sign-in failed", accountId, what: "second factor", address });
    return { wrong: true };
  }
  await forgetTries(login, address, at);
  return finish(second, accountId, { at, agent, address });
}

/** The second factor has just been turned on: that was showing it. */
export async function finish(second: string, accountId: string, { at, agent, address }: From): Promise<Second> {
  if (!(await transaction((connection) => spendLink(second, connection)))) return { gone: true };
  await noteEvent({ kind: "signed in", accountId, what: "second factor", address });
  return { token: await openSession(accountId, agent, at) };
}
