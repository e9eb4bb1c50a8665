/** The state of a gradebook cell: the first rule that fits. Source: semantics.md section 7. */
import { outlineOrder } from "../plan/lookup.ts";
import { type Mark, progressLookup } from "../plan/progress.ts";
import type { Item, Plan } from "../plan/types.ts";
import { type Reach, takesHandIns } from "../reach/reach.ts";
import { hasBit } from "../sets/bits.ts";
import { instantOfValue, resolveField } from "../timing/resolving/resolve.ts";
import { wasOpenBefore } from "./opened.ts";

export const cellStates = [
  "not theirs",
  "excused",
  "marked",
  "handed in",
  "missing",
  "not yet open",
  "waiting",
] as const;
export type CellState = (typeof cellStates)[number];
export interface Cell {
  state: CellState;
  mark: Mark | undefined;
  /** Milliseconds by which the latest hand-in came after the student's own due; 0 where it did not. */
  lateBy: number;
}

/** Columns: items that can be marked, in reading order. */
export const columnsOf = (plan: Plan): Item[] =>
  outlineOrder(plan)
    .map(({ item }) => item)
    .filter((item) => item.points !== null && item.kind !== "folder");

/**
 * The first moment at which what was not handed in is missing: due is inclusive; without one closes serves, and is
 * exclusive as ever. Epoch milliseconds; null where there is none.
 */
export function handInLimit(due: number | null, closes: number | null): number | null {
  if (due !== null) return due + 1;
  return closes !== null && Number.isFinite(closes) ? closes : null;
}

export interface Cells {
  cell(item: Item, personId: string): Cell | null;
}

/** Cells at the moment of a reach. Each is computed when it is asked for. */
export function cellsOf(reach: Reach): Cells {
  const { plan, t } = reach;
  const found = progressLookup(reach.progress);
  const known = new Map<string, Cell>();

  function compute(item: Item, personId: string, index: number): Cell {
    const mark = found.mark(personId, item.id);
    const handIns = found.handIns(personId, item.id).filter(({ at }) => at <= t);
    const moment = (field: "due" | "closes") =>
      instantOfValue(plan, resolveField(plan, item, reach.memberships(index), field).value);
    const due = moment("due");
    const latest = handIns.reduce((last, { at }) => Math.max(last, at), 0);
    const lateBy = due !== null && latest > due ? latest - due : 0;
    const state = (): CellState => {
      if (!hasBit(reach.meant(item), index)) return "not theirs";
      if (mark?.excused) return "excused";
      if (mark && mark.points !== null) return "marked";
      if (handIns.length > 0) return "handed in";
      const limit = takesHandIns(item) ? handInLimit(due, moment("closes")) : null;
      if (limit !== null && t >= limit && wasOpenBefore(reach, item, personId, limit)) return "missing";
      return hasBit(reach.sees(item), index) ? "waiting" : "not yet open";
    };
    return { state: state(), mark, lateBy };
  }

  return {
    cell(item, personId) {
      const index = reach.indexOf.get(personId);
      if (index === undefined) return null;
      const key = `${item.id}/${personId}`;
      const cell = known.get(key) ?? compute(item, personId, index);
      known.set(key, cell);
      return cell;
    },
  };
}

/** "2 d", "3 h", "12 min": how late, in the largest unit that fits. */
export function sayLate(milliseconds: number): string {
  const minutes = Math.ceil(milliseconds / 60_000);
  if (minutes >= 2880) return `${Math.floor(minutes / 1440)} d`;
  return minutes >= 120 ? `${Math.floor(minutes / 60)} h` : `${minutes} min`;
}
