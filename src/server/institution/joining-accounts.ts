/** Two accounts of one person become one: it has the places of both in courses; what either did stays under its name. */
import type { PoolConnection } from "mysql2/promise";
import { put } from "../../core/plan/command.ts";
import type { Person } from "../../core/plan/types.ts";
import { loginOf } from "../../core/text/logins.ts";
import { plural } from "../../core/text/plural.ts";
import { noteEvent } from "../accounts/security-events.ts";
import { now } from "../clock.ts";
import { lockCourse, moveCourse } from "../store/courses.ts";
import { rows, run, transaction } from "../store/database.ts";
import type { PeopleAnswer } from "./people.ts";

interface Joined {
  id: string;
  username: string;
  sourcedId: string;
  displayName: string;
  administers: number;
}
const columns = "id, username, sourced_id AS sourcedId, display_name AS displayName, administers";

/**
 * Joins the account that a username or registrar's id names into another, which is kept. The courses that knew the one by its id know
 * the other by theirs from then on, and the one cannot be signed in with any more. Null where there is no account to keep.
 */
export async function joinAccounts(keptId: string, typed: string, by: string): Promise<PeopleAnswer | null> {
  return transaction(async (connection) => {
    const [kept] = await rows<Joined>(`SELECT ${columns} FROM accounts WHERE id = ? FOR UPDATE`, [keptId], connection);
    if (!kept) return null;
    const [other] = await rows<Joined>(
      `SELECT ${columns} FROM accounts WHERE login = ? OR sourced_id = ? LIMIT 1 FOR UPDATE`,
      [loginOf(typed) ?? "", typed],
      connection,
    );
    if (!other) return { wrong: `"${typed}" is nobody's username or registrar's id. Nothing was joined.` };
    if (other.id === kept.id) return { wrong: "That is this account itself. Nothing was joined." };
    if (other.administers === 1)
      return {
        wrong: `${other.displayName} (${other.username}) administers the institution. Let them no longer administer first.`,
      };
    const places = await rows<{ courseId: string; code: string; both: number }>(
      `SELECT p.course_id AS courseId, c.code, EXISTS (SELECT 1 FROM people o WHERE o.course_id = p.course_id AND o.sourced_id = ?) AS \`both\`
       FROM people p JOIN courses c ON c.id = p.course_id WHERE p.sourced_id = ? ORDER BY p.course_id`,
      [kept.sourcedId, other.sourcedId],
      connection,
    );
    const twice = places.filter(({ both }) => both === 1).map(({ code }) => code);
    if (twice.length > 0)
      return { wrong: `Both are in ${twice.join(", ")}: end one of the places there first. Nothing was joined.` };
    for (const { courseId } of places) await renameIn(courseId, { kept, other, by }, connection);
    await run("UPDATE accounts SET disabled_at = ?, password_hash = NULL WHERE id = ?", [now(), other.id], connection);
    for (const table of ["sessions", "one_time_links", "second_factors", "recovery_codes", "calendar_addresses"])
      await run(`DELETE FROM ${table} WHERE account_id = ?`, [other.id], connection);
    await noteEvent({ kind: "account changed", accountId: by, what: `joined ${other.id} into ${kept.id}` });
    return {
      done: `${other.username} is joined into ${kept.username}, with the places in ${plural(places.length, "course")}. What was done under either stays there.`,
    };
  });
}

/** The person of a course under the other id: the same record, with all that hangs on it. */
async function renameIn(
  courseId: string,
  { kept, other, by }: { kept: Joined; other: Joined; by: string },
  connection: PoolConnection,
): Promise<void> {
  const stored = await lockCourse(courseId, connection);
  const person = stored && Object.values(stored.plan.people).find(({ sourcedId }) => sourcedId === other.sourcedId);
  if (!stored || !person) return;
  const next: Person = { ...person, sourcedId: kept.sourcedId };
  const lines = [
    { says: `Two accounts of ${person.givenName} ${person.familyName} were joined`, detail: { personId: person.id } },
  ];
  const entry = { accountId: by, at: now(), kind: "staff" as const, lines };
  await moveCourse(courseId, stored, put(stored.plan, "people", [next]), entry, connection);
}
