/**
 * The gradebook of all students as columns of numbers: what cells.ts says of one cell, for all at once. Columns are
 * computed when they are asked for; a sheet takes over from the one before what a mark did not touch.
 * Source: semantics.md section 7.
 */
import type { ItemRows } from "../plan/item-rows.ts";
import { marksSince, progressByItem, progressLookup } from "../plan/progress.ts";
import type { Item } from "../plan/types.ts";
import { combinedInto } from "../reach/combined.ts";
import { mentionsIn } from "../reach/mentions.ts";
import type { Reach } from "../reach/reach.ts";
import type { DateTable } from "../timing/resolving/table.ts";
import { type Cell, type CellState, type Cells, cellStates, columnsOf } from "./cells.ts";
import { columnAfter, columnOf, makingOf, type SheetColumn } from "./column.ts";
import { percentagesOf } from "./percentages.ts";
import { type Total, totalOf } from "./totals.ts";

export interface Sheet extends Cells {
  reach: Reach;
  columns: Item[];
  column(item: Item): SheetColumn;
  /** Columns that were not made yet. Totals ask for all of them, which of a large course takes long. */
  unmade(): Item[];
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

/**
 * The students of whom alone something differs, where only some marks of persons do: null where it may be others too.
 */
function fewChanged(before: Reach, reach: Reach): number[] | null {
  const changes = marksSince(before.rawProgress, reach.rawProgress);
  const into = combinedInto(reach.plan);
  if (!changes || changes.length > 200 || changes.some((one) => "groupId" in one || into.has(one.itemId))) return null;
  const found = new Set<number>();
  for (const one of changes) {
    const index = "personId" in one ? reach.indexOf.get(one.personId) : undefined;
    if (index !== undefined) found.add(index);
  }
  return [...found];
}

/** Items of which a cell may differ because what was done in some others did; null: any may. */
function touchedBy(reach: Reach, before: Reach): Set<string> | null {
  const [now, then] = [progressByItem(reach.progress), progressByItem(before.progress)];
  const changed = new Set<string>();
  for (const kind of ["marks", "handIns", "openings"] as const) {
    const [one, other] = [now[kind] as ItemRows<unknown>, then[kind] as ItemRows<unknown>];
    if (one === other) continue;
    for (const itemId of one.keys()) if (!one.isSame(itemId, other)) changed.add(itemId);
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
    before &&
    before.reach.plan === plan &&
    before.reach.membershipSets === reach.membershipSets &&
    before.reach.t === reach.t
      ? (before as Made)
      : null;
  const touched = old && touchedBy(reach, old.reach);
  const few = old && touched && fewChanged(old.reach, reach);
  const kept = new Map<string, SheetColumn>();
  if (old && touched) for (const [id, column] of old.kept) if (!touched.has(id)) kept.set(id, column);
  const making = makingOf(reach, old?.dates);
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
    unmade: () => columns.filter(({ id }) => !kept.has(id)),
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
