/** A student's own marks and total: only what they see, or did something in. Source: semantics.md sections 7 and 9. */

import { hasBit } from "../reach/bits.ts";
import type { StudentPage } from "../reach/student-page.ts";
import { type CellState, cellsOf, columnsOf } from "./cells.ts";
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
}
export interface StudentMarks {
  marks: StudentMark[];
  /** Steps hold only columns that are told of. */
  total: Total;
}

/** States that something the student did, or could have done, led to: such a column was theirs to see. */
const told = new Set<CellState>(["excused", "marked", "handed in", "missing"]);

export function studentMarks({ reach, index, personId }: StudentPage): StudentMarks {
  const cells = cellsOf(reach);
  const shown = columnsOf(reach.plan).flatMap((item) => {
    const cell = cells.cell(item, personId);
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
    })),
    total: totalOf(reach.plan.course.grading, shown),
  };
}
