/** What people did in a course: read for the engines, written live. */
import type { PoolConnection } from "mysql2/promise";
import { once } from "../../core/memo.ts";
import { lookup } from "../../core/plan/lookup.ts";
import type { GroupMark, HandIn, Mark, Opening, Progress } from "../../core/plan/progress.ts";
import type { Plan } from "../../core/plan/types.ts";
import { isGroupWork } from "../../core/reach/group-work.ts";
import { copiesUpTo } from "./copies.ts";
import { parameters, rows, run, transaction } from "./database.ts";
import { onceAtATime } from "./once-at-a-time.ts";

export interface StoredProgress {
  revision: number;
  progress: Progress;
}
// Of 50,000 students there are about two million rows; a row takes some 150 bytes.
const copies = copiesUpTo<StoredProgress>(
  2_200_000,
  ({ progress: { marks, handIns, openings, groupMarks } }) =>
    marks.length + handIns.length + openings.length + groupMarks.length,
);
const reading = onceAtATime<StoredProgress>();

const flags = <Row extends { excused: boolean }>(marks: Row[]): Row[] =>
  marks.map((mark) => ({ ...mark, excused: Boolean(mark.excused) }));

/** Another number as soon as anybody did anything or was given a mark. */
export async function progressRevision(courseId: string): Promise<number> {
  const sql = "SELECT progress_revision AS revision FROM courses WHERE id = ?";
  const [found] = await rows<{ revision: number }>(sql, [courseId]);
  return found?.revision ?? 0;
}

/** All progress of a course, kept while its revision in the database stays the same. */
export async function courseProgress(courseId: string): Promise<StoredProgress> {
  const revision = await progressRevision(courseId);
  const copy = copies.get(courseId);
  return copy?.revision === revision
    ? copy
    : reading(`${courseId}/${revision}`, () => readProgress(courseId, revision));
}

async function readProgress(courseId: string, revision: number): Promise<StoredProgress> {
  const [marks, handIns, openings, groupMarks] = await Promise.all([
    rows<Mark>("SELECT person_id AS personId, item_id AS itemId, points, excused, at FROM marks WHERE course_id = ?", [
      courseId,
    ]),
    rows<HandIn>(
      "SELECT id, person_id AS personId, item_id AS itemId, at FROM hand_ins WHERE course_id = ? ORDER BY at",
      [courseId],
    ),
    rows<Opening>(
      "SELECT person_id AS personId, item_id AS itemId, at, read_at AS readAt FROM openings WHERE course_id = ?",
      [courseId],
    ),
    rows<GroupMark>(
      "SELECT group_id AS groupId, item_id AS itemId, points, excused, at FROM group_marks WHERE course_id = ?",
      [courseId],
    ),
  ]);
  const stored = {
    revision,
    progress: { marks: flags(marks), handIns, openings, groupMarks: flags(groupMarks) },
  };
  copies.set(courseId, stored);
  return stored;
}

/** A row of what a student did, of whichever table it is; what its table does not have is null. */
interface Done {
  kind: "mark" | "hand-in" | "opening" | "group mark";
  /** Of a hand-in. */
  id: string | null;
  /** Whose it is: a student, or of a group mark the group. */
  holderId: string;
  itemId: string;
  points: number | null;
  excused: boolean | null;
  at: number;
  readAt: number | null;
}

/** The layers along which items are split, and the items that their groups hand in together. */
const splitIn = once((items: Plan["items"]) => {
  const split = Object.values(items).filter((item) => item.split !== null);
  return {
    layerIds: new Set(split.map((item) => item.split?.layerId)),
    together: split.filter(isGroupWork).map(({ id }) => id),
  };
});

/** The groups that somebody was in whose work may be handed in together, and with whom; and the items that are. */
function sharing(plan: Plan, personId: string) {
  const { layerIds, together } = splitIn(plan.items);
  const { placementsOfPerson, placementsOfGroup } = lookup(plan);
  const groupIds = new Set(
    (placementsOfPerson.get(personId) ?? [])
      .map(({ groupId }) => groupId)
      .filter((groupId) => layerIds.has(plan.groups[groupId]?.layerId ?? "")),
  );
  const persons = [...groupIds].flatMap((id) => (placementsOfGroup.get(id) ?? []).map((row) => row.personId));
  const mates = new Set(together.length === 0 ? [] : persons);
  mates.delete(personId);
  return { groupIds: [...groupIds], mates: [...mates], together };
}

/**
 * The progress of one student, in one statement of indexed reads: their own, and what the groups they were in handed in
 * together and were given as one mark. Within a transaction: as it sees them. Each page of a student begins with it, so
 * that what it costs is mostly how often the database is asked.
 */
export async function studentProgress(
  courseId: string,
  personId: string,
  plan: Plan,
  connection?: PoolConnection,
): Promise<Progress> {
  const { groupIds, mates, together } = sharing(plan, personId);
  const own = [courseId, personId];
  const parts: { sql: string; values: string[] }[] = [
    {
      sql: `SELECT 'mark' AS kind, NULL AS id, person_id AS holderId, item_id AS itemId, points, excused, at, NULL AS readAt
        FROM marks WHERE course_id = ? AND person_id = ?`,
      values: own,
    },
    {
      sql: `SELECT 'hand-in', id, person_id, item_id, NULL, NULL, at, NULL
        FROM hand_ins WHERE course_id = ? AND person_id = ?`,
      values: own,
    },
    {
      sql: `SELECT 'opening', NULL, person_id, item_id, NULL, NULL, at, read_at
        FROM openings WHERE course_id = ? AND person_id = ?`,
      values: own,
    },
  ];
  if (mates.length > 0)
    parts.push({
      sql: `SELECT 'hand-in', id, person_id, item_id, NULL, NULL, at, NULL FROM hand_ins
        WHERE course_id = ? AND item_id IN (${parameters(together)}) AND person_id IN (${parameters(mates)})`,
      values: [courseId, ...together, ...mates],
    });
  if (groupIds.length > 0)
    parts.push({
      sql: `SELECT 'group mark', NULL, group_id, item_id, points, excused, at, NULL
        FROM group_marks WHERE course_id = ? AND group_id IN (${parameters(groupIds)})`,
      values: [courseId, ...groupIds],
    });
  const found = await rows<Done>(
    parts.map(({ sql }) => sql).join(" UNION ALL "),
    parts.flatMap(({ values }) => values),
    connection,
  );
  return progressOf(found);
}

/** Rows of all tables as the progress that they are; hand-ins in the order in which they came. */
function progressOf(found: Done[]): Progress {
  const progress: Progress = { marks: [], handIns: [], openings: [], groupMarks: [] };
  for (const { kind, id, holderId, itemId, points, excused, at, readAt } of found) {
    if (kind === "mark") progress.marks.push({ personId: holderId, itemId, points, excused: Boolean(excused), at });
    else if (kind === "hand-in") progress.handIns.push({ id: id ?? "", personId: holderId, itemId, at });
    else if (kind === "opening") progress.openings.push({ personId: holderId, itemId, at, readAt });
    else progress.groupMarks.push({ groupId: holderId, itemId, points, excused: Boolean(excused), at });
  }
  progress.handIns.sort((a, b) => a.at - b.at);
  return progress;
}

export const touched = "UPDATE courses SET progress_revision = progress_revision + 1 WHERE id = ?";

/** The first time a student opens an item is kept, with its step of progress or not at all. */
export async function recordOpening(courseId: string, itemId: string, personId: string, at: number): Promise<void> {
  const add = "INSERT IGNORE INTO openings (course_id, item_id, person_id, at) VALUES (?, ?, ?, ?)";
  await transaction(async (connection) => {
    const added = await run(add, [courseId, itemId, personId, at], connection);
    if (added > 0) await run(touched, [courseId], connection);
  });
}

/** Marks an item as read by a student, once. */
export async function recordRead(courseId: string, itemId: string, personId: string, at: number): Promise<void> {
  const read = `INSERT INTO openings (course_id, item_id, person_id, at, read_at) VALUES (?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE read_at = COALESCE(read_at, VALUES(read_at))`;
  await transaction(async (connection) => {
    await run(read, [courseId, itemId, personId, at, at], connection);
    await run(touched, [courseId], connection);
  });
}
