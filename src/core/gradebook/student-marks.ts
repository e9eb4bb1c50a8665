/** A student's own marks and total: only what they see, or did something in. Source: semantics.md sections 7 and 9. */

import { progressLookup } from "../plan/progress.ts";
import type { Item, Plan } from "../plan/types.ts";
import { groupsThen } from "../reach/group-work.ts";
import { isShown, type StudentPage } from "../reach/student-page.ts";
import { hasBit } from "../sets/bits.ts";
import { type Cell, type CellState, cellsOf, columnsOf } from "./cells.ts";
import { type Total, totalOf } from "./totals.ts";

export interface StudentMark {
  itemId: string;
  title: string;
  /** Whether the item can be opened now. */
  isOpen: boolean;
  state: CellState;
  points: number | null;
  possible: number;
  lateBy: number;
  /** The label of the group whose shared mark it is; null where it is their own, or the layer is private. */
  sharedBy: string | null;
}
export interface StudentMarks {
  marks: StudentMark[];
  /** Steps hold only columns that are told of. */
  total: Total;
}

function labelOf(plan: Plan, groupId: string | undefined): string | null {
  const group = plan.groups[groupId ?? ""];
  return group && !plan.layers[group.layerId]?.private ? group.label : null;
}

/** Whose comments on an item a student reads: their own, and those for the group that they were in at its hand-in. */
export function commentHolders({ reach, personId }: StudentPage, item: Item): string[] {
  const { plan, t } = reach;
  if (!item.split) return [personId];
  const found = progressLookup(reach.progress);
  const latest = found.handIns(personId, item.id).reduce((last, { at }) => (at <= t ? Math.max(last, at) : last), 0);
  const shared = found.mark(personId, item.id)?.shared;
  const groupIds = groupsThen(plan, item.split.layerId, personId, latest || t);
  return [...new Set([personId, ...groupIds, ...(shared === undefined ? [] : [shared])])];
}

/** States that something the student did, or could have done, led to: such a column was theirs to see. */
export const told = new Set<CellState>(["excused", "marked", "handed in", "missing"]);

/** A cell as the student reads it: while marks are not shown, what was marked is handed in. */
function shownCell(page: StudentPage, item: Item, cell: Cell | null): Cell | null {
  if (cell?.state !== "marked" || isShown(page, item)) return cell;
  return { ...cell, state: "handed in", mark: undefined };
}

export function studentMarks(page: StudentPage): StudentMarks {
  const { reach, index, personId } = page;
  const cells = cellsOf(reach);
  const shown = columnsOf(reach.plan).flatMap((item) => {
    const cell = shownCell(page, item, cells.cell(item, personId));
    if (!cell || cell.state === "not theirs") return [];
    const isOpen = hasBit(reach.sees(item), index);
    return isOpen || told.has(cell.state) ? [{ item, cell, isOpen }] : [];
  });
  return {
    marks: shown.map(({ item, cell: { state, mark, lateBy }, isOpen }) => ({
      itemId: item.id,
      title: item.title,
      isOpen,
      state,
      points: state === "marked" ? (mark?.points ?? null) : null,
      possible: item.points ?? 0,
      lateBy,
      sharedBy: labelOf(reach.plan, mark?.shared),
    })),
    total: totalOf(reach.plan.course.grading, shown),
  };
}
