/**
 * One column of the gradebook for all students at once: states, points and lateness as numbers. Facts are gathered
 * for all, and decided by cells.ts once for each case. Source: semantics.md section 7.
 */
import { type HandIn, type Mark, progressByItem } from "../plan/progress.ts";
import type { Item } from "../plan/types.ts";
import { placesOf } from "../reach/membership-sets.ts";
import { type Reach, takesHandIns } from "../reach/reach.ts";
import { type Bits, eachBit, emptyBits, hasBit, setBit } from "../sets/bits.ts";
import { type DateTable, dateTable } from "../timing/resolving/table.ts";
import {
  type CellState,
  cellStates,
  facts,
  factsCount,
  factsOfMark,
  handInLimit,
  isSettled,
  stateOf,
} from "./cells.ts";
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

/** The place in `cellStates` of what each of the possible facts come to. */
const stateByFacts = Uint8Array.from({ length: factsCount }, (_, known) => code[stateOf(known)]);

/** The column of an item, made anew. */
export function columnOf(making: Making, item: Item): SheetColumn {
  const { reach } = making;
  const count = reach.students.length;
  const rows = progressByItem(reach.progress);
  const [marks, handIns] = [rows.marks.get(item.id) ?? [], rows.handIns.get(item.id) ?? []];
  // Facts are gathered in the place of the states that they come to in the end.
  const states = new Uint8Array(count);
  gatherReach(making, item, states);
  const late = handIns.length > 0 ? gatherHandIns(making, item, handIns, states) : null;
  const points = gatherMarks(making, marks, states);
  if (takesHandIns(item)) gatherMissing(making, item, states, null);
  for (let index = 0; index < count; index++) states[index] = stateByFacts[states[index] as number] as number;
  return { item, states, points, late };
}

/** For whom the item is meant, and who sees it: 32 students a word. */
function gatherReach({ reach }: Making, item: Item, known: Uint8Array): void {
  const [meant, sees] = [reach.meant(item), reach.sees(item)];
  const [isMeant, isOpen] = [facts.meant, facts.open];
  for (let word = 0, from = 0; word < meant.length; word++, from += 32) {
    const [theirs, open] = [meant[word] as number, sees[word] as number];
    const to = Math.min(known.length, from + 32);
    if (theirs === -1 >>> 0 && (open === 0 || open === -1 >>> 0))
      known.fill(open === 0 ? isMeant : isMeant | isOpen, from, to);
    else
      for (let index = from, bit = 0; index < to; index++, bit++)
        known[index] = ((theirs >>> bit) & 1) * isMeant + ((open >>> bit) & 1) * isOpen;
  }
}

/** Who handed in, and by how much the latest came late; null where nobody's did. */
function gatherHandIns(
  { reach, dates, latest }: Making,
  item: Item,
  handIns: HandIn[],
  known: Uint8Array,
): Float64Array | null {
  const of = placesOf(handIns, reach.membershipSets);
  latest.fill(0);
  for (let at = 0; at < handIns.length; at++) {
    const [index, when] = [of[at] as number, (handIns[at] as HandIn).at];
    if (index < 0 || when > reach.t) continue;
    if (when > (latest[index] as number)) latest[index] = when;
    known[index] = (known[index] as number) | facts.handedIn;
  }
  const common = dates.common(item, "due");
  if (common !== undefined && Number.isNaN(common)) return null;
  const dues = common === undefined ? dates.column(item, "due") : null;
  let late: Float64Array | null = null;
  for (let index = 0; index < known.length; index++) {
    const by = (latest[index] as number) - (dues ? (dues[index] as number) : (common as number));
    if (!(by > 0) || latest[index] === 0) continue;
    late ??= new Float64Array(known.length);
    late[index] = by;
  }
  return late;
}

const pointsOf = (mark: Mark | undefined): number =>
  !mark || mark.excused || mark.points === null ? Number.NaN : mark.points;

/** Who is marked or excused, and the points of all. */
function gatherMarks({ reach }: Making, marks: Mark[], known: Uint8Array): Float64Array {
  const points = new Float64Array(known.length).fill(Number.NaN);
  if (marks.length === 0) return points;
  const of = placesOf(marks, reach.membershipSets);
  const ofMark = facts.marked | facts.excused;
  for (let at = 0; at < marks.length; at++) {
    const index = of[at] as number;
    if (index < 0) continue;
    const mark = marks[at] as Mark;
    // The last row of a person is their mark.
    points[index] = pointsOf(mark);
    known[index] = ((known[index] as number) & ~ofMark) | factsOfMark(mark);
  }
  return points;
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
  const hasHandedIn = (index: number): boolean => {
    for (let at = places.indexOf(index); at >= 0; at = places.indexOf(index, at + 1))
      if ((handIns[at] as HandIn).at <= reach.t) return true;
    return false;
  };
  for (const index of indexes) {
    const mark = lastOf(marks, index, reach);
    points[index] = pointsOf(mark);
    const known = (hasBit(reach.meant(item), index) ? facts.meant : 0) | factsOfMark(mark);
    // Who sees it is worked out anew after a mark: only where nothing else decides.
    const handedIn = !isSettled(known) && hasHandedIn(index) ? facts.handedIn : 0;
    const open = !isSettled(known | handedIn) && hasBit(reach.sees(item), index) ? facts.open : 0;
    states[index] = known | handedIn | open;
  }
  if (takesHandIns(item)) gatherMissing(making, item, states, indexes);
  for (const index of indexes) states[index] = stateByFacts[states[index] as number] as number;
  return { item, states, points, late: was.late };
}

/** Who has passed the deadline with nothing handed in, of those to whom it was open at some moment up to it. */
function gatherMissing({ reach, dates, past }: Making, item: Item, known: Uint8Array, only: number[] | null): void {
  const [due, closes] = (["due", "closes"] as const).map((field) => {
    const common = dates.common(item, field);
    if (common !== undefined) return () => common;
    const column = dates.column(item, field);
    return (index: number) => column[index] as number;
  }) as [(index: number) => number, (index: number) => number];
  const byLimit = new Map<number, Bits>();
  const many = only ? only.length : known.length;
  for (let at = 0; at < many; at++) {
    const index = only ? (only[at] as number) : at;
    if (isSettled(known[index] as number)) continue;
    const own = due(index);
    const limit = handInLimit(Number.isFinite(own) ? own : null, closes(index));
    if (limit === null || reach.t < limit) continue;
    const bits = byLimit.get(limit) ?? emptyBits(known.length);
    byLimit.set(limit, bits);
    setBit(bits, index);
  }
  for (const [limit, bits] of byLimit)
    eachBit(openedBefore(past, item, limit, bits), (index) => {
      known[index] = (known[index] as number) | facts.missing;
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
