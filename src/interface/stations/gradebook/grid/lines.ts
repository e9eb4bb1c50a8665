/** The lines of the grid: students, under a line for each group where rows are grouped. */

import { code, type SheetColumn } from "../../../../core/gradebook/column.ts";
import type { Sheet } from "../../../../core/gradebook/sheet.ts";
import { lookup } from "../../../../core/plan/lookup.ts";
import type { Group } from "../../../../core/plan/types.ts";
import { hasBit } from "../../../../core/sets/bits.ts";

export type Line =
  | { kind: "student"; personId: string; index: number }
  /** Null: those in no group of the layer. */
  | { kind: "group"; group: Group | null; indexes: number[] };

/** Lines of some students; a student in two groups stands under the first. */
export function linesOf(sheet: Sheet, rows: string[], layerId: string | null): Line[] {
  const { reach } = sheet;
  const student = (index: number): Line => ({
    kind: "student",
    personId: reach.students[index] as string,
    index,
  });
  const indexes = rows.map((personId) => reach.indexOf.get(personId) as number);
  if (layerId === null) return indexes.map(student);
  const left = new Set(indexes);
  const lines: Line[] = [];
  const part = (group: Group | null, theirs: number[]) => {
    if (theirs.length === 0) return;
    lines.push({ kind: "group", group, indexes: theirs }, ...theirs.map(student));
  };
  for (const group of lookup(reach.plan).groupsOfLayer.get(layerId) ?? []) {
    const bits = reach.membershipSets.groups.get(group.id);
    const theirs = bits ? indexes.filter((index) => left.has(index) && hasBit(bits, index)) : [];
    for (const index of theirs) left.delete(index);
    part(group, theirs);
  }
  part(
    null,
    indexes.filter((index) => left.has(index)),
  );
  return lines;
}

export interface Subtotal {
  /** Mean percent of the marks; null of none. */
  mean: number | null;
  toMark: number;
  missing: number;
}

export function subtotalOf({ item, states, points }: SheetColumn, indexes: number[]): Subtotal {
  let [sum, marked, toMark, missing] = [0, 0, 0, 0];
  for (const index of indexes) {
    const state = states[index];
    if (state === code.marked) {
      sum += points[index] as number;
      marked++;
    } else if (state === code["handed in"]) toMark++;
    else if (state === code.missing) missing++;
  }
  return { mean: marked === 0 ? null : ((sum / marked) * 100) / (item.points ?? 1), toMark, missing };
}

export const meanOf = (totals: Float64Array, indexes: number[]): number | null => {
  const there = indexes.map((index) => totals[index] as number).filter((total) => !Number.isNaN(total));
  return there.length === 0 ? null : there.reduce((sum, total) => sum + total, 0) / there.length;
};
