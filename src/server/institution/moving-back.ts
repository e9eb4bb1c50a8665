/** A move of sections taken back whole: both courses as they were, with what was done since in the one that had been joined. */
import type { PoolConnection } from "mysql2/promise";
import { undoChanges } from "../../core/intake/undo.ts";
import { derivedId } from "../../core/plan/command.ts";
import type { RowChange } from "../../core/plan/difference.ts";
import { type Plan, tableNames } from "../../core/plan/types.ts";
import { withoutAnybody } from "../../core/rolling/over.ts";
import { now } from "../clock.ts";
import { workOf } from "../intake/intakes.ts";
import { lockCourse, moveCourse } from "../store/courses.ts";
import { fromJson, parameters, rows, run, transaction } from "../store/database.ts";
import { changesOf } from "../store/journal.ts";
import type { StoredPlan } from "../store/plan-rows.ts";
import { copyWork, dropWork, type WorkCopy, type WorkRow, workIds, workRows } from "../store/work-copy.ts";
import { coordinates, type MoveKind, namesIn, sayDependents } from "./moves.ts";
import { type Kept, type Mover, setArchived, writeFeeds } from "./moving.ts";

export interface PastMove {
  id: string;
  kind: MoveKind;
  at: number;
  by: string;
  says: string;
  undoneAt: number | null;
}

/** The moves of a course, its own and those of others that touched it, the latest first. */
export const pastMoves = (courseId: string): Promise<PastMove[]> =>
  rows<PastMove>(
    `SELECT m.id, m.kind, m.at, a.display_name AS \`by\`, m.says, m.undone_at AS undoneAt
     FROM section_moves m JOIN accounts a ON a.id = m.account_id
     WHERE m.course_id = ? OR m.other_id = ? ORDER BY m.at DESC, m.id DESC LIMIT 50`,
    [courseId, courseId],
  );

interface StoredMove {
  id: string;
  courseId: string;
  otherId: string | null;
  kind: MoveKind;
  at: number;
  says: string;
  revision: number;
  otherRevision: number | null;
  kept: string;
  undoneAt: number | null;
}
export type BackAnswer = { undone: true } | { undone: false; says: string };
const no = (says: string): BackAnswer => ({ undone: false, says });

/** Takes a move back whole, or says what depends on it by now. Null where there is none that the asker may take back. */
export function takeMoveBack(moveId: string, mover: Mover): Promise<BackAnswer | null> {
  return transaction(async (connection): Promise<BackAnswer | null> => {
    const [move] = await rows<StoredMove>(
      `SELECT id, course_id AS courseId, other_id AS otherId, kind, at, says, revision, other_revision AS otherRevision,
         kept, undone_at AS undoneAt FROM section_moves WHERE id = ? FOR UPDATE`,
      [moveId],
      connection,
    );
    if (!move) return null;
    const courses = await lockBoth(move, connection);
    const at = now();
    const isTheirs = courses.every((stored) => stored && coordinates(stored.plan, mover.sourcedId, at));
    const [here, other = null] = courses;
    if (!here || !isTheirs) return null;
    if (move.undoneAt !== null) return no("It was taken back before. Nothing was changed.");
    const later = await laterMove(move, connection);
    if (later) return no(`It was not taken back: "${later}" came later. Take that back first.`);
    return undoMove(move, { here, other, mover, at }, connection);
  });
}

/** What was moved into or out of the same courses later, and not taken back: in the journal's words; null where nothing was. */
async function laterMove({ id, courseId, otherId }: StoredMove, connection: PoolConnection): Promise<string | null> {
  const ids = otherId ? [courseId, otherId] : [courseId];
  const [later] = await rows<{ says: string }>(
    `SELECT l.says FROM section_moves m
     JOIN section_moves l ON (l.at, l.id) > (m.at, m.id) AND l.undone_at IS NULL
       AND (l.course_id IN (${parameters(ids)}) OR l.other_id IN (${parameters(ids)}))
     WHERE m.id = ? ORDER BY l.at DESC, l.id DESC LIMIT 1`,
    [...ids, ...ids, id],
    connection,
  );
  return later?.says ?? null;
}

/** The course of a move and the other one, if there is one; locked in the order in which moves lock them. */
async function lockBoth({ courseId, otherId }: StoredMove, connection: PoolConnection): Promise<(StoredPlan | null)[]> {
  const ids = otherId ? [courseId, otherId] : [courseId];
  const locked = new Map<string, StoredPlan | null>();
  for (const id of [...ids].sort()) locked.set(id, await lockCourse(id, connection));
  return ids.map((id) => locked.get(id) ?? null);
}

interface Undoing {
  here: StoredPlan;
  other: StoredPlan | null;
  mover: Mover;
  at: number;
}

async function undoMove(
  move: StoredMove,
  { here, other, mover, at }: Undoing,
  connection: PoolConnection,
): Promise<BackAnswer> {
  const back = await planBack(move.courseId, here, move.revision, connection);
  const otherBack =
    other && move.otherId && move.otherRevision !== null
      ? await planBack(move.otherId, other, move.otherRevision, connection)
      : null;
  const work = await workSince(move, { here: here.plan, other: other?.plan ?? null, came: back.born }, connection);
  const done = await doneSince(
    move,
    { work, came: back.born, cameThere: otherBack?.born ?? [], plan: here.plan },
    connection,
  );
  const dependents = [...back.dependents, ...(otherBack?.dependents ?? []), ...done];
  if (dependents.length > 0 || !back.plan || (otherBack && !otherBack.plan)) return no(sayDependents(dependents));
  if (work) await copyWork(work.back, connection);
  if (work && move.kind === "join") await dropWork(move.courseId, (_, row) => work.isTheirs(row), connection);
  const there = otherBack?.plan ?? (other && withoutAnybody(other.plan, at));
  await writeBack(move, { here, other, mover, at }, { here: back.plan, other: there }, connection);
  return { undone: true };
}

/** What people have done since, because of the move, that would be lost or stand nowhere, in words. */
async function doneSince(
  move: StoredMove,
  { work, came, cameThere, plan }: { work: WorkSince | null; came: RowChange[]; cameThere: RowChange[]; plan: Plan },
  connection: PoolConnection,
): Promise<string[]> {
  if (move.kind === "join" && work) return workAcross(work, came, plan, connection);
  return move.otherId ? workOf(move.otherId, cameThere, connection) : [];
}

async function writeBack(
  move: StoredMove,
  { here, other, mover, at }: Undoing,
  next: { here: Plan; other: Plan | null },
  connection: PoolConnection,
): Promise<void> {
  const entry = {
    ...{ accountId: mover.accountId, at, kind: "sections" as const },
    lines: [{ says: `Taken back: ${move.says}`, detail: { move: move.id } }],
  };
  await moveCourse(move.courseId, here, next.here, entry, connection);
  if (move.kind === "archive") await setArchived(move.courseId, null, connection);
  if (other && next.other && move.otherId) {
    await moveCourse(move.otherId, other, next.other, entry, connection);
    // A course that the move made has nobody in it any more.
    if (move.kind !== "over") await setArchived(move.otherId, move.kind === "own" ? at : null, connection);
  }
  const { feeds } = fromJson<Kept>(move.kept);
  const steps = Object.entries(feeds).map(([courseId, feed]) => ({ courseId, feed }));
  if (move.kind === "own" && move.otherId) steps.push({ courseId: move.otherId, feed: null });
  await writeFeeds(steps, mover.accountId, here.plan.course.timeZone, at, connection);
  await run(
    "UPDATE section_moves SET undone_at = ?, undone_by = ? WHERE id = ?",
    [at, mover.accountId, move.id],
    connection,
  );
}

/** A plan without one of its steps, or what has come to depend on it; and the people whom that step brought. */
async function planBack(courseId: string, stored: StoredPlan, revision: number, connection: PoolConnection) {
  const changes = (await changesOf(courseId, revision, connection)) ?? [];
  const result = undoChanges(stored.plan, changes);
  const born = changes.filter(({ table, before }) => table === "people" && before === null);
  return "dependents" in result
    ? { plan: null, dependents: result.dependents, born }
    : { plan: result.plan, dependents: [], born };
}

interface WorkSince {
  /** What brings the work back to the course that it came from, with what was done since. */
  back: WorkCopy;
  /** Whether a row stands where that course's work does. */
  isTheirs(row: WorkRow): boolean;
  isTheirPerson(id: string): boolean;
}

/** How ids of the course that work went from are called in the one that it went to. */
function namesThere(move: StoredMove, here: Plan, from: Plan): (id: string) => string {
  if (move.kind === "own") return (id) => derivedId(String(move.otherId), id);
  const known = new Map(Object.values(here.people).map(({ sourcedId, id }) => [sourcedId, id]));
  const people = new Map(Object.values(from.people).map((one) => [one.id, known.get(one.sourcedId)]));
  return (id) => people.get(id) ?? derivedId(move.id, id);
}

/** The work of a course that went into another; null where none went. */
async function workSince(
  move: StoredMove,
  { here, other, came }: { here: Plan; other: Plan | null; came: RowChange[] },
  connection: PoolConnection,
): Promise<WorkSince | null> {
  if (!other || !move.otherId || (move.kind !== "own" && move.kind !== "join")) return null;
  const [from, to] = move.kind === "own" ? [here, other] : [other, here];
  const named = namesThere(move, here, from);
  const ids = [...planIds(from), ...(await workIds(from.course.id, connection))];
  const were = new Map(ids.map((id) => [named(id), id]));
  // A note about somebody whom both courses knew stands in both: where it was written says which it is of.
  const brought = new Set(came.map(({ id }) => id));
  const knownBefore = new Set(move.kind === "join" ? Object.keys(here.people).filter((id) => !brought.has(id)) : []);
  const born = new Set<string>();
  const isTheirs = (row: WorkRow) => {
    const place = String(row.item_id ?? row.place_id ?? row.about_id ?? row.group_id ?? "");
    const isThere = (were.has(place) && !knownBefore.has(place)) || born.has(place);
    if (!isThere && !(row.about_id && were.has(String(row.id)))) return false;
    // What was begun since may hold posts of its own.
    if (row.id) born.add(String(row.id));
    return true;
  };
  const isTheirPerson = (id: string) => were.has(id);
  return {
    back: {
      ...{ from: to.course.id, to: from.course.id },
      idOf: (id) => were.get(id) ?? derivedId(move.id, "since", id),
      keeps: (_, row) => isTheirs(row) && (row.person_id === undefined || isTheirPerson(String(row.person_id))),
    },
    isTheirs,
    isTheirPerson,
  };
}

const planIds = (plan: Plan): string[] => [
  ...tableNames.flatMap((table) => Object.keys(plan[table])),
  ...Object.values(plan.items).flatMap(({ file, combines }) => [
    ...(file ? [file.id] : []),
    ...combines.map(({ itemId }) => itemId),
  ]),
];

/** Work that belongs to neither course alone, in words: of people who came, on what was there; of others, on what came. */
async function workAcross(
  work: WorkSince,
  came: RowChange[],
  plan: Plan,
  connection: PoolConnection,
): Promise<string[]> {
  const born = new Set(came.map(({ id }) => id));
  const across = new Set<string>();
  for (const row of await workRows(plan.course.id, connection)) {
    const id = row.person_id === undefined || row.person_id === null ? null : String(row.person_id);
    if (id && work.isTheirs(row) !== work.isTheirPerson(id) && (born.has(id) || work.isTheirs(row))) across.add(id);
  }
  return namesIn(plan, [...across]).map((name) => `${name} has work in both`);
}
