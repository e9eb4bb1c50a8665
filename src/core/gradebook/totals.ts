/**
 * Totals: categories with weights, the lowest dropped, missing as nothing or as zero, a scale of words; each step kept,
 * so that a total can be opened. Source: semantics.md section 7.
 */

import type { Category, Grading } from "../plan/grading.ts";
import { compareFractions, dividedBy, type Fraction, fractionOf, plus, times } from "../plan/percent.ts";
import type { Item, Plan } from "../plan/types.ts";
import { sayDecimal, sayPoints } from "../text/locale.ts";
import { type Cell, type CellState, type Cells, columnsOf } from "./cells.ts";

export interface TotalCell {
  item: Item;
  /** Points earned; null where the cell does not count. */
  points: number | null;
  possible: number;
  /** Left out as one of the lowest. */
  dropped: boolean;
  /** Why it counts or does not: "14 of 20", "missing counts as zero", "waiting". */
  why: string;
}
export interface CategoryTotal {
  /** Null where the course has no categories: all columns together. */
  category: Category | null;
  cells: TotalCell[];
  earned: number;
  possible: number;
  /** Earned of possible; null where no cell counts. */
  percent: number | null;
  /** What part of the total it makes, 0 to 1, of the categories that have a counting cell. */
  share: number;
}
export interface Total {
  /** Percent, not cut at a hundred; null where no cell counts. */
  percent: number | null;
  /** The word of the scale; null where there is no scale, no total, or nothing so low in it. */
  word: string | null;
  categories: CategoryTotal[];
  /** Columns in no category: once there are categories they do not count. */
  apart: Item[];
}

/** What a cell in a state counts for in a total: its own points, nothing of what was possible, or not at all. */
export function countsFor(
  state: CellState,
  { missingIsZero }: Pick<Grading, "missingIsZero">,
): "points" | "zero" | null {
  if (state === "marked") return "points";
  return state === "missing" && missingIsZero ? "zero" : null;
}

/** What a cell earns, and why. */
function earnedBy(cell: Cell, item: Item, grading: Grading): Pick<TotalCell, "points" | "why"> {
  const counts = countsFor(cell.state, grading);
  if (counts === "points")
    return {
      points: cell.mark?.points ?? 0,
      why: `${sayPoints(cell.mark?.points ?? 0)} of ${sayPoints(item.points ?? 0)}`,
    };
  if (counts === "zero") return { points: 0, why: "missing counts as zero" };
  if (cell.state === "missing") return { points: null, why: "missing does not count" };
  return { points: null, why: cell.state === "handed in" ? "handed in, not marked yet" : cell.state };
}

/**
 * Which of some counting cells are dropped: the k that together raise earned / possible most; the last one never is.
 * For a given ratio r the best to keep are those with the largest earned − r × possible; the ratio that they give is
 * no smaller, and where it is the same, none is better.
 */
export function droppedOf(cells: { points: number; possible: number }[], k: number): Set<number> {
  const keep = cells.length - Math.min(k, Math.max(0, cells.length - 1));
  if (keep === cells.length) return new Set();
  const all = cells.map((_, at) => at);
  const ratioOf = (indexes: number[]) => {
    let [earned, possible] = [0, 0];
    for (const at of indexes) {
      earned += (cells[at] as { points: number }).points;
      possible += (cells[at] as { possible: number }).possible;
    }
    return earned / possible;
  };
  const bestFor = (ratio: number) =>
    [...all]
      .sort((a, b) => {
        const [one, other] = [cells[a], cells[b]] as [(typeof cells)[0], (typeof cells)[0]];
        return other.points - ratio * other.possible - (one.points - ratio * one.possible) || a - b;
      })
      .slice(0, keep);
  let kept = bestFor(ratioOf(all));
  for (let ratio = ratioOf(kept); ; ) {
    const next = bestFor(ratio);
    const better = ratioOf(next);
    if (better <= ratio) break;
    [kept, ratio] = [next, better];
  }
  const stays = new Set(kept);
  return new Set(all.filter((at) => !stays.has(at)));
}

function categoryTotal(category: Category | null, cells: TotalCell[]): CategoryTotal {
  const counting = cells.filter((cell): cell is TotalCell & { points: number } => cell.points !== null);
  const dropped = droppedOf(counting, category?.dropLowest ?? 0);
  counting.forEach((cell, at) => {
    cell.dropped = dropped.has(at);
  });
  const kept = counting.filter((cell) => !cell.dropped);
  const earned = kept.reduce((sum, { points }) => sum + points, 0);
  const possible = kept.reduce((sum, cell) => sum + cell.possible, 0);
  return { category, cells, earned, possible, percent: kept.length > 0 ? (earned / possible) * 100 : null, share: 0 };
}

/** The first step of a scale that a percentage reaches, from the top; exact to a millionth. */
export const wordOf = (scale: Grading["scale"], percent: number | null): string | null =>
  percent === null
    ? null
    : ([...scale].sort((a, b) => b.from - a.from).find(({ from }) => percent + 1e-6 >= from)?.word ?? null);

/** The total of one student from the cells of every column. */
export function totalOf(grading: Grading, cells: { item: Item; cell: Cell }[]): Total {
  const { categories, scale } = grading;
  const made = cells.map(
    ({ item, cell }): TotalCell => ({
      item,
      possible: item.points ?? 0,
      dropped: false,
      ...earnedBy(cell, item, grading),
    }),
  );
  const known = new Set(categories.map(({ id }) => id));
  const groups =
    categories.length === 0
      ? [categoryTotal(null, made)]
      : categories.map((category) =>
          categoryTotal(
            category,
            made.filter(({ item }) => item.categoryId === category.id),
          ),
        );
  const weightOf = ({ category, percent }: CategoryTotal) => (percent === null ? 0 : (category?.weight ?? 1));
  const weights = groups.reduce((sum, group) => sum + weightOf(group), 0);
  for (const group of groups) group.share = weights === 0 ? 0 : weightOf(group) / weights;
  const percent = weights === 0 ? null : groups.reduce((sum, group) => sum + group.share * (group.percent ?? 0), 0);
  return {
    percent,
    word: wordOf(scale, percent),
    categories: groups,
    apart:
      categories.length === 0 ? [] : cells.map(({ item }) => item).filter((item) => !known.has(item.categoryId ?? "")),
  };
}

/** Below, at or above zero as a total is below, at or above a percentage, exactly; NaN where there is no total. */
export function compareTotal({ categories }: Total, percent: number): number {
  let earned: Fraction = fractionOf(0);
  let weights: Fraction = fractionOf(0);
  for (const { category, cells } of categories) {
    const kept = cells.filter(({ points, dropped }) => points !== null && !dropped);
    if (kept.length === 0) continue;
    const sum = (of: (cell: TotalCell) => number) => kept.map((cell) => fractionOf(of(cell))).reduce(plus);
    const weight = fractionOf(category?.weight ?? 1);
    const share = dividedBy(
      sum(({ points }) => points ?? 0),
      sum(({ possible }) => possible),
    );
    earned = plus(earned, times(weight, share));
    weights = plus(weights, weight);
  }
  if (weights.over === 0n) return Number.NaN;
  return compareFractions(times(fractionOf(100), earned), times(fractionOf(percent), weights));
}

/** The total of each student, worked out when it is asked for and kept. */
export function totalsOf(plan: Plan, cells: Cells): (personId: string) => Total {
  const columns = columnsOf(plan);
  const known = new Map<string, Total>();
  return (personId) => {
    const ready = known.get(personId);
    if (ready) return ready;
    const theirs = columns.flatMap((item) => {
      const cell = cells.cell(item, personId);
      return cell ? [{ item, cell }] : [];
    });
    const made = totalOf(plan.course.grading, theirs);
    known.set(personId, made);
    return made;
  };
}

/** "78.4 %", with the word of the scale where there is one; "no total" where no cell counts. */
export const sayTotal = ({ percent, word }: Pick<Total, "percent" | "word">): string =>
  percent === null ? "no total" : `${sayDecimal(Math.round(percent * 10) / 10, 1)} %${word ? `, ${word}` : ""}`;
