/** Marks, comments and notes: written many at once or one by one, and never over what somebody else wrote unseen. */

import type { PoolConnection } from "mysql2/promise";
import type { Remark, StoredRemark } from "../../api/gradebook.ts";
import { mayMark } from "../../core/access/staff.ts";
import { type MarkChange, progressLookup } from "../../core/plan/progress.ts";
import type { StudentPage } from "../../core/reach/student-page.ts";
import type { MarkLine } from "../../core/review/journal.ts";
import { plural } from "../../core/text/plural.ts";
import type { CourseAccess } from "../http/guard.ts";
import { problem } from "../http/problem.ts";
import { insertMany, parameters, rows, run, transaction } from "../store/database.ts";
import { writeJournal } from "../store/journal.ts";
import { touched } from "../store/progress.ts";
import { contentsOf, type WorkContent } from "../student/posts-and-hand-ins.ts";

export interface MarkValue {
  points: number | null;
  excused: boolean;
}
/** A mark of a person, or a shared one of a group. */
export type NewMark = MarkValue & {
  itemId: string;
  /** The mark that the marker saw; null for none. Someone else's newer mark is never overwritten unseen. */
  seen: MarkValue | null;
} & ({ personId: string; groupId?: undefined } | { groupId: string; personId?: undefined });

/** The refusal for staff whom the coordinator has not let mark; null for all others. */
export const markingRefused = ({ whole, membership }: CourseAccess): Response | null =>
  mayMark(whole, membership.personId, membership.role)
    ? null
    : problem(
        403,
        "Not yours to mark",
        "The coordinator has not let you mark in this course. Ask them for it. Nothing was stored.",
      );

const nothing = (mark: MarkValue | null) => !mark || (mark.points === null && !mark.excused);
const isSame = (a: MarkValue | null, b: MarkValue | null) =>
  (a?.points ?? null) === (b?.points ?? null) && Boolean(a?.excused) === Boolean(b?.excused);

/** A course that is marked in, by whom and when. */
export interface Marking {
  courseId: string;
  /** The account of whoever marks. */
  by: string;
  /** Epoch milliseconds. */
  at: number;
  /** Copies that were made into an item, whose marks are its own. */
  copiesOf(itemId: string): string[];
  /** How the journal says it; a count of the marks where it is left out. */
  say?(lines: MarkLine[]): string;
}
export interface Recorded {
  stored: MarkChange[];
  newer: MarkChange[];
}

/** Where marks of persons stand, and where those of groups. */
const homes = [
  { table: "marks", column: "person_id", holder: "personId" },
  { table: "group_marks", column: "group_id", holder: "groupId" },
] as const;
type Home = (typeof homes)[number];
type HeldMark = NewMark & { holderId: string };
type Found = MarkValue & { itemId: string; holderId: string; at: number };

/** Stores marks in one transaction: those that stand as they were seen; of the others the newer ones are given back. */
export function recordMarks(marking: Marking, marks: NewMark[]): Promise<Recorded> {
  const { courseId, by, at, say = (lines: MarkLine[]) => plural(lines.length, "mark") } = marking;
  return transaction(async (connection) => {
    // Whoever marks in a course waits for whoever does at this moment: nobody reads what is about to change.
    await run(touched, [courseId], connection);
    const recorded: Recorded = { stored: [], newer: [] };
    const lines: MarkLine[] = [];
    for (const home of homes) {
      const theirs = marks.flatMap((mark): HeldMark[] => {
        const holderId = mark[home.holder];
        return holderId === undefined ? [] : [{ ...mark, holderId }];
      });
      if (theirs.length === 0) continue;
      const current = await currentMarks(marking, home, theirs, connection);
      const judged = judgeMarks(marking, home, theirs, current);
      recorded.stored.push(...judged.stored);
      recorded.newer.push(...judged.newer);
      lines.push(...judged.lines);
      await writeMarks(marking, home, judged, connection);
    }
    if (lines.length > 0) {
      const told = { says: say(lines), detail: { marks: lines } };
      await writeJournal(courseId, 0, { accountId: by, at, kind: "marks", lines: [told] }, connection);
    }
    return recorded;
  });
}

/** More holders than these are read as all of the item: one range instead of thousands of keys. */
const manyHolders = 400;

/** The marks that stand now, by item and holder; one in a copy is the item's. */
async function currentMarks(
  { courseId, copiesOf }: Marking,
  { table, column }: Home,
  marks: HeldMark[],
  connection: PoolConnection,
): Promise<Map<string, Found>> {
  const into = new Map<string, string>();
  for (const { itemId } of marks) for (const id of [...copiesOf(itemId), itemId]) into.set(id, itemId);
  const holders = [...new Set(marks.map(({ holderId }) => holderId))];
  const few = holders.length <= manyHolders;
  const found = await rows<Found>(
    `SELECT item_id AS itemId, ${column} AS holderId, points, excused, at FROM ${table}
     WHERE course_id = ? AND item_id IN (${parameters([...into.keys()])}) ${few ? `AND ${column} IN (${parameters(holders)})` : ""}
     ORDER BY at FOR UPDATE`,
    [courseId, ...into.keys(), ...(few ? holders : [])],
    connection,
  );
  return new Map(found.map((row) => [`${into.get(row.itemId)}/${row.holderId}`, row]));
}

interface JudgedMarks extends Recorded {
  lines: MarkLine[];
  /** Rows to be written, and pairs of item and holder whose marks go. */
  written: (string | number | boolean | null)[][];
  gone: [string, string][];
}

/** What of some marks is stored: those of which nobody stored another one since they were seen. */
function judgeMarks(
  { courseId, by, at, copiesOf }: Marking,
  { holder }: Home,
  marks: HeldMark[],
  current: Map<string, Found>,
) {
  const judged: JudgedMarks = { stored: [], newer: [], lines: [], written: [], gone: [] };
  for (const mark of marks) {
    const { itemId, points, excused, seen, holderId } = mark;
    const held = { [holder]: holderId } as { personId: string } | { groupId: string };
    const change = (value: (MarkValue & { at: number }) | null, of = itemId): MarkChange => ({
      itemId: of,
      ...held,
      mark: value && {
        personId: holderId,
        itemId,
        points: value.points,
        excused: Boolean(value.excused),
        at: value.at,
      },
    });
    const now = current.get(`${itemId}/${holderId}`) ?? null;
    if (!isSame(now, seen)) {
      judged.newer.push(change(now));
      continue;
    }
    const to = nothing(mark) ? null : { points, excused };
    judged.stored.push(change(to && { ...to, at }));
    judged.lines.push({ itemId, ...held, from: now && { points: now.points, excused: Boolean(now.excused) }, to });
    if (to) judged.written.push([courseId, itemId, holderId, points, excused, at, by]);
    else {
      // What stood in a copy is taken away with it.
      const copies = copiesOf(itemId);
      judged.stored.push(...copies.map((copy) => change(null, copy)));
      judged.gone.push(...[itemId, ...copies].map((of): [string, string] => [of, holderId]));
    }
  }
  return judged;
}

async function writeMarks(
  { courseId }: Marking,
  { table, column }: Home,
  { written, gone }: JudgedMarks,
  connection: PoolConnection,
): Promise<void> {
  for (let from = 0; from < gone.length; from += 1000) {
    const pairs = gone.slice(from, from + 1000);
    await run(
      `DELETE FROM ${table} WHERE course_id = ? AND (item_id, ${column}) IN (${pairs.map(() => "(?, ?)").join(", ")})`,
      [courseId, ...pairs.flat()],
      connection,
    );
  }
  await insertMany(
    table,
    ["course_id", "item_id", column, "points", "excused", "at", "marked_by"],
    written,
    connection,
    `ON DUPLICATE KEY UPDATE points = VALUES(points), excused = VALUES(excused), at = VALUES(at), marked_by = VALUES(marked_by)`,
  );
}

/** What was written about the work of a person or group on an item; null where nothing was. */
export async function remarkOn(courseId: string, itemId: string, holderId: string): Promise<StoredRemark | null> {
  const [found] = await rows<StoredRemark>(
    `SELECT remarks.comment, remarks.note, remarks.at, COALESCE(accounts.display_name, '') AS \`by\`
     FROM remarks LEFT JOIN accounts ON accounts.id = remarks.written_by
     WHERE course_id = ? AND item_id = ? AND holder_id = ?`,
    [courseId, itemId, holderId],
  );
  return found ?? null;
}

/** Keeps a comment and a note, or gives the newer ones that stand in their way. */
export function keepRemark(
  courseId: string,
  itemId: string,
  holderId: string,
  remark: Remark,
  seen: Remark | null,
  by: string,
  at: number,
): Promise<{ stored: true } | { newer: Remark | null }> {
  return transaction(async (connection) => {
    const [found] = await rows<Remark>(
      "SELECT comment, note FROM remarks WHERE course_id = ? AND item_id = ? AND holder_id = ? FOR UPDATE",
      [courseId, itemId, holderId],
      connection,
    );
    if ((found?.comment ?? "") !== (seen?.comment ?? "") || (found?.note ?? "") !== (seen?.note ?? ""))
      return { newer: found ?? null };
    await run(
      `INSERT INTO remarks (course_id, item_id, holder_id, comment, note, at, written_by) VALUES (?, ?, ?, ?, ?, ?, ?)
       ON DUPLICATE KEY UPDATE comment = VALUES(comment), note = VALUES(note), at = VALUES(at), written_by = VALUES(written_by)`,
      [courseId, itemId, holderId, remark.comment, remark.note, at, by],
      connection,
    );
    return { stored: true };
  });
}

/** Comments (never notes) that one student reads, by item: their own, and those of groups. */
export const commentsFor = (courseId: string, holderIds: string[]) =>
  rows<{ itemId: string; holderId: string; comment: string }>(
    `SELECT item_id AS itemId, holder_id AS holderId, comment FROM remarks
     WHERE course_id = ? AND holder_id IN (${parameters(holderIds)}) AND comment <> ''`,
    [courseId, ...holderIds],
  );

export interface HandedIn extends WorkContent {
  id: string;
  at: number;
  /** Who handed it in for the group; null where it was the person. */
  by: string | null;
}

/** What a student handed in for an item, or a member of their group for them; the latest first. */
export async function workOf(
  courseId: string,
  { reach, personId }: Pick<StudentPage, "reach" | "personId">,
  itemId: string,
): Promise<HandedIn[]> {
  const found = progressLookup(reach.progress).handIns(personId, itemId);
  if (found.length === 0) return [];
  const contents = await contentsOf(
    courseId,
    found.map(({ id }) => id),
  );
  const contentOf = new Map(contents.map((one) => [one.id, one]));
  return [...found]
    .sort((a, b) => b.at - a.at)
    .map(({ id, at, by }) => {
      const { body = "", link = null, file = null } = contentOf.get(id) ?? {};
      return { id, at, body, link, file, by: by ?? null };
    });
}
