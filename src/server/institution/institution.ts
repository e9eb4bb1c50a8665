/** The institution that runs the application: whether it is set up, and with what. */
import { v7 } from "uuid";
import type { Institution, NewAccount, SetUp } from "../../api/institution.ts";
import { createAccount } from "../accounts/accounts.ts";
import { makeLink, spendLink } from "../accounts/one-time-links.ts";
import { hashPassword, whyNotPassword } from "../accounts/passwords.ts";
import { noteEvent } from "../accounts/security-events.ts";
import { addressInLetters } from "../http/address.ts";
import { rows, run, transaction } from "../store/database.ts";
import { insertTerm } from "./terms.ts";

/** Null until it is set up. */
export async function institution(): Promise<Institution | null> {
  const [found] = await rows<Institution>("SELECT name, time_zone AS timeZone, locale, hours FROM institution");
  return found ?? null;
}

/** A month: whoever installs it need not be who sets it up. */
const setUpLasts = 30 * 86_400_000;

/** A new address to set up with; null where that was done. An address that was given before does not work any more. */
export async function setUpAddress(at: number): Promise<string | null> {
  if (await institution()) return null;
  const token = await makeLink("set-up", null, { at, lasts: setUpLasts });
  return addressInLetters(`/set-up/${token}`);
}

/** Who has no registrar's id is known by an id that no registrar gives. */
export const sourcedIdOf = ({ sourcedId, username }: Pick<NewAccount, "sourcedId" | "username">): string =>
  sourcedId || `local:${username}`.slice(0, 100);
export const displayNameOf = ({ familyName, givenName }: Pick<NewAccount, "familyName" | "givenName">): string =>
  `${familyName}, ${givenName}`;
/** What whoever guesses a password knows of somebody. */
export const knownOf = ({ username, email, givenName, familyName }: NewAccount): string[] => [
  username,
  email,
  givenName,
  familyName,
];

export type SetUpAnswer = { done: true; administrators: string[] } | { wrong: string };

/**
 * Sets the institution up, whole or not at all, and once: with the token of a one-time address, or without one where a file
 * beside the program says so. Gives the ids of the administrators' accounts.
 */
export async function setUp(asked: SetUp, token: string | null, at: number): Promise<SetUpAnswer> {
  const hashes: (string | null)[] = [];
  for (const { password, ...person } of asked.administrators) {
    const why = password === undefined ? null : whyNotPassword(password, [...knownOf(person), asked.institution.name]);
    if (why) return { wrong: why };
    hashes.push(password === undefined ? null : await hashPassword(password));
  }
  const answer = await transaction(async (connection): Promise<SetUpAnswer> => {
    const used = token === null || (await spendLink(token, connection));
    const [there] = await rows("SELECT 1 FROM institution FOR UPDATE", [], connection);
    if (!used || there)
      return {
        wrong: "This was set up already, and nothing was changed. Sign in with the account that was made then.",
      };
    const { name, timeZone, locale, hours } = asked.institution;
    const columns = "INSERT INTO institution (name, time_zone, locale, hours, set_up_at) VALUES (?, ?, ?, ?, ?)";
    await run(columns, [name, timeZone, locale, hours, at], connection);
    for (const term of asked.terms) await insertTerm(v7(), term, { by: null, at }, connection);
    const administrators: string[] = [];
    for (const [place, person] of asked.administrators.entries())
      administrators.push(
        await createAccount(
          {
            username: person.username,
            sourcedId: sourcedIdOf(person),
            displayName: displayNameOf(person),
            email: person.email,
            passwordHash: hashes[place] ?? null,
            administers: true,
          },
          connection,
        ),
      );
    return { done: true, administrators };
  });
  if ("done" in answer) await noteEvent({ kind: "set up" });
  return answer;
}

/** Changes what the institution is called, where its clock is, and in whose way its dates are written. */
export const changeInstitution = ({ name, timeZone, locale, hours }: Institution): Promise<number> =>
  run("UPDATE institution SET name = ?, time_zone = ?, locale = ?, hours = ?", [name, timeZone, locale, hours]);
