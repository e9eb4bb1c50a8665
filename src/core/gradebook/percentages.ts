/**
 * Every student's percentage at once, as numbers alone. What counts and what is dropped is decided by totals.ts; only the
 * sums are written twice, since a total with its steps costs a value a cell: 400 columns of 5,000 students are two million.
 * Source: semantics.md section 7.
 */
import type { Grading } from "../plan/grading.ts";
import { cellStates } from "./cells.ts";
import type { SheetColumn } from "./column.ts";
import { countsFor, droppedOf } from "./totals.ts";

/** For each state, by its place in `cellStates`, how it counts: 0 not at all, 1 as nothing, 2 with its points. */
const countsByState = (grading: Pick<Grading, "missingIsZero">) =>
  Uint8Array.from(cellStates, (state) => ({ points: 2, zero: 1, none: 0 })[countsFor(state, grading) ?? "none"]);

/** Earned and possible points of a category's columns, a number for each of the students asked about. */
interface Sums {
  earned: Float64Array;
  possible: Float64Array;
}

/** Columns of a category, for some students or all, and how their states count. */
interface Adding {
  columns: SheetColumn[];
  counts: Uint8Array;
  /** Whose places are asked about; null: everybody's. */
  rows: number[] | null;
  count: number;
}

function add({ columns, counts, rows, count }: Adding, { earned, possible }: Sums): void {
  for (const { item, states, points } of columns) {
    const most = item.points ?? 0;
    for (let at = 0; at < count; at++) {
      const index = rows ? (rows[at] as number) : at;
      const how = counts[states[index] as number] as number;
      if (how === 0) continue;
      if (how === 2) earned[at] = (earned[at] as number) + (points[index] as number);
      possible[at] = (possible[at] as number) + most;
    }
  }
}

/**
 * The same with the lowest dropped: student by student, as which are the lowest differs. Where all columns carry the
 * same points the lowest are those of the fewest points, and need no search for the best to keep.
 */
function addKept(adding: Adding, drop: number, { earned, possible }: Sums): void {
  const { columns, rows, count } = adding;
  const most = columns[0]?.item.points ?? 0;
  const alike = columns.every(({ item }) => (item.points ?? 0) === most);
  const own = { points: new Float64Array(columns.length), possible: new Float64Array(columns.length) };
  for (let at = 0; at < count; at++) {
    const counting = gather(adding, rows ? (rows[at] as number) : at, own);
    if (counting === 0) continue;
    const theirs = own.points.subarray(0, counting);
    if (alike) {
      const gone = Math.min(drop, counting - 1);
      earned[at] = sumWithoutLowest(theirs, gone);
      possible[at] = (counting - gone) * most;
    } else [earned[at], possible[at]] = sumsOfKept(theirs, own.possible, drop);
  }
}

/** Puts the cells of a student that count at the beginning of `own`, and gives how many there are. */
function gather(
  { columns, counts }: Adding,
  index: number,
  own: { points: Float64Array; possible: Float64Array },
): number {
  let counting = 0;
  for (const { item, states, points } of columns) {
    const how = counts[states[index] as number] as number;
    if (how === 0) continue;
    own.points[counting] = how === 2 ? (points[index] as number) : 0;
    own.possible[counting++] = item.points ?? 0;
  }
  return counting;
}

/** A few are dropped of many: each is looked for once, in the order of the marks. */
function sumWithoutLowest(points: Float64Array, gone: number): number {
  for (let step = 0; step < gone; step++) {
    let lowest = -1;
    for (let place = 0; place < points.length; place++)
      if (!Number.isNaN(points[place]) && (lowest < 0 || (points[place] as number) < (points[lowest] as number)))
        lowest = place;
    points[lowest] = Number.NaN;
  }
  let sum = 0;
  for (let place = 0; place < points.length; place++) if (!Number.isNaN(points[place])) sum += points[place] as number;
  return sum;
}

function sumsOfKept(points: Float64Array, possible: Float64Array, drop: number): [number, number] {
  const cells = Array.from(points, (value, place) => ({ points: value, possible: possible[place] as number }));
  const dropped = droppedOf(cells, drop);
  let [sum, of] = [0, 0];
  cells.forEach((cell, place) => {
    if (dropped.has(place)) return;
    sum += cell.points;
    of += cell.possible;
  });
  return [sum, of];
}

/** The categories of a grading with their columns; one of all where there are none. */
const categoriesOf = ({ categories }: Grading, columns: SheetColumn[]) =>
  categories.length === 0
    ? [{ weight: 1, dropLowest: 0, columns }]
    : categories.map(({ id, weight, dropLowest }) => ({
        weight,
        dropLowest,
        columns: columns.filter(({ item }) => item.categoryId === id),
      }));

/** Percent of each student; NaN where no cell counts. Of totals from before only some rows are worked out again. */
export function percentagesOf(
  grading: Grading,
  columns: SheetColumn[],
  count: number,
  before?: { totals: Float64Array; rows: number[] },
): Float64Array {
  const rows = before?.rows ?? null;
  const many = rows ? rows.length : count;
  const [weighted, weights] = [new Float64Array(many), new Float64Array(many)];
  const counts = countsByState(grading);
  for (const { weight, dropLowest, columns: theirs } of categoriesOf(grading, columns)) {
    const sums = { earned: new Float64Array(many), possible: new Float64Array(many) };
    const adding = { columns: theirs, counts, rows, count: many };
    if (dropLowest === 0) add(adding, sums);
    else addKept(adding, dropLowest, sums);
    for (let at = 0; at < many; at++) {
      const possible = sums.possible[at] as number;
      if (possible === 0) continue;
      weighted[at] = (weighted[at] as number) + (weight * (sums.earned[at] as number)) / possible;
      weights[at] = (weights[at] as number) + weight;
    }
  }
  const totals = before ? before.totals.slice() : new Float64Array(count);
  for (let at = 0; at < many; at++) {
    const weight = weights[at] as number;
    totals[rows ? (rows[at] as number) : at] = weight === 0 ? Number.NaN : (100 * (weighted[at] as number)) / weight;
  }
  return totals;
}
