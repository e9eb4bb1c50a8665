/** What people did in a course: read for the engines, written live. */
import type { PoolConnection } from "mysql2/promise";
import { lookup } from "../../core/plan/lookup.ts";
import type { GroupMark, HandIn, Mark, Opening, Progress } from "../../core/plan/progress.ts";
import type { Plan } from "../../core/plan/types.ts";
import { isGroupWork } from "../../core/reach/group-work.ts";
import { parameters, rows, run, transaction } from "./database.ts";
import { onceAtATime } from "./once-at-a-time.ts";

interface StoredProgress {
  revision: number;
  progress: Progress;
}
const copies = new Map<string, StoredProgress>();
const reading = onceAtATime<StoredProgress>();

const flags = <Row extends { excused: boolean }>(marks: Row[]): Row[] =>
  marks.map((mark) => ({ ...mark, excused: Boolean(mark.excused) }));

/** All progress of a course, kept while its revision in the database stays the same. */
export async function courseProgress(courseId: string): Promise<StoredProgress> {
  const [found] = await rows<{ progress_revision: number }>("SELECT progress_revision FROM courses WHERE id = ?", [
    courseId,
  ]);
  const revision = found?.progress_revision ?? 0;
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
  if (copies.size > 20) copies.clear();
  copies.set(courseId, stored);
  return stored;
}

/**
 * The progress of one student, in a few indexed reads: their own, and what the groups they were in handed in together
 * and were given as one mark. Within a transaction: as it sees them.
 */
export async function studentProgress(
  courseId: string,
  personId: string,
  plan: Plan,
  connection?: PoolConnection,
): Promise<Progress> {
  const [marks, handIns, openings] = await Promise.all([
    rows<Mark>(
      "SELECT person_id AS personId, item_id AS itemId, points, excused, at FROM marks WHERE course_id = ? AND person_id = ?",
      [courseId, personId],
      connection,
    ),
    rows<HandIn>(
      "SELECT id, person_id AS personId, item_id AS itemId, at FROM hand_ins WHERE course_id = ? AND person_id = ? ORDER BY at",
      [courseId, personId],
      connection,
    ),
    rows<Opening>(
      "SELECT person_id AS personId, item_id AS itemId, at, read_at AS readAt FROM openings WHERE course_id = ? AND person_id = ?",
      [courseId, personId],
      connection,
    ),
  ]);
  const split = Object.values(plan.items).filter((item) => item.split !== null);
  const layerIds = new Set(split.map((item) => item.split?.layerId));
  const { placementsOfPerson, placementsOfGroup } = lookup(plan);
  const groupIds = [
    ...new Set(
      (placementsOfPerson.get(personId) ?? [])
        .map(({ groupId }) => groupId)
        .filter((groupId) => layerIds.has(plan.groups[groupId]?.layerId ?? "")),
    ),
  ];
  if (groupIds.length === 0) return { marks: flags(marks), handIns, openings, groupMarks: [] };
  const mates = [
    ...new Set(groupIds.flatMap((id) => (placementsOfGroup.get(id) ?? []).map((row) => row.personId))),
  ].filter((id) => id !== personId);
  const together = split.filter(isGroupWork).map(({ id }) => id);
  const [theirs, groupMarks] = await Promise.all([
    mates.length === 0 || together.length === 0
      ? []
      : rows<HandIn>(
          `SELECT id, person_id AS personId, item_id AS itemId, at FROM hand_ins
           WHERE course_id = ? AND item_id IN (${parameters(together)}) AND person_id IN (${parameters(mates)}) ORDER BY at`,
          [courseId, ...together, ...mates],
          connection,
        ),
    rows<GroupMark>(
      `SELECT group_id AS groupId, item_id AS itemId, points, excused, at FROM group_marks
       WHERE course_id = ? AND group_id IN (${parameters(groupIds)})`,
      [courseId, ...groupIds],
      connection,
    ),
  ]);
  const all = [...handIns, ...theirs].sort((a, b) => a.at - b.at);
  return { marks: flags(marks), handIns: all, openings, groupMarks: flags(groupMarks) };
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
