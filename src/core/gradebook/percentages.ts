/**
 * Every student's percentage at once: what totals.ts says of one student with its steps, as numbers alone.
 * Source: semantics.md section 7.
 */
import type { Grading } from "../plan/grading.ts";
import { code, type SheetColumn } from "./column.ts";
import { droppedOf } from "./totals.ts";

const { marked, missing } = code;

/** Earned and possible points of a category's columns, a number for each of the students asked about. */
interface Sums {
  earned: Float64Array;
  possible: Float64Array;
}

function add(columns: SheetColumn[], missingIsZero: boolean, rows: number[] | null, sums: Sums): void {
  const { earned, possible } = sums;
  for (const { item, states, points } of columns) {
    const most = item.points ?? 0;
    const count = rows ? rows.length : states.length;
    for (let at = 0; at < count; at++) {
      const index = rows ? (rows[at] as number) : at;
      const state = states[index] as number;
      if (state === marked) {
        earned[at] = (earned[at] as number) + (points[index] as number);
        possible[at] = (possible[at] as number) + most;
      } else if (missingIsZero && state === missing) possible[at] = (possible[at] as number) + most;
    }
  }
}

/** The same with the lowest dropped: student by student, as which are the lowest differs. */
function addKept(
  columns: SheetColumn[],
  missingIsZero: boolean,
  drop: number,
  rows: number[] | null,
  { earned, possible }: Sums,
): void {
  const count = rows ? rows.length : earned.length;
  // Where all columns carry the same points the lowest are those of the fewest points.
  const alike = columns.every(({ item }) => item.points === columns[0]?.item.points);
  const own = new Float64Array(columns.length);
  for (let at = 0; at < count; at++) {
    const index = rows ? (rows[at] as number) : at;
    let counting = 0;
    const cells: { points: number; possible: number }[] = [];
    for (const { item, states, points } of columns) {
      const state = states[index] as number;
      if (state !== marked && !(missingIsZero && state === missing)) continue;
      const value = state === marked ? (points[index] as number) : 0;
      if (alike) own[counting] = value;
      else cells.push({ points: value, possible: item.points ?? 0 });
      counting++;
    }
    if (counting === 0) continue;
    const gone = Math.min(drop, counting - 1);
    if (alike) {
      // A few are dropped of many: each is looked for once, in the order of the marks.
      const theirs = own.subarray(0, counting);
      for (let step = 0; step < gone; step++) {
        let lowest = -1;
        for (let place = 0; place < counting; place++)
          if (!Number.isNaN(theirs[place]) && (lowest < 0 || (theirs[place] as number) < (theirs[lowest] as number)))
            lowest = place;
        theirs[lowest] = Number.NaN;
      }
      let sum = 0;
      for (let place = 0; place < counting; place++) {
        const value = theirs[place] as number;
        if (!Number.isNaN(value)) sum += value;
      }
      earned[at] = sum;
      possible[at] = (counting - gone) * (columns[0]?.item.points ?? 0);
      continue;
    }
    const dropped = droppedOf(cells, drop);
    let [sum, of] = [0, 0];
    cells.forEach((cell, place) => {
      if (dropped.has(place)) return;
      sum += cell.points;
      of += cell.possible;
    });
    earned[at] = sum;
    possible[at] = of;
  }
}

/** Percent of each student; NaN where no cell counts. Of totals from before only some rows are worked out again. */
export function percentagesOf(
  grading: Grading,
  columns: SheetColumn[],
  count: number,
  before?: { totals: Float64Array; rows: number[] },
): Float64Array {
  const rows = before?.rows ?? null;
  const many = rows ? rows.length : count;
  const weighted = new Float64Array(many);
  const weights = new Float64Array(many);
  const categories =
    grading.categories.length === 0
      ? [{ weight: 1, dropLowest: 0, columns }]
      : grading.categories.map(({ id, weight, dropLowest }) => ({
          weight,
          dropLowest,
          columns: columns.filter(({ item }) => item.categoryId === id),
        }));
  for (const { weight, dropLowest, columns: theirs } of categories) {
    const sums = { earned: new Float64Array(many), possible: new Float64Array(many) };
    if (dropLowest === 0) add(theirs, grading.missingIsZero, rows, sums);
    else addKept(theirs, grading.missingIsZero, dropLowest, rows, sums);
    for (let at = 0; at < many; at++) {
      const possible = sums.possible[at] as number;
      if (possible === 0) continue;
      weighted[at] = (weighted[at] as number) + (weight * (sums.earned[at] as number)) / possible;
      weights[at] = (weights[at] as number) + weight;
    }
  }
  const totals = before ? before.totals.slice() : new Float64Array(count);
  for (let at = 0; at < many; at++) {
    const index = rows ? (rows[at] as number) : at;
    const weight = weights[at] as number;
    totals[index] = weight === 0 ? Number.NaN : (100 * (weighted[at] as number)) / weight;
  }
  return totals;
}
