/** Course shells: made for somebody, empty or out of the registrar's classes with their rosters and groups. Source: semantics.md 2, 3. */
import type { PoolConnection } from "mysql2/promise";
import { matchColumns } from "../../core/intake/columns.ts";
import { rosterRows } from "../../core/intake/rows.ts";
import { type TaughtClass, whyNotOneShell } from "../../core/intake/shells.ts";
import { wholeRoster } from "../../core/intake/verdict.ts";
import { derivedId } from "../../core/plan/command.ts";
import { blankCourse } from "../../core/plan/course.ts";
import { difference } from "../../core/plan/difference.ts";
import { emptyPlan, type Section } from "../../core/plan/types.ts";
import { loginOf } from "../../core/text/logins.ts";
import { cut } from "../../core/text/shorten.ts";
import { readPattern } from "../../core/timing/meetings.ts";
import { setFeed } from "../intake/feeds.ts";
import { applyIntakeWithin } from "../intake/intakes.ts";
import { classesTaughtBy, FeedTrouble, registrarRoster } from "../intake/registrar.ts";
import { fromJson, rows, transaction } from "../store/database.ts";
import { writeJournal } from "../store/journal.ts";
import { insertCourse, writeDifference } from "../store/plan-rows.ts";
import { institution } from "./institution.ts";
import { type StoredTerm, termsOf } from "./terms.ts";

/** What a shell is made of, beside its classes. */
export interface NewShell {
  /** Made by whoever asks: the same shell asked for twice is made once. */
  id: string;
  code: string;
  title: string;
  termId: string;
}
export interface Coordinator {
  /** Their account; nobody's where they have none yet. */
  accountId: string;
  sourcedId: string;
  /** "Family, Given". */
  displayName: string;
}
export type ShellAnswer = { id: string } | { wrong: string };

interface Making {
  coordinator: Coordinator;
  at: number;
  /** For the journal. */
  says: string;
  /** What becomes its sections, also where nobody is in one. */
  classes?: TaughtClass[];
}

const sectionOf = (shellId: string, { code, title, meets }: TaughtClass): Section => ({
  id: derivedId(shellId, "section", code),
  ...{ code, title: cut(title, 200), studentTitle: cut(title, 200), pattern: readPattern(meets) ?? [] },
  ...{ noClassDays: [], moved: [], added: [] },
});

/** A shell with its coordinator and nobody else; false where it is there already. */
async function insertShell(
  { id, code, title }: NewShell,
  term: StoredTerm,
  { coordinator, at, says, classes = [] }: Making,
  connection: PoolConnection,
): Promise<boolean> {
  const [there] = await rows("SELECT 1 FROM courses WHERE id = ? FOR UPDATE", [id], connection);
  if (there) return false;
  const plan = emptyPlan({
    ...blankCourse,
    ...{ id, code, title, term: term.name, termStart: term.starts, termEnd: term.ends },
    timeZone: (await institution())?.timeZone ?? "UTC",
    noClassDays: term.noClassDays.filter(({ day }) => day >= term.starts && day <= term.ends),
  });
  await insertCourse(plan.course, connection);
  const [familyName = "", givenName = ""] = coordinator.displayName.split(", ");
  const { sourcedId, accountId } = coordinator;
  const personId = derivedId(id, "coordinator", sourcedId);
  const names = { givenName, familyName, username: null, email: null, attributes: {} };
  plan.people[personId] = { id: personId, sourcedId, ...names };
  const enrolmentId = derivedId(id, "coordinator", sourcedId, "enrolment");
  const open = { personId, sectionId: null, role: "coordinator" as const, since: at, until: null };
  plan.enrolments[enrolmentId] = { id: enrolmentId, ...open, origin: "hand", home: false };
  for (const section of classes.map((one) => sectionOf(id, one))) plan.sections[section.id] = section;
  await writeDifference(id, difference(emptyPlan(plan.course), plan), connection);
  await writeJournal(id, 0, { accountId, at, kind: "publication", lines: [{ says }] }, connection);
  return true;
}

const gone = { wrong: "That term is not there any more. Choose another one." };

/** Makes an empty shell for a coordinator, who brings rosters as files. */
export async function makeShell(shell: NewShell, coordinator: Coordinator, at: number): Promise<ShellAnswer> {
  const term = (await termsOf()).find(({ id }) => id === shell.termId);
  if (!term) return gone;
  await transaction((connection) =>
    insertShell(shell, term, { coordinator, at, says: "Made, without anybody in it" }, connection),
  );
  return { id: shell.id };
}

/** The account that a username, address or registrar's id names; null where none does, or several do. */
export async function coordinatorNamed(typed: string): Promise<Coordinator | null> {
  const found = await rows<Coordinator>(
    `SELECT id AS accountId, sourced_id AS sourcedId, display_name AS displayName FROM accounts
     WHERE disabled_at IS NULL AND (login = ? OR email = ? OR sourced_id = ?) LIMIT 2`,
    [loginOf(typed) ?? "", typed, typed],
  );
  return found.length === 1 ? (found[0] ?? null) : null;
}

/** Which of some classes a course draws on already: the course's code by the class's id. */
export async function mergedAlready(classIds: string[]): Promise<Map<string, { courseId: string; code: string }>> {
  const merged = new Map<string, { courseId: string; code: string }>();
  if (classIds.length === 0) return merged;
  const found = await rows<{ courseId: string; code: string; classes: string }>(
    `SELECT c.id AS courseId, c.code, f.classes FROM feeds f JOIN courses c ON c.id = f.course_id
     WHERE ${classIds.map(() => "JSON_CONTAINS(f.classes, JSON_QUOTE(?))").join(" OR ")}`,
    classIds,
  );
  for (const { courseId, code, classes } of found)
    for (const id of fromJson<string[]>(classes)) merged.set(id, { courseId, code });
  return merged;
}

/** The classes of a request, where all of them are the asker's to merge; or why they are not. */
async function classesToMerge(
  classIds: string[],
  { sourcedId }: Coordinator,
): Promise<{ classes: TaughtClass[] } | { wrong: string }> {
  const wanted = new Set(classIds);
  const classes = (await classesTaughtBy(sourcedId)).filter(({ id }) => wanted.has(id));
  if (classes.length < wanted.size)
    return { wrong: "A class that you ticked is not yours at the registrar any more. Look at the list again." };
  const why = whyNotOneShell(classes);
  return why ? { wrong: why } : { classes };
}

/**
 * Makes a shell out of classes that the registrar says the asker teaches: sections with their meeting patterns, everybody on
 * the rosters, a group for each section, and the feed that later pulls go by. Whole or not at all. A service that fails, and a
 * roster that needs somebody to look, are told in a sentence.
 */
export async function mergeClasses(
  shell: NewShell & { classIds: string[] },
  coordinator: Coordinator,
  at: number,
): Promise<ShellAnswer> {
  const term = (await termsOf()).find(({ id }) => id === shell.termId);
  if (!term) return gone;
  try {
    const read = await classesToMerge(shell.classIds, coordinator);
    if ("wrong" in read) return read;
    const codes = read.classes.map(({ code }) => code).join(", ");
    const roster = await registrarRoster(shell.classIds, cut(`Registrar, ${codes}`, 200));
    return await transaction((connection) =>
      mergeWithin(shell, { term, coordinator, at, roster, classes: read.classes }, connection),
    );
  } catch (error) {
    if (error instanceof FeedTrouble) return { wrong: error.saying("No course was made; try again later.") };
    throw error;
  }
}

interface Merging {
  term: StoredTerm;
  coordinator: Coordinator;
  at: number;
  roster: Awaited<ReturnType<typeof registrarRoster>>;
  classes: TaughtClass[];
}
async function mergeWithin(
  { classIds, ...shell }: NewShell & { classIds: string[] },
  { term, coordinator, at, roster, classes }: Merging,
  connection: PoolConnection,
): Promise<ShellAnswer> {
  // Whoever merges the same classes at the same moment waits here, and is then told.
  await rows("SELECT id FROM terms WHERE id = ? FOR UPDATE", [term.id], connection);
  const [other] = [...(await mergedAlready(classIds)).values()].filter(({ courseId }) => courseId !== shell.id);
  if (other) return { wrong: `A class that you ticked is in ${other.code} already. Take its tick away, or go there.` };
  const says = `Merged out of the registrar's classes ${classes.map(({ code }) => code).join(", ")}`;
  if (!(await insertShell(shell, term, { coordinator, at, says, classes }, connection))) return { id: shell.id };
  const [made] = await rows<{ revision: number }>("SELECT revision FROM courses WHERE id = ?", [shell.id], connection);
  const request = {
    intakeId: derivedId(shell.id, "merged"),
    revision: made?.revision ?? 0,
    rows: rosterRows(roster, matchColumns(roster)),
    options: wholeRoster,
    sectionLayer: "Sections",
    files: [roster.name],
  };
  await applyIntakeWithin(shell.id, coordinator.accountId, request, connection);
  const feed = { classes: classIds, nightlyAt: null, appliesItself: false, leavingPercent: 5, joiningPercent: 25 };
  await setFeed(shell.id, coordinator.accountId, feed, (await institution())?.timeZone ?? "UTC", at, connection);
  return { id: shell.id };
}
