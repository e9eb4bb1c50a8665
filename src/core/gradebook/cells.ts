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

/** Bits of what decides the state of a cell, together one number below `factsCount`. */
export const facts = { meant: 1, open: 2, handedIn: 4, marked: 8, excused: 16, missing: 32 } as const;
export const factsCount = 64;

/**
 * The state of a cell by its facts: the first rule that fits. `missing`: the deadline passed, and it was open before.
 * Whoever knows that something comes first need not find out what comes after it.
 */
export function stateOf(known: number): CellState {
  const has = (fact: number) => (known & fact) !== 0;
  if (!has(facts.meant)) return "not theirs";
  if (has(facts.excused)) return "excused";
  if (has(facts.marked)) return "marked";
  if (has(facts.handedIn)) return "handed in";
  if (has(facts.missing)) return "missing";
  return has(facts.open) ? "waiting" : "not yet open";
}

/** What a mark, or none, is for the state of its cell. */
export const factsOfMark = (mark: Mark | undefined): number =>
  (mark?.excused ? facts.excused : 0) | (mark && mark.points !== null ? facts.marked : 0);

/** Whether something decides the state that comes before being missing. */
export const isSettled = (known: number): boolean =>
  (known & facts.meant) === 0 || (known & (facts.excused | facts.marked | facts.handedIn)) !== 0;

export interface Cells {
  cell(item: Item, personId: string): Cell | null;
}

/** Cells at the moment of a reach. Each is computed when it is asked for. */
export function cellsOf(reach: Reach): Cells {
  const { plan, t } = reach;
  const found = progressLookup(reach.progress);
  const made = new Map<string, Cell>();

  function compute(item: Item, personId: string, index: number): Cell {
    const mark = found.mark(personId, item.id);
    const handIns = found.handIns(personId, item.id).filter(({ at }) => at <= t);
    const moment = (field: "due" | "closes") =>
      instantOfValue(plan, resolveField(plan, item, reach.memberships(index), field).value);
    const due = moment("due");
    const latest = handIns.reduce((last, { at }) => Math.max(last, at), 0);
    const lateBy = due !== null && latest > due ? latest - due : 0;
    let known =
      (hasBit(reach.meant(item), index) ? facts.meant : 0) |
      (hasBit(reach.sees(item), index) ? facts.open : 0) |
      (handIns.length > 0 ? facts.handedIn : 0) |
      factsOfMark(mark);
    const limit = isSettled(known) || !takesHandIns(item) ? null : handInLimit(due, moment("closes"));
    if (limit !== null && t >= limit && wasOpenBefore(reach, item, personId, limit)) known |= facts.missing;
    return { state: stateOf(known), mark, lateBy };
  }

  return {
    cell(item, personId) {
      const index = reach.indexOf.get(personId);
      if (index === undefined) return null;
      const key = `${item.id}/${personId}`;
      const cell = made.get(key) ?? compute(item, personId, index);
      made.set(key, cell);
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
