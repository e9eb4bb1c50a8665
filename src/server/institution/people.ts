/** The accounts of the institution: looked for, made, disabled and opened again, and who administers. */
import type { NewAccount } from "../../api/institution.ts";
import { loginOf } from "../../core/text/logins.ts";
import { createAccount } from "../accounts/accounts.ts";
import { reached, sendPasswordLink } from "../accounts/choosing-password.ts";
import { dropFactor } from "../accounts/second-factor.ts";
import { noteEvent } from "../accounts/security-events.ts";
import { likeWords, rows, run, transaction } from "../store/database.ts";
import { displayNameOf, sourcedIdOf } from "./institution.ts";
import { mostCounted, type Page, pageOf } from "./pages.ts";

export interface ListedAccount {
  id: string;
  username: string;
  displayName: string;
  sourcedId: string;
  email: string | null;
  administers: boolean;
  isDisabled: boolean;
  /** False until somebody chose one. */
  hasPassword: boolean;
  hasFactor: boolean;
}

type Flags = "administers" | "isDisabled" | "hasPassword" | "hasFactor";

/** Accounts whose name, username, address or registrar's id begin with the words; all where none are typed. */
export async function accountsListed(words: string, asked: number): Promise<Page<ListedAccount>> {
  const { sql, values } = namedBy(words.trim());
  const [count] = await rows<{ all: number }>(`SELECT COUNT(*) AS \`all\` FROM (${sql}) AS named`, values);
  const { from, most, ...about } = pageOf(asked, Number(count?.all ?? 0));
  const found = await rows<Omit<ListedAccount, Flags> & Record<Flags, number>>(
    // Which they are is read from indexes alone; of half a million rows nothing else is passed over.
    `SELECT a.id, a.username, a.display_name AS displayName, a.sourced_id AS sourcedId, a.email, a.administers,
       a.disabled_at IS NOT NULL AS isDisabled, a.password_hash IS NOT NULL AS hasPassword,
       EXISTS (SELECT 1 FROM second_factors f WHERE f.account_id = a.id AND f.confirmed_at IS NOT NULL) AS hasFactor
     FROM (SELECT id FROM (${sql}) AS named ORDER BY display_name, id LIMIT ${most} OFFSET ${from}) AS page
     JOIN accounts a ON a.id = page.id ORDER BY a.display_name, a.id`,
    values,
  );
  return {
    ...about,
    rows: found.map((one) => ({
      ...one,
      administers: Boolean(one.administers),
      isDisabled: Boolean(one.isDisabled),
      hasPassword: Boolean(one.hasPassword),
      hasFactor: Boolean(one.hasFactor),
    })),
  };
}

/** Ids and names of the accounts that a word names, as many as are counted; each way of being named goes by an index of its own. */
function namedBy(word: string): { sql: string; values: string[] } {
  const bound = mostCounted + 1;
  if (!word)
    return { sql: `SELECT id, display_name FROM accounts ORDER BY display_name, id LIMIT ${bound}`, values: [] };
  const like = `${likeWords(word)}%`;
  const ways = { display_name: like, login: `${likeWords(loginOf(word) ?? word)}%`, email: like, sourced_id: like };
  const each = Object.keys(ways).map(
    (column) => `(SELECT id, display_name FROM accounts WHERE ${column} LIKE ? ORDER BY ${column} LIMIT ${bound})`,
  );
  return { sql: `${each.join(" UNION ")} LIMIT ${bound}`, values: Object.values(ways) };
}

export type PeopleAnswer = { done: string } | { wrong: string };

/** Makes an account and sends its owner an address to choose a password at. */
export async function invite(person: NewAccount, by: string, at: number): Promise<PeopleAnswer> {
  const sourcedId = sourcedIdOf(person);
  const [taken] = await rows<{ username: string; sourcedId: string }>(
    "SELECT username, sourced_id AS sourcedId FROM accounts WHERE login = ? OR sourced_id = ?",
    [loginOf(person.username) ?? "", sourcedId],
  );
  if (taken) return { wrong: `There is an account "${taken.username}" (${taken.sourcedId}) already.` };
  const displayName = displayNameOf(person);
  const { username, email } = person;
  const id = await createAccount({ username, sourcedId, displayName, email, passwordHash: null });
  await sendPasswordLink({ id, username, displayName, address: email }, { at, reason: "invited" });
  await noteEvent({ kind: "account changed", accountId: by, what: `made ${id}` });
  return { done: `${displayName} has an account, and a letter to ${email} says how to sign in.` };
}

const changes = {
  disable: "disabled_at = ?",
  open: "disabled_at = NULL",
  promote: "administers = 1",
  demote: "administers = 0",
} as const;
export type AccountChange = keyof typeof changes;
export const isAccountChange = (name: string): name is AccountChange => Object.hasOwn(changes, name);

/** Changes an account. What somebody did stays theirs. The institution keeps an administrator who can sign in. */
export async function changeAccount(
  accountId: string,
  change: AccountChange,
  { by, at }: { by: string; at: number },
): Promise<PeopleAnswer | null> {
  const answer = await transaction(async (connection): Promise<PeopleAnswer | null> => {
    const administrators = await rows<{ id: string }>(
      "SELECT id FROM accounts WHERE administers = 1 AND disabled_at IS NULL FOR UPDATE",
      [],
      connection,
    );
    const [found] = await rows<{ displayName: string; username: string }>(
      "SELECT display_name AS displayName, username FROM accounts WHERE id = ? FOR UPDATE",
      [accountId],
      connection,
    );
    if (!found) return null;
    const takesAway = change === "disable" || change === "demote";
    if (takesAway && administrators.every(({ id }) => id === accountId))
      return { wrong: `${found.displayName} is the only administrator. Let somebody else administer first.` };
    const values = change === "disable" ? [at, accountId] : [accountId];
    await run(`UPDATE accounts SET ${changes[change]} WHERE id = ?`, values, connection);
    if (change === "disable") {
      await run("DELETE FROM sessions WHERE account_id = ?", [accountId], connection);
      await run("DELETE FROM one_time_links WHERE account_id = ?", [accountId], connection);
    }
    const words: Record<AccountChange, string> = {
      disable: "cannot sign in any more, and was signed out. What they did stays theirs.",
      open: "can sign in again.",
      promote: "administers the institution.",
      demote: "does not administer the institution any more.",
    };
    return { done: `${found.displayName} ${words[change]}` };
  });
  if (answer && "done" in answer)
    await noteEvent({ kind: "account changed", accountId: by, what: `${change} ${accountId}` });
  return answer;
}

/** Takes somebody's second factor away, who has lost what shows it; null where there is no such account. */
export async function takeFactorAway(accountId: string, by: string): Promise<PeopleAnswer | null> {
  const [found] = await rows<{ displayName: string }>("SELECT display_name AS displayName FROM accounts WHERE id = ?", [
    accountId,
  ]);
  if (!found) return null;
  await dropFactor(accountId, by);
  return { done: `${found.displayName} signs in by password alone, until they set up another second factor.` };
}

/** Sends somebody an address to choose a password at; null where there is no such account. */
export async function sendInvitation(accountId: string, by: string, at: number): Promise<PeopleAnswer | null> {
  const [found] = await rows<{ username: string; displayName: string; address: string | null; isDisabled: number }>(
    `SELECT a.username, a.display_name AS displayName, a.disabled_at IS NOT NULL AS isDisabled, ${reached} AS address
     FROM accounts a WHERE a.id = ?`,
    [accountId],
  );
  if (!found) return null;
  const { username, displayName, address } = found;
  if (found.isDisabled) return { wrong: `${displayName} is disabled. Open the account first.` };
  if (!address) return { wrong: `No e-mail address of ${displayName} is known, or rosters differ over it.` };
  await sendPasswordLink({ id: accountId, username, displayName, address }, { at, reason: "invited" });
  await noteEvent({ kind: "account changed", accountId: by, what: `invited ${accountId}` });
  return { done: `A letter to ${address} says how to choose a password.` };
}
