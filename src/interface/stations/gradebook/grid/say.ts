import { type Cell, type CellState, sayLate } from "../../../../core/gradebook/cells.ts";
import { sayMark } from "../../../../core/gradebook/entry.ts";
import type { Item } from "../../../../core/plan/types.ts";
import { sayPoints } from "../../../../core/text/locale.ts";

/** The shape of a state; the word stands beside it in the label and in the Why panel. */
export const shapes: Record<CellState, string> = {
  "not theirs": "",
  excused: "x",
  marked: "",
  "handed in": "▸",
  missing: "○",
  "not yet open": "·",
  waiting: "–",
};

export function sayCell(cell: Cell | null, item: Item): string {
  if (!cell) return "not enrolled";
  const says = cell.state === "marked" ? `${sayMark(cell.mark ?? null)} of ${sayPoints(item.points ?? 0)}` : cell.state;
  const shared = cell.mark?.shared === undefined ? "" : ", a shared mark";
  return says + shared + (cell.lateBy > 0 ? `, ${sayLate(cell.lateBy)} late` : "");
}
