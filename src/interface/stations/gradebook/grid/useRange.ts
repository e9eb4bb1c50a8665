/** Which cells of the grid are chosen: the one that is looked at, and the other corner of a range. */
import { useState } from "react";
import type { At, Editing } from "./editing.ts";

export function useRange({ columns, at, setAt, lines, places, reveal }: Editing) {
  const [anchor, setAnchor] = useState<At | null>(null);
  const rowOf = (one: At | null) => (one ? (places.get(one.personId) ?? -1) : -1);
  const columnOf = (one: At | null) => columns.findIndex(({ item }) => item.id === one?.itemId);
  const [row, column] = [rowOf(at), columnOf(at)];
  const corner = anchor ?? at;
  const [anchorRow, anchorColumn] = [rowOf(corner), columnOf(corner)];
  const of = {
    top: Math.min(row, anchorRow),
    bottom: Math.max(row, anchorRow),
    left: Math.min(column, anchorColumn),
    right: Math.max(column, anchorColumn),
  };
  /** The next line of a student in the direction of a step: lines of groups are passed over. */
  const studentAt = (wanted: number) => {
    const step = wanted < row ? -1 : 1;
    let to = Math.min(lines.length - 1, Math.max(0, wanted));
    while (lines[to]?.kind === "group" && lines[to + step]) to += step;
    return lines[to]?.kind === "group" ? row : to;
  };
  return {
    row,
    column,
    of,
    isRange: row >= 0 && anchorRow >= 0 && (of.top !== of.bottom || of.left !== of.right),
    setAnchor,
    /** The students of the chosen lines, in their order. */
    students: () =>
      lines.slice(of.top, of.bottom + 1).flatMap((line) => (line.kind === "student" ? [line.personId] : [])),
    moveTo(nextRow: number, nextColumn: number, extend = false) {
      const c = Math.min(columns.length - 1, Math.max(0, nextColumn));
      const r = studentAt(nextRow);
      const [line, shown] = [lines[r], columns[c]];
      if (line?.kind !== "student" || !shown) return;
      if (!extend) setAnchor(null);
      else if (!anchor && at) setAnchor(at);
      setAt({ personId: line.personId, itemId: shown.item.id });
      reveal(r, c);
    },
  };
}
export type Range = ReturnType<typeof useRange>;
