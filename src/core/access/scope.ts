/**
 * The course as an instructor or support person may know it: the students of the sections and groups they were given,
 * and nothing that names anybody or anything else. What differs for their students because of a group that is not
 * theirs to know of differs for each of those students alone. Source: semantics.md section 9.
 */

import { ItemRows } from "../plan/item-rows.ts";
import { holdsAt, lookup } from "../plan/lookup.ts";
import { type Progress, progressByItem, progressOf } from "../plan/progress.ts";
import type { Plan } from "../plan/types.ts";
import { progressThrough } from "../reach/combined.ts";

export interface Scope {
  /** Sections that the person's enrolments name, and groups that they are placed in. */
  sectionIds: Set<string>;
  groupIds: Set<string>;
  /** Students of those. */
  personIds: Set<string>;
  /** Groups that are theirs as a whole: given, or with no student outside the scope. */
  own: Set<string>;
}

/** What somebody on the staff was given at t. */
export function scopeOf(plan: Plan, staffId: string, t: number): Scope {
  const { enrolmentsOfPerson, placementsOfPerson } = lookup(plan);
  const open = <Row extends { since: number; until: number | null }>(rows: Row[] | undefined) =>
    (rows ?? []).filter((row) => holdsAt(row, t));
  const sectionIds = new Set(
    open(enrolmentsOfPerson.get(staffId)).flatMap(({ role, sectionId }) =>
      sectionId !== null && (role === "instructor" || role === "support") ? [sectionId] : [],
    ),
  );
  const groupIds = new Set(open(placementsOfPerson.get(staffId)).map(({ groupId }) => groupId));
  const students = new Map<string, boolean>();
  for (const row of Object.values(plan.enrolments)) {
    if (row.role !== "student" || !holdsAt(row, t)) continue;
    const given = row.sectionId !== null && sectionIds.has(row.sectionId);
    students.set(row.personId, given || (students.get(row.personId) ?? false));
  }
  const outside = new Set<string>();
  const placed = Object.values(plan.placements).filter((row) => holdsAt(row, t) && students.has(row.personId));
  for (const { groupId, personId } of placed) if (groupIds.has(groupId)) students.set(personId, true);
  for (const { groupId, personId } of placed) if (!students.get(personId)) outside.add(groupId);
  const personIds = new Set([...students].flatMap(([id, given]) => (given ? [id] : [])));
  const whole = placed.flatMap(({ groupId }) => (outside.has(groupId) ? [] : [groupId]));
  return { sectionIds, groupIds, personIds, own: new Set([...groupIds, ...whole]) };
}

/** Progress within a scope: what others did counts where it is their students' too, and names nobody else. */
export function progressWithin(plan: Plan, progress: Progress, within: Plan, scope: Scope): Progress {
  const through = progressByItem(progressThrough(plan, progress));
  const given = progressByItem(progress);
  const copies = new Set(Object.values(within.items).flatMap(({ combines }) => combines.map(({ itemId }) => itemId)));
  const rowsOf = <Row>(rows: ItemRows<Row>, keep: (row: Row) => Row[]): ItemRows<Row> =>
    ItemRows.of(
      [...rows].flatMap(([itemId, list]) =>
        within.items[itemId] || copies.has(itemId) ? [[itemId, list.flatMap(keep)] as const] : [],
      ),
    );
  const theirs = <Row extends { personId: string }>(row: Row): Row[] =>
    scope.personIds.has(row.personId) ? [row] : [];
  const handIns = rowsOf(through.handIns, (row) => {
    if (!scope.personIds.has(row.personId)) return [];
    const { by, ...plain } = row;
    return [by !== undefined && scope.personIds.has(by) ? row : plain];
  });
  return progressOf({
    marks: rowsOf(given.marks, theirs),
    handIns,
    openings: rowsOf(given.openings, theirs),
    groupMarks: rowsOf(given.groupMarks, (row) => (within.groups[row.groupId] ? [row] : [])),
  });
}
