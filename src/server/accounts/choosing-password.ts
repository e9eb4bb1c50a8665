/**
 * Choosing a password by a letter: the first one, or another where it was lost. Whoever is on a roster can, as soon as the
 * roster is in: their account is made when they first ask. Nobody learns from the answer who has an account.
 */
import { loginOf } from "../../core/text/logins.ts";
import { config } from "../config.ts";
import { addressInLetters } from "../http/address.ts";
import { institution } from "../institution/institution.ts";
import { emailAtRegistrar, hasRegistrar } from "../intake/registrar.ts";
import { writeLetter } from "../jobs/account-letters.ts";
import { log } from "../log.ts";
import { rows, run, transaction } from "../store/database.ts";
import { type Account, createAccount } from "./accounts.ts";
import { type Entered, enter } from "./entering.ts";
import { makeLink, openLink, spendLink } from "./one-time-links.ts";
import { hashPassword, isPassword, whyNotPassword } from "./passwords.ts";
import { noteEvent } from "./security-events.ts";
import { countTry, forgetTries } from "./sign-in-tries.ts";

const hour = 3_600_000;
/** Whoever is invited may be on leave; whoever asked is waiting. */
const lasts = { invited: 7 * 24 * hour, asked: hour };

interface Reachable {
  id: string;
  username: string;
  displayName: string;
  address: string;
}

/**
 * Where somebody's letters go: the account's own address, or the one that all rosters give. A coordinator who writes another
 * beside somebody's id gets no letter of theirs: of two addresses neither is believed.
 */
export const reached = `COALESCE(a.email, (SELECT IF(COUNT(DISTINCT p.email) = 1, MAX(p.email), NULL) FROM people p
  WHERE p.sourced_id = a.sourced_id))`;

/** The account that somebody means by a login or an address; disabled ones are nobody's. */
async function accountMeant(login: string, typed: string): Promise<Reachable | null> {
  const found = await rows<Reachable>(
    `SELECT a.id, a.username, a.display_name AS displayName, ${reached} AS address FROM accounts a
     WHERE a.disabled_at IS NULL AND (a.login = ? OR a.email = ? OR a.sourced_id IN
       (SELECT p.sourced_id FROM people p WHERE p.email = ?)) HAVING address IS NOT NULL LIMIT 2`,
    [login, typed, typed],
  );
  // An address that two share names neither.
  return found.length === 1 ? (found[0] ?? null) : null;
}

/**
 * Somebody on a roster who never signed in gets an account, with the address that is written to from then on. Null where no
 * roster has that login or address, where rosters differ over it, or where the registrar, if it can be asked, has another: a
 * roster is a file that a coordinator brings, and whoever brings it does not become anybody they name in it.
 */
async function firstAccount(typed: string, at: number): Promise<Reachable | null> {
  const found = await rows<{ sourcedId: string; username: string | null; email: string; name: string; emails: number }>(
    `SELECT p.sourced_id AS sourcedId, MAX(p.username) AS username, MAX(p.email) AS email,
       MAX(CONCAT(p.family_name, ', ', p.given_name)) AS name,
       (SELECT COUNT(DISTINCT o.email) FROM people o WHERE o.sourced_id = p.sourced_id) AS emails
     FROM people p JOIN enrolments e ON e.person_id = p.id AND e.origin = 'roster' AND e.since <= ?
       AND (e.until IS NULL OR e.until > ?)
     WHERE (p.username = ? OR p.email = ?) AND p.email IS NOT NULL
       AND NOT EXISTS (SELECT 1 FROM accounts a WHERE a.sourced_id = p.sourced_id)
     GROUP BY p.sourced_id LIMIT 2`,
    [at, at, typed, typed],
  );
  const [person] = found;
  if (!person || found.length > 1 || Number(person.emails) !== 1) return null;
  const { sourcedId, name: displayName, email } = person;
  if (hasRegistrar() && (await emailAtRegistrar(sourcedId))?.toLowerCase() !== email.toLowerCase()) return null;
  const username = person.username || email;
  const login = loginOf(username);
  const [taken] = login === null ? [true] : await rows("SELECT 1 FROM accounts WHERE login = ?", [login]);
  if (taken) return null;
  const id = await createAccount({ username, sourcedId, displayName, email, passwordHash: null });
  await noteEvent({ kind: "account changed", accountId: id, what: "made: on a roster" });
  return { id, username, displayName, address: email };
}

/** Sends somebody an address at which they choose a password. */
export async function sendPasswordLink(
  to: Reachable,
  { at, reason }: { at: number; reason: keyof typeof lasts },
): Promise<void> {
  const token = await makeLink("password", to.id, { at, lasts: lasts[reason] });
  const name = (await institution())?.name ?? "Amber Weave";
  const until = reason === "asked" ? "an hour" : "a week";
  await writeLetter(
    {
      accountId: to.id,
      address: to.address,
      subject: reason === "asked" ? `Choose a password, ${name}` : `Your account, ${name}`,
      body: [
        reason === "asked"
          ? `Somebody, most likely you, asked for a password for ${to.username}.`
          : `You have an account at ${name}. Your username is ${to.username}.`,
        `Choose a password here:\n${addressInLetters(`/password/${token}`)}`,
        `This address works once, for ${until}.${reason === "asked" ? " If it was not you who asked, do nothing: your password stays as it is." : ""}`,
      ].join("\n\n"),
    },
    at,
  );
}

/**
 * Somebody typed a login or an address and wants a password. Gives the seconds to wait where they ask too often. Whether a
 * letter is written is found out after the answer, so that it takes as long for everybody.
 */
export async function askForPassword(typed: string, from: { at: number; address: string }): Promise<{ wait: number }> {
  const login = loginOf(typed) ?? "";
  // Counted apart from signing in: who has lost a password has just mistyped it.
  const { wait } = await countTry(`letter ${login}`, from.address, from.at);
  if (wait > 0) return { wait };
  const write = async () => {
    const to = (await accountMeant(login, typed)) ?? (await firstAccount(typed, from.at));
    if (to) await sendPasswordLink(to, { at: from.at, reason: "asked" });
  };
  void write().catch((error) => log.error({ error: String(error) }, "a letter for a password was not written"));
  return { wait: 0 };
}

interface Owner {
  id: string;
  username: string;
  displayName: string;
  email: string | null;
  passwordHash: string | null;
}
const ownerOf = async (accountId: string): Promise<Owner | null> =>
  (
    await rows<Owner>(
      `SELECT id, username, display_name AS displayName, email, password_hash AS passwordHash FROM accounts
       WHERE id = ? AND disabled_at IS NULL`,
      [accountId],
    )
  )[0] ?? null;

/** Whether somebody signs in here with a password of their own: not whom an identity provider vouches for alone. */
export const hasPassword = async (accountId: string): Promise<boolean> =>
  config().AMBER_LOCAL_SIGN_IN === "on" && Boolean((await ownerOf(accountId))?.passwordHash);

/** Why a password cannot be this account's; null where it can. */
async function whyNotTheirs({ username, displayName, email }: Owner, password: string): Promise<string | null> {
  return whyNotPassword(password, [username, displayName, email ?? "", (await institution())?.name ?? ""]);
}

/** Whose password a link chooses; null where it does not work. */
export async function ownerOfLink(token: string, at: number): Promise<Pick<Owner, "username" | "displayName"> | null> {
  const link = await openLink("password", token, at);
  return link?.accountId ? ownerOf(link.accountId) : null;
}

export type Chosen = Entered | { wrong: string } | { gone: true };

/** Chooses a password by a link, ends all sessions there were, and signs in. */
export async function choosePassword(
  token: string,
  password: string,
  { at, agent, address }: { at: number; agent: string; address: string },
): Promise<Chosen> {
  const link = await openLink("password", token, at);
  const owner = link?.accountId ? await ownerOf(link.accountId) : null;
  if (!owner) return { gone: true };
  const wrong = await whyNotTheirs(owner, password);
  if (wrong) return { wrong };
  const passwordHash = await hashPassword(password);
  const isUsed = await transaction(async (connection) => {
    if (!(await spendLink(token, connection))) return false;
    await run("UPDATE accounts SET password_hash = ? WHERE id = ?", [passwordHash, owner.id], connection);
    await run("DELETE FROM sessions WHERE account_id = ?", [owner.id], connection);
    return true;
  });
  if (!isUsed) return { gone: true };
  await noteEvent({ kind: "password changed", accountId: owner.id, address });
  await forgetTries(loginOf(owner.username) ?? "", address, at);
  return enter(owner.id, { at, agent, address });
}

/** Why what was typed is not somebody's password now; null where it is. Counted before it is looked at. */
export async function whyNotOwn(
  { id, username }: Account,
  { typed, address, at }: { typed: string; address: string; at: number },
): Promise<string | null> {
  const { wait } = await countTry(loginOf(username) ?? "", address, at);
  if (wait > 0) return `Too many tries that failed. Wait ${wait} ${wait === 1 ? "second" : "seconds"}, then try again.`;
  const owner = await ownerOf(id);
  if (!owner?.passwordHash || !(await isPassword(typed, owner.passwordHash)))
    return "That is not your password now. Type it again.";
  await forgetTries(loginOf(username) ?? "", address, at);
  return null;
}

/** Changes a password by the one there is; other sessions end. Gives what is wrong, or nothing. */
export async function changePassword(
  account: Account,
  { current, next, address, at }: { current: string; next: string; address: string; at: number },
  endOthers: () => Promise<void>,
): Promise<string | null> {
  const why = await whyNotOwn(account, { typed: current, address, at });
  if (why) return why;
  const { id } = account;
  const owner = await ownerOf(id);
  const wrong = owner ? await whyNotTheirs(owner, next) : "There is no such account any more.";
  if (wrong) return wrong;
  await run("UPDATE accounts SET password_hash = ? WHERE id = ?", [await hashPassword(next), id]);
  await endOthers();
  await noteEvent({ kind: "password changed", accountId: id, address });
  return null;
}
