/** Marks, comments and notes: written many at once or one by one, and never over what somebody else wrote unseen. */

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

type Found = MarkValue & { itemId: string; holderId: string; at: number };
/** More holders than these are read as all of the item: one range instead of thousands of keys. */
const manyHolders = 400;

/**
 * Stores marks in one transaction: those that stand as they were seen; of the others the newer ones are given back.
 * `copiesOf`: copies that were made into an item, whose marks are its own.
 */
export function recordMarks(
  courseId: string,
  marks: NewMark[],
  by: string,
  at: number,
  copiesOf: (itemId: string) => string[],
  say: (lines: MarkLine[]) => string = (lines) => plural(lines.length, "mark"),
): Promise<{ stored: MarkChange[]; newer: MarkChange[] }> {
  return transaction(async (connection) => {
    // Whoever marks in a course waits for whoever does at this moment: nobody reads what is about to change.
    await run(touched, [courseId], connection);
    const answer: { stored: MarkChange[]; newer: MarkChange[] } = { stored: [], newer: [] };
    const lines: MarkLine[] = [];
    for (const [table, holder] of [
      ["marks", "person_id"],
      ["group_marks", "group_id"],
    ] as const) {
      const idOf = (mark: NewMark) => (table === "marks" ? mark.personId : mark.groupId);
      const theirs = marks.filter((mark) => idOf(mark) !== undefined);
      if (theirs.length === 0) continue;
      const into = new Map<string, string>();
      for (const { itemId } of theirs) for (const id of [...copiesOf(itemId), itemId]) into.set(id, itemId);
      const holders = [...new Set(theirs.map((mark) => idOf(mark) as string))];
      const few = holders.length <= manyHolders;
      const found = await rows<Found>(
        `SELECT item_id AS itemId, ${holder} AS holderId, points, excused, at FROM ${table}
         WHERE course_id = ? AND item_id IN (${parameters([...into.keys()])}) ${few ? `AND ${holder} IN (${parameters(holders)})` : ""}
         ORDER BY at FOR UPDATE`,
        [courseId, ...into.keys(), ...(few ? holders : [])],
        connection,
      );
      const current = new Map<string, Found>();
      for (const row of found) current.set(`${into.get(row.itemId)}/${row.holderId}`, row);
      const [written, gone]: [(string | number | boolean | null)[][], string[]] = [[], []];
      for (const mark of theirs) {
        const { itemId, points, excused, seen } = mark;
        const id = idOf(mark) as string;
        const now = current.get(`${itemId}/${id}`) ?? null;
        const change = (value: (MarkValue & { at: number }) | null, of = itemId): MarkChange => ({
          itemId: of,
          ...(table === "marks" ? { personId: id } : { groupId: id }),
          mark: value && {
            personId: id,
            itemId,
            points: value.points,
            excused: Boolean(value.excused),
            at: value.at,
          },
        });
        if (!isSame(now, seen)) {
          answer.newer.push(change(now));
          continue;
        }
        answer.stored.push(change(nothing(mark) ? null : { points, excused, at }));
        lines.push({
          itemId,
          ...(table === "marks" ? { personId: id } : { groupId: id }),
          from: now && { points: now.points, excused: Boolean(now.excused) },
          to: nothing(mark) ? null : { points, excused },
        });
        if (nothing(mark)) {
          // What stood in a copy is taken away with it.
          for (const copy of copiesOf(itemId)) answer.stored.push(change(null, copy));
          for (const copy of [itemId, ...copiesOf(itemId)]) gone.push(copy, id);
        } else written.push([courseId, itemId, id, points, excused, at, by]);
      }
      for (let from = 0; from < gone.length; from += 2000) {
        const pairs = gone.slice(from, from + 2000);
        await run(
          `DELETE FROM ${table} WHERE course_id = ? AND (item_id, ${holder}) IN (${Array.from({ length: pairs.length / 2 }, () => "(?, ?)").join(", ")})`,
          [courseId, ...pairs],
          connection,
        );
      }
      await insertMany(
        table,
        ["course_id", "item_id", holder, "points", "excused", "at", "marked_by"],
        written,
        connection,
        `ON DUPLICATE KEY UPDATE points = VALUES(points), excused = VALUES(excused), at = VALUES(at), marked_by = VALUES(marked_by)`,
      );
    }
    if (lines.length > 0) {
      const entry = {
        accountId: by,
        at,
        kind: "marks" as const,
        lines: [{ says: say(lines), detail: { marks: lines } }],
      };
      await writeJournal(courseId, 0, entry, connection);
    }
    return answer;
  });
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
