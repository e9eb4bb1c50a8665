/**
 * Erasing a person: their name, addresses and words go, out of every course and its history; marks and threads of others stay
 * whole, so a nameless person stands where they stood. It cannot be taken back, and it says what remains and why.
 */
import type { PoolConnection } from "mysql2/promise";
import { put } from "../../core/plan/command.ts";
import type { RowChange } from "../../core/plan/difference.ts";
import { fullName, holdsAt, plainName } from "../../core/plan/lookup.ts";
import type { Person, Plan } from "../../core/plan/types.ts";
import { plural } from "../../core/text/plural.ts";
import { noteEvent } from "../accounts/security-events.ts";
import { deletedPaper } from "../attempts/rows.ts";
import { now } from "../clock.ts";
import { compressJson, expandJson } from "../store/compressed-json.ts";
import { isStaff, lockCourse, moveCourse } from "../store/courses.ts";
import { likeWords, parameters, rows, run, transaction } from "../store/database.ts";
import { deleteStored } from "../store/files.ts";
import type { StoredPlan } from "../store/plan-rows.ts";
import { touched } from "../store/progress.ts";

interface Erased {
  id: string;
  username: string;
  sourcedId: string;
  displayName: string;
  administers: number;
}
interface Place {
  courseId: string;
  personId: string;
  code: string;
}
const accountOfId = async (accountId: string): Promise<Erased | null> =>
  (
    await rows<Erased>(
      `SELECT id, username, sourced_id AS sourcedId, display_name AS displayName, administers FROM accounts WHERE id = ?`,
      [accountId],
    )
  )[0] ?? null;
/** Where somebody is in a plan, or was once. */
const placesOf = (sourcedId: string): Promise<Place[]> =>
  rows<Place>(
    `SELECT p.course_id AS courseId, p.id AS personId, c.code FROM people p JOIN courses c ON c.id = p.course_id
     WHERE p.sourced_id = ?
     UNION SELECT f.course_id, f.person_id, c.code FROM former_people f JOIN courses c ON c.id = f.course_id
     WHERE f.sourced_id = ? ORDER BY code`,
    [sourcedId, sourcedId],
  );

export interface ErasureLook {
  username: string;
  displayName: string;
  goes: string[];
  remains: string[];
}

/** What erasing would do, or why it cannot be done yet; null where there is no such account. */
export async function lookAtErasing(accountId: string): Promise<ErasureLook | { wrong: string } | null> {
  const account = await accountOfId(accountId);
  if (!account) return null;
  const { username, sourcedId, displayName } = account;
  const wrong = await whyNotErase(account);
  if (wrong) return { wrong };
  const places = await placesOf(sourcedId);
  const ids = places.map(({ personId }) => personId);
  const count = async (table: string) => {
    if (ids.length === 0) return 0;
    const sql = `SELECT COUNT(*) AS count FROM ${table} WHERE person_id IN (${parameters(ids)})`;
    return Number((await rows<{ count: number }>(sql, ids))[0]?.count ?? 0);
  };
  const [handIns, posts, marks, notices] = await Promise.all(["hand_ins", "posts", "marks", "deliveries"].map(count));
  return {
    username,
    displayName,
    goes: [
      `The account, with sessions, settings and what was noted of its sign-ins.`,
      `Name, login, e-mail and attributes in ${plural(places.length, "course")}${places.length > 0 ? `: ${places.map(({ code }) => code).join(", ")}` : ""}, out of their histories as well; whoever is enrolled leaves.`,
      `The words and files of ${plural(handIns ?? 0, "hand-in")} and ${plural(posts ?? 0, "post")}, and ${plural(notices ?? 0, "notice")} to them.`,
      "Comments and notes of staff about them.",
    ],
    remains: [
      `${plural(marks ?? 0, "mark")} without a name: statistics and totals of groups are made of them.`,
      "Where a post was, that there was one: what others answered stays in its place.",
      "What other people wrote of them in their own words: nobody but those people knows of whom it is.",
      "Backups that were written before. Delete those when they are as old as your rules say.",
      "The registrar's rosters: whoever stands on one that is taken in later comes back as somebody new.",
    ],
  };
}

async function whyNotErase({ sourcedId, administers, displayName }: Erased): Promise<string | null> {
  if (administers === 1) return `${displayName} administers the institution. Let them no longer administer first.`;
  if (await isStaff(sourcedId, now()))
    return `${displayName} is on the staff of a course. End that first: what they decide there would be nobody's.`;
  for (const { courseId, personId, code } of await placesOf(sourcedId)) {
    const names = [personId, sourcedId].map((word) => `%${likeWords(word)}%`);
    const [found] = await rows(
      `SELECT 1 FROM draft_commands WHERE course_id = ? AND (command LIKE ? OR command LIKE ?)
       UNION ALL SELECT 1 FROM proposals WHERE course_id = ? AND state = 'waiting' AND (commands LIKE ? OR commands LIKE ?) LIMIT 1`,
      [courseId, ...names, courseId, ...names],
    );
    if (found) return `A draft or a proposal in ${code} names them. Have it published or dropped first.`;
  }
  return null;
}

export type Erasing = { erased: true } | { wrong: string };

/** Erases, a course at a time, the account last: begun again after a failure it goes on. */
export async function erase(accountId: string, by: string): Promise<Erasing | null> {
  const account = await accountOfId(accountId);
  if (!account) return null;
  const wrong = await whyNotErase(account);
  if (wrong) return { wrong };
  for (const place of await placesOf(account.sourcedId))
    await transaction((connection) => eraseIn(place, account, by, connection));
  await transaction((connection) => eraseAccount(accountId, connection));
  await noteEvent({ kind: "account changed", accountId: by, what: "erased a person" });
  return { erased: true };
}

const nameless = (person: Person): Person => ({
  ...{ id: person.id, sourcedId: `erased ${person.id}`, username: null, email: null },
  ...{ givenName: "Erased", familyName: `person ${person.id.slice(-4)}`, attributes: {} },
});

async function eraseIn(
  { courseId, personId }: Place,
  { sourcedId }: Erased,
  by: string,
  connection: PoolConnection,
): Promise<void> {
  const stored = await lockCourse(courseId, connection);
  if (!stored) return;
  const person = stored.plan.people[personId];
  if (person?.sourcedId === sourcedId) await eraseRow(stored, person, by, connection);
  await eraseWords(courseId, personId, connection);
  const names = await eraseHistory(courseId, personId, sourcedId, connection);
  for (const one of names) await eraseLines(courseId, stored.plan, one, connection);
  await run("DELETE FROM former_people WHERE course_id = ? AND sourced_id = ?", [courseId, sourcedId], connection);
  await run(touched, [courseId], connection);
}

/** Somebody who is in the plan leaves, and stands there without a name. */
async function eraseRow(stored: StoredPlan, person: Person, by: string, connection: PoolConnection): Promise<void> {
  const at = now();
  const personId = person.id;
  const open = Object.values(stored.plan.enrolments).filter((row) => row.personId === personId && holdsAt(row, at));
  const next = put(
    put(stored.plan, "people", [nameless(person)]),
    "enrolments",
    open.map((row) => ({ ...row, until: at })),
  );
  const lines = [{ says: "A person was erased", detail: {} }];
  const entry = { accountId: by, at, kind: "sections" as const, lines };
  await moveCourse(stored.plan.course.id, stored, next, entry, connection);
}

/** What they wrote and handed in, and what staff wrote of it. */
async function eraseWords(courseId: string, personId: string, connection: PoolConnection): Promise<void> {
  const own = [courseId, personId];
  const files = await rows<{ id: string; size: number; accountId: string }>(
    `SELECT f.id, f.size, f.stored_by AS accountId FROM files f WHERE f.course_id = ? AND (f.id IN (SELECT file_id FROM hand_ins WHERE course_id = ? AND person_id = ?)
       OR f.id IN (SELECT file_id FROM posts WHERE course_id = ? AND person_id = ?)
       OR f.id IN (SELECT file_id FROM attempt_answers WHERE course_id = ? AND holder_id = ?))`,
    [courseId, ...own, ...own, ...own],
    connection,
  );
  const posts = "SELECT id FROM posts WHERE course_id = ? AND person_id = ?";
  await run(`DELETE FROM post_versions WHERE post_id IN (${posts})`, own, connection);
  const statements = [
    "UPDATE hand_ins SET body = '', link = NULL, file_id = NULL WHERE course_id = ? AND person_id = ?",
    "UPDATE posts SET body = 'Erased.', is_html = FALSE, file_id = NULL WHERE course_id = ? AND person_id = ?",
    // What somebody answered goes; what a group worked on together stays the group's.
    "DELETE FROM attempt_answers WHERE course_id = ? AND holder_id = ?",
    `UPDATE attempts SET paper = '${deletedPaper}', reason = '' WHERE course_id = ? AND holder_id = ?`,
    "DELETE FROM remarks WHERE course_id = ? AND holder_id = ?",
    "DELETE FROM staff_notes WHERE course_id = ? AND about_id = ?",
    "DELETE FROM deliveries WHERE course_id = ? AND person_id = ?",
    "DELETE FROM calendar_addresses WHERE course_id = ? AND target_id = ?",
  ];
  for (const sql of statements) await run(sql, own, connection);
  await deleteStored(
    files.map((file) => ({ ...file, courseId })),
    connection,
  );
}

/**
 * Every step of the plan that ever named them, and every roster that was looked at. Gives who they were in those steps, each
 * spelling once.
 */
async function eraseHistory(
  courseId: string,
  personId: string,
  sourcedId: string,
  connection: PoolConnection,
): Promise<Person[]> {
  const were = new Map<string, Person>();
  const steps = await rows<{ revision: number; changes: Buffer }>(
    "SELECT revision, changes FROM revisions WHERE course_id = ?",
    [courseId],
    connection,
  );
  for (const { revision, changes } of steps) {
    const list = await expandJson<RowChange[]>(changes);
    if (!list.some(({ table, id }) => table === "people" && id === personId)) continue;
    const without = (row: RowChange["before"]) => {
      const person = row as unknown as Person | null;
      if (person?.sourcedId !== sourcedId) return row;
      were.set(JSON.stringify([fullName(person), person.email, person.username]), person);
      return nameless(person) as unknown as typeof row;
    };
    const next = list.map((one) =>
      one.table === "people" && one.id === personId
        ? { ...one, before: without(one.before), after: without(one.after) }
        : one,
    );
    const where = "UPDATE revisions SET changes = ? WHERE course_id = ? AND revision = ?";
    await run(where, [await compressJson(next), courseId, revision], connection);
  }
  const intakes = await rows<{ id: string; lookedAt: Buffer }>(
    "SELECT id, looked_at AS lookedAt FROM intakes WHERE course_id = ? AND looked_at IS NOT NULL",
    [courseId],
    connection,
  );
  for (const { id, lookedAt } of intakes) {
    const looked =
      await expandJson<Record<"rows" | "missing", { sourcedId: string; name: string; says?: string }[]>>(lookedAt);
    const without = <Row extends { sourcedId: string }>(row: Row): Row =>
      row.sourcedId === sourcedId
        ? { ...row, name: "Erased person", sourcedId: "", ...("says" in row && { says: "" }) }
        : row;
    const next = { ...looked, rows: looked.rows.map(without), missing: looked.missing.map(without) };
    await run("UPDATE intakes SET looked_at = ? WHERE id = ?", [await compressJson(next), id], connection);
  }
  // Rosters as they came are not kept: one that waited is drawn again.
  await run(
    "UPDATE pulls SET roster = NULL, state = IF(state = 'waiting', 'put away', state) WHERE course_id = ? AND roster IS NOT NULL",
    [courseId],
    connection,
  );
  return [...were.values()];
}

/** Lines of the journal and past proposals that name them; a name that somebody else bears as well is left. */
async function eraseLines(courseId: string, plan: Plan, person: Person, connection: PoolConnection): Promise<void> {
  const { sourcedId } = person;
  const shared = Object.values(plan.people).some((one) => one.id !== person.id && plainName(one) === plainName(person));
  const names = shared ? [] : [plainName(person), fullName(person)];
  const words = [...names, sourcedId, person.email, person.username].filter((word) => word && word.length > 3);
  for (const word of words as string[])
    for (const column of ["says", "detail"]) {
      const sql = `UPDATE journal SET ${column} = REPLACE(${column}, ?, 'Erased person') WHERE course_id = ? AND ${column} LIKE ?`;
      await run(sql, [word, courseId, `%${likeWords(word)}%`], connection);
    }
  await run(
    "UPDATE proposals SET commands = '[]' WHERE course_id = ? AND state <> 'waiting' AND (commands LIKE ? OR commands LIKE ?)",
    [courseId, `%${person.id}%`, `%${likeWords(sourcedId)}%`],
    connection,
  );
}

/** The row stays, since what others did may name it: with nobody behind it, and no way in. */
async function eraseAccount(accountId: string, connection: PoolConnection): Promise<void> {
  const tables = [
    ...["sessions", "one_time_links", "account_letters", "account_settings", "second_factors", "recovery_codes"],
    ...["calendar_addresses", "wrong_codes", "uploads", "presence", "filters"],
  ];
  for (const table of tables) await run(`DELETE FROM ${table} WHERE account_id = ?`, [accountId], connection);
  await run("UPDATE security_events SET account_id = NULL, address = '' WHERE account_id = ?", [accountId], connection);
  const name = `erased ${accountId}`;
  await run(
    `UPDATE accounts SET username = ?, login = ?, sourced_id = ?, display_name = 'Erased person', email = NULL,
       password_hash = NULL, disabled_at = COALESCE(disabled_at, ?) WHERE id = ?`,
    [name, name, name, now(), accountId],
    connection,
  );
}
