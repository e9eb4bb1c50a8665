/**
 * The gradebook of all students as columns of numbers: what cells.ts says of one cell, for all at once. Columns are
 * computed when they are asked for; a sheet takes over from the one before what a mark did not touch.
 * Source: semantics.md section 7.
 */
import { marksSince, progressByItem, progressLookup } from "../plan/progress.ts";
import type { Item } from "../plan/types.ts";
import { type Bits, clearBit, eachBit, emptyBits, hasBit, isEmpty, setBit } from "../reach/bits.ts";
import { combinedInto } from "../reach/combined.ts";
import { mentionsIn } from "../reach/mentions.ts";
import { noAnswers, type Reach, reachOf } from "../reach/reach.ts";
import { placesOf, rosterOfThese } from "../reach/roster.ts";
import { type DateTable, dateTable } from "../timing/resolving/table.ts";
import { type Cell, type CellState, type Cells, cellStates, columnsOf, takesHandIns } from "./cells.ts";
import { code, percentagesOf, type SheetColumn } from "./percentages.ts";
import { type Total, totalOf } from "./totals.ts";

export interface Sheet extends Cells {
  reach: Reach;
  columns: Item[];
  column(item: Item): SheetColumn;
  /** Percent of each student's total; NaN where there is none. */
  percentages(): Float64Array;
  /** A student's total with its steps. */
  total(personId: string): Total;
}

interface Made extends Sheet {
  dates: DateTable;
  kept: Map<string, SheetColumn>;
  totals: Float64Array | null;
}

/** Reach of moments that have passed, over the students of now. */
function pastOf(reach: Reach): (moment: number) => { reach: Reach; then: Bits } {
  const known = new Map<number, { reach: Reach; then: Bits }>();
  return (moment) => {
    let past = known.get(moment);
    if (!past) {
      const { roster, then } = rosterOfThese(reach.plan, reach.roster, moment);
      past = { reach: reachOf(reach.plan, reach.given, moment, roster, noAnswers()), then };
      known.set(moment, past);
    }
    return past;
  };
}

/** What columns are made with, one after another. */
interface Making {
  reach: Reach;
  dates: DateTable;
  past: ReturnType<typeof pastOf>;
  /** When each student handed in last; anything between two columns. */
  latest: Float64Array;
}

function columnOf(making: Making, item: Item): SheetColumn {
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
    const of = placesOf(handIns, reach.roster);
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
    const of = placesOf(marks, reach.roster);
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

/**
 * The students of whom alone something differs, where only some marks of persons do: null where it may be others too.
 */
function fewChanged(before: Reach, reach: Reach): number[] | null {
  const changes = marksSince(before.given, reach.given);
  const into = combinedInto(reach.plan);
  if (!changes || changes.length > 200 || changes.some((one) => "groupId" in one || into.has(one.itemId))) return null;
  const found = new Set<number>();
  for (const one of changes) {
    const index = "personId" in one ? reach.indexOf.get(one.personId) : undefined;
    if (index !== undefined) found.add(index);
  }
  return [...found];
}

/** The last row of a student: a mark that was just given is the last of all. */
function lastOf<Row extends { personId: string }>(rows: Row[], index: number, { roster, students }: Reach) {
  const last = rows.at(-1);
  return last?.personId === students[index] ? last : rows[placesOf(rows, roster).lastIndexOf(index)];
}

/** A column in which the cells of some students are made anew; their hand-ins are what they were. */
function columnAfter(making: Making, was: SheetColumn, indexes: number[]): SheetColumn {
  const { reach } = making;
  const { item } = was;
  const rows = progressByItem(reach.progress);
  const [marks, handIns] = [rows.marks.get(item.id) ?? [], rows.handIns.get(item.id) ?? []];
  const [states, points] = [was.states.slice(), was.points.slice()];
  const places = placesOf(handIns, reach.roster);
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
  const [due, closes, opens] = (["due", "closes", "opens"] as const).map((field) => {
    const common = dates.common(item, field);
    if (common !== undefined) return () => common;
    const column = dates.column(item, field);
    return (index: number) => column[index] as number;
  }) as [(index: number) => number, (index: number) => number, (index: number) => number];
  const byDeadline = new Map<number, Bits>();
  const many = only ? only.length : states.length;
  for (let at = 0; at < many; at++) {
    const index = only ? (only[at] as number) : at;
    const state = states[index] as number;
    if (state !== code.waiting && state !== code["not yet open"]) continue;
    const own = due(index);
    const deadline = Number.isFinite(own) ? own : closes(index);
    if (!(Number.isFinite(deadline) && reach.t > deadline)) continue;
    let bits = byDeadline.get(deadline);
    if (!bits) {
      bits = emptyBits(states.length);
      byDeadline.set(deadline, bits);
    }
    setBit(bits, index);
  }
  /** Sets who saw it at a moment, and takes them out. */
  const look = (moment: number, bits: Bits) => {
    const { reach: then, then: enrolled } = past(moment);
    const saw = then.sees(item);
    eachBit(bits, (index) => {
      if (!hasBit(saw, index) || !hasBit(enrolled, index)) return;
      states[index] = code.missing;
      clearBit(bits, index);
    });
  };
  for (const [deadline, bits] of byDeadline) {
    look(deadline - 1, bits);
    if (isEmpty(bits)) continue;
    const byOpening = new Map<number, Bits>();
    eachBit(bits, (index) => {
      const opening = opens(index);
      if (!Number.isFinite(opening) || opening > deadline) return;
      const those = byOpening.get(opening) ?? emptyBits(states.length);
      byOpening.set(opening, those);
      setBit(those, index);
    });
    for (const [opening, those] of byOpening) look(opening, those);
  }
}

/** Items of which a cell may differ because what was done in some others did; null: any may. */
function touchedBy(reach: Reach, before: Reach): Set<string> | null {
  const [now, then] = [progressByItem(reach.progress), progressByItem(before.progress)];
  const changed = new Set<string>();
  for (const kind of ["marks", "handIns", "openings"] as const) {
    const [one, other] = [now[kind] as Map<string, unknown>, then[kind] as Map<string, unknown>];
    if (one === other) continue;
    for (const [itemId, rows] of one) if (other.get(itemId) !== rows) changed.add(itemId);
    for (const itemId of other.keys()) if (!one.has(itemId)) changed.add(itemId);
  }
  const { byItem } = mentionsIn(reach.plan);
  for (const itemId of [...changed])
    for (const asking of byItem.get(itemId) ?? []) {
      if (reach.plan.items[asking]?.kind === "folder") return null;
      changed.add(asking);
    }
  return changed;
}

/** The sheet of a reach; `before`: one of the same plan, students and moment, of which what stands is taken over. */
export function sheetOf(reach: Reach, before?: Sheet | null): Sheet {
  const { plan, indexOf } = reach;
  const columns = columnsOf(plan);
  const old =
    before && before.reach.plan === plan && before.reach.roster === reach.roster && before.reach.t === reach.t
      ? (before as Made)
      : null;
  const touched = old && touchedBy(reach, old.reach);
  const few = old && touched && fewChanged(old.reach, reach);
  const kept = new Map<string, SheetColumn>();
  if (old && touched) for (const [id, column] of old.kept) if (!touched.has(id)) kept.set(id, column);
  const making: Making = {
    reach,
    dates: dateTable(reach, old?.dates),
    past: pastOf(reach),
    latest: new Float64Array(reach.students.length),
  };
  const found = progressLookup(reach.progress);
  const known = new Map<string, Total>();

  const column = (item: Item): SheetColumn => {
    let made = kept.get(item.id);
    if (!made) {
      const was = few && old?.kept.get(item.id);
      made = was ? columnAfter(making, was, few) : columnOf(making, item);
      kept.set(item.id, made);
    }
    return made;
  };
  const cell = (item: Item, personId: string): Cell | null => {
    const index = indexOf.get(personId);
    if (index === undefined) return null;
    const { states, late } = column(item);
    return {
      state: cellStates[states[index] as number] as CellState,
      mark: found.mark(personId, item.id),
      lateBy: late?.[index] ?? 0,
    };
  };
  const made: Made = {
    reach,
    columns,
    dates: making.dates,
    kept,
    totals: null,
    column,
    cell,
    percentages() {
      if (made.totals) return made.totals;
      const all = columns.map(column);
      const differing = old?.totals && touched ? (few ?? differingRows(old, all, touched)) : null;
      made.totals =
        old?.totals && differing
          ? percentagesOf(plan.course.grading, all, reach.students.length, { totals: old.totals, rows: differing })
          : percentagesOf(plan.course.grading, all, reach.students.length);
      return made.totals;
    },
    total(personId) {
      let total = known.get(personId);
      if (!total) {
        total = totalOf(
          plan.course.grading,
          columns.flatMap((item) => {
            const one = cell(item, personId);
            return one ? [{ item, cell: one }] : [];
          }),
        );
        known.set(personId, total);
      }
      return total;
    },
  };
  return made;
}

/** The students of whom some touched column says another thing than before; null where the columns were not all there. */
function differingRows(old: Made, columns: SheetColumn[], touched: Set<string>): number[] | null {
  const rows = new Set<number>();
  for (const { item, states, points } of columns) {
    if (!touched.has(item.id)) continue;
    const was = old.kept.get(item.id);
    if (!was) return null;
    for (let index = 0; index < states.length; index++)
      if (states[index] !== was.states[index] || !Object.is(points[index], was.points[index])) rows.add(index);
  }
  return [...rows];
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
