/**
 * One column of the gradebook for all students at once: states, points and lateness as numbers. The rules are those of
 * cells.ts, where they are said of one cell. Source: semantics.md section 7.
 */
import { progressByItem } from "../plan/progress.ts";
import type { Item } from "../plan/types.ts";
import { placesOf } from "../reach/membership-sets.ts";
import { type Reach, takesHandIns } from "../reach/reach.ts";
import { type Bits, eachBit, emptyBits, hasBit, setBit } from "../sets/bits.ts";
import { type DateTable, dateTable } from "../timing/resolving/table.ts";
import { type CellState, cellStates, handInLimit } from "./cells.ts";
import { openedBefore, type Past, pastOf } from "./opened.ts";

/** The place of each state in `cellStates`, as it stands in a column. */
export const code = Object.fromEntries(cellStates.map((state, at) => [state, at])) as Record<CellState, number>;

/** One number a student, in the order of the reach. */
export interface SheetColumn {
  item: Item;
  /** Places in `cellStates`. */
  states: Uint8Array;
  /** Points; NaN where there are none, or an excuse. */
  points: Float64Array;
  /** Milliseconds by which the latest hand-in came after the own due; null where nobody's did. */
  late: Float64Array | null;
}

/** What the columns of one reach are made with, one after another. */
export interface Making {
  reach: Reach;
  dates: DateTable;
  past: Past;
  /** When each student handed in last; anything between two columns. */
  latest: Float64Array;
}

/** `before`: the dates of a reach before this one, of which what still holds is taken over. */
export const makingOf = (reach: Reach, before?: DateTable): Making => ({
  reach,
  dates: dateTable(reach, before),
  past: pastOf(reach),
  latest: new Float64Array(reach.students.length),
});

/** The column of an item, made anew. */
export function columnOf(making: Making, item: Item): SheetColumn {
  const { reach, dates, latest } = making;
  const { t } = reach;
  const count = reach.students.length;
  const rows = progressByItem(reach.progress);
  const [marks, handIns] = [rows.marks.get(item.id) ?? [], rows.handIns.get(item.id) ?? []];
  const [meant, sees] = [reach.meant(item), reach.sees(item)];
  const states = new Uint8Array(count);
  const points = new Float64Array(count).fill(Number.NaN);
  for (let word = 0, from = 0; word < meant.length; word++, from += 32) {
    const [theirs, open] = [meant[word] as number, sees[word] as number];
    const to = Math.min(count, from + 32);
    if (theirs === -1 >>> 0 && (open === 0 || open === -1 >>> 0))
      states.fill(open === 0 ? code["not yet open"] : code.waiting, from, to);
    else
      for (let index = from, bit = 0; index < to; index++, bit++)
        states[index] =
          ((theirs >>> bit) & 1) === 0
            ? code["not theirs"]
            : ((open >>> bit) & 1) === 1
              ? code.waiting
              : code["not yet open"];
  }

  // The latest hand-in of each, by which it may be late.
  let late: Float64Array | null = null;
  if (handIns.length > 0) {
    const of = placesOf(handIns, reach.membershipSets);
    latest.fill(0);
    for (let at = 0; at < handIns.length; at++) {
      const [index, when] = [of[at] as number, (handIns[at] as { at: number }).at];
      if (index < 0 || when > t) continue;
      if (when > (latest[index] as number)) latest[index] = when;
      if (states[index] !== code["not theirs"]) states[index] = code["handed in"];
    }
    const common = dates.common(item, "due");
    const dues = common === undefined ? dates.column(item, "due") : null;
    if (dues || !Number.isNaN(common))
      for (let index = 0; index < count; index++) {
        const by = (latest[index] as number) - (dues ? (dues[index] as number) : (common as number));
        if (by > 0 && latest[index] !== 0) {
          late ??= new Float64Array(count);
          late[index] = by;
        }
      }
  }
  if (marks.length > 0) {
    const of = placesOf(marks, reach.membershipSets);
    for (let at = 0; at < marks.length; at++) {
      const index = of[at] as number;
      if (index < 0) continue;
      const mark = marks[at] as (typeof marks)[0];
      // The last row of a person is their mark.
      points[index] = mark.excused || mark.points === null ? Number.NaN : mark.points;
      if (states[index] === code["not theirs"]) continue;
      if (mark.excused) states[index] = code.excused;
      else if (mark.points !== null) states[index] = code.marked;
    }
  }
  if (takesHandIns(item)) findMissing(making, item, states, null);
  return { item, states, points, late };
}

/** The last row of a student: a mark that was just given is the last of all. */
function lastOf<Row extends { personId: string }>(rows: Row[], index: number, { membershipSets, students }: Reach) {
  const last = rows.at(-1);
  return last?.personId === students[index] ? last : rows[placesOf(rows, membershipSets).lastIndexOf(index)];
}

/** A column in which the cells of some students are made anew; their hand-ins are what they were. */
export function columnAfter(making: Making, was: SheetColumn, indexes: number[]): SheetColumn {
  const { reach } = making;
  const { item } = was;
  const rows = progressByItem(reach.progress);
  const [marks, handIns] = [rows.marks.get(item.id) ?? [], rows.handIns.get(item.id) ?? []];
  const [states, points] = [was.states.slice(), was.points.slice()];
  const places = placesOf(handIns, reach.membershipSets);
  for (const index of indexes) {
    const mark = lastOf(marks, index, reach);
    points[index] = !mark || mark.excused || mark.points === null ? Number.NaN : mark.points;
    const state = (): CellState => {
      if (!hasBit(reach.meant(item), index)) return "not theirs";
      if (mark?.excused) return "excused";
      if (mark && mark.points !== null) return "marked";
      for (let at = places.indexOf(index); at >= 0; at = places.indexOf(index, at + 1))
        if ((handIns[at] as { at: number }).at <= reach.t) return "handed in";
      return hasBit(reach.sees(item), index) ? "waiting" : "not yet open";
    };
    states[index] = code[state()];
  }
  if (takesHandIns(item)) findMissing(making, item, states, indexes);
  return { item, states, points, late: was.late };
}

/** Who has passed the deadline with nothing handed in, of those to whom it was open at some moment up to it. */
function findMissing({ reach, dates, past }: Making, item: Item, states: Uint8Array, only: number[] | null): void {
  const [due, closes] = (["due", "closes"] as const).map((field) => {
    const common = dates.common(item, field);
    if (common !== undefined) return () => common;
    const column = dates.column(item, field);
    return (index: number) => column[index] as number;
  }) as [(index: number) => number, (index: number) => number];
  const byLimit = new Map<number, Bits>();
  const many = only ? only.length : states.length;
  for (let at = 0; at < many; at++) {
    const index = only ? (only[at] as number) : at;
    const state = states[index] as number;
    if (state !== code.waiting && state !== code["not yet open"]) continue;
    const own = due(index);
    const limit = handInLimit(Number.isFinite(own) ? own : null, closes(index));
    if (limit === null || reach.t < limit) continue;
    const bits = byLimit.get(limit) ?? emptyBits(states.length);
    byLimit.set(limit, bits);
    setBit(bits, index);
  }
  for (const [limit, bits] of byLimit)
    eachBit(openedBefore(past, item, limit, bits), (index) => {
      states[index] = code.missing;
    });
}

/** How many students of some are in each state of a column, and late: `bits` in the order of the reach. */
export function countStates({ states, late }: SheetColumn, bits: Bits): Record<CellState, number> & { late: number } {
  const counts = new Uint32Array(cellStates.length);
  let lateOnes = 0;
  eachBit(bits, (index) => {
    const state = states[index] as number;
    counts[state] = (counts[state] as number) + 1;
    if (late && (late[index] as number) > 0) lateOnes++;
  });
  const named = Object.fromEntries(cellStates.map((state, at) => [state, counts[at] as number]));
  return { ...(named as Record<CellState, number>), late: lateOnes };
}
