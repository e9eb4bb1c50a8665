/**
 * Groups beside each other: what is to be marked, missing and late, and how the marks lie. A group of fewer than five
 * gives no statistics to those outside it. Source: semantics.md section 7.
 */
import { mean, quantileSorted, variance } from "d3-array";
import jStat from "jstat";
import { lookup } from "../plan/lookup.ts";
import { progressByItem } from "../plan/progress.ts";
import type { Group, Item } from "../plan/types.ts";
import { membershipSetsThen } from "../reach/membership-sets.ts";
import { type Bits, eachBit, hasBit, listBits } from "../sets/bits.ts";
import { code, countStates } from "./column.ts";
import type { Sheet } from "./sheet.ts";

export interface Summary {
  n: number;
  mean: number;
  median: number;
  lower: number;
  upper: number;
  /** Percent, ascending. */
  values: number[];
}

/** Mean, median and quartiles of percentages (quartiles by linear interpolation); null of none. */
export function summaryOf(numbers: number[]): Summary | null {
  if (numbers.length === 0) return null;
  const values = [...numbers].sort((a, b) => a - b);
  const at = (share: number) => quantileSorted(values, share) as number;
  return { n: values.length, mean: mean(values) as number, median: at(0.5), lower: at(0.25), upper: at(0.75), values };
}

export interface Difference {
  /** Mean of the one less the mean of the other, in percent points. */
  difference: number;
  from: number;
  to: number;
}

/** Percentages as sums: what can be told of many without telling of any of them. */
export interface Sums {
  n: number;
  mean: number;
  variance: number;
}
export const sumsOf = (values: number[]): Sums => ({
  n: values.length,
  mean: mean(values) ?? 0,
  variance: variance(values) ?? 0,
});

/** The difference of two means with its 95 % interval (Welch, unequal variances); null where either has fewer than two. */
export function differenceOf(one: Sums, other: Sums): Difference | null {
  if (one.n < 2 || other.n < 2) return null;
  const difference = one.mean - other.mean;
  const [a, b] = [one.variance / one.n, other.variance / other.n];
  if (a + b === 0) return { difference, from: difference, to: difference };
  const freedom = (a + b) ** 2 / (a ** 2 / (one.n - 1) + b ** 2 / (other.n - 1));
  const half = jStat.studentt.inv(0.975, freedom) * Math.sqrt(a + b);
  return { difference, from: difference - half, to: difference + half };
}

interface Counts {
  toMark: number;
  missing: number;
  late: number;
  excused: number;
}
export interface GroupFigures extends Counts {
  group: Group;
  /** How many of the rows are in it. */
  members: number;
  /** Null where nobody has a mark, or where too few are in it for those who ask. */
  summary: Summary | null;
  /** Whether it is left out because fewer than five are in it. */
  tooFew: boolean;
}

export interface Comparing {
  layerId: string;
  /** A column; null: the total. */
  item: Item | null;
  /** Whom the figures are of, in the order of the sheet. */
  rows: Bits;
  /** Groups as they stood at each student's latest hand-in of the column, where there is one. */
  asOfHandIn: boolean;
  /** Groups that whoever asks is of; null: all are theirs. */
  own: ReadonlySet<string> | null;
}

export const fewest = 5;

/** The students of each group of a layer, among the rows. */
function membersOf(sheet: Sheet, { layerId, item, rows, asOfHandIn }: Comparing): Map<string, number[]> {
  const { reach } = sheet;
  const groups = lookup(reach.plan).groupsOfLayer.get(layerId) ?? [];
  const found = new Map(groups.map(({ id }) => [id, [] as number[]]));
  const latest = new Map<number, number>();
  if (asOfHandIn && item)
    for (const { personId, at } of progressByItem(reach.progress).handIns.get(item.id) ?? []) {
      const index = reach.indexOf.get(personId);
      if (index !== undefined && at <= reach.t && at >= (latest.get(index) ?? 0)) latest.set(index, at);
    }
  eachBit(rows, (index) => {
    const then = latest.get(index);
    const membershipSets =
      then === undefined
        ? reach.membershipSets
        : membershipSetsThen(reach.plan, reach.membershipSets, then).membershipSets;
    for (const [id, indexes] of found) {
      const bits = membershipSets.groups.get(id);
      if (bits && hasBit(bits, index)) indexes.push(index);
    }
  });
  return found;
}

/** How far the work of some students is, in a column or in all, and their percentages in it or in the total. */
function figuresOf(sheet: Sheet, item: Item | null): (indexes: number[]) => { counts: Counts; values: number[] } {
  const columns = item ? [sheet.column(item)] : sheet.columns.map((one) => sheet.column(one));
  const percent = item ? null : sheet.percentages();
  return (indexes) => {
    const bits = new Uint32Array(sheet.reach.everyone.length);
    for (const index of indexes) bits[index >>> 5] = (bits[index >>> 5] as number) | (1 << (index & 31));
    const counts = { toMark: 0, missing: 0, late: 0, excused: 0 };
    for (const column of columns) {
      const found = countStates(column, bits);
      counts.toMark += found["handed in"];
      counts.missing += found.missing;
      counts.late += found.late;
      counts.excused += found.excused;
    }
    const values = indexes.flatMap((index) => {
      if (percent) return Number.isNaN(percent[index]) ? [] : [percent[index] as number];
      const [{ states, points }] = columns as [(typeof columns)[0]];
      return states[index] === code.marked ? [((points[index] as number) / (item?.points ?? 1)) * 100] : [];
    });
    return { counts, values };
  };
}

/** Each group of a layer with its figures, in the layer's order. */
export function compareGroups(sheet: Sheet, asked: Comparing): GroupFigures[] {
  const { reach } = sheet;
  const members = membersOf(sheet, asked);
  const { item, own } = asked;
  const figures = figuresOf(sheet, item);
  return (lookup(reach.plan).groupsOfLayer.get(asked.layerId) ?? []).map((group) => {
    const indexes = members.get(group.id) ?? [];
    const tooFew = own !== null && !own.has(group.id) && indexes.length < fewest;
    if (tooFew) {
      const none = { toMark: 0, missing: 0, late: 0, excused: 0, summary: null };
      return { group, members: indexes.length, ...none, tooFew };
    }
    const { counts, values } = figures(indexes);
    return { group, members: indexes.length, ...counts, summary: summaryOf(values), tooFew };
  });
}

export interface OthersFigures extends Omit<Counts, "excused"> {
  members: number;
  /** Null where fewer than five of them have a mark. */
  sums: Sums | null;
}
/**
 * All students but some, in a column or in the total: nothing of any of them, and nothing at all where they are fewer
 * than five.
 */
export function othersFigures(sheet: Sheet, item: Item | null, but: ReadonlySet<string>): OthersFigures | null {
  const indexes = sheet.reach.students.flatMap((id, index) => (but.has(id) ? [] : [index]));
  if (indexes.length < fewest) return null;
  const { counts, values } = figuresOf(sheet, item)(indexes);
  const { toMark, missing, late } = counts;
  const sums = values.length < fewest ? null : sumsOf(values);
  return { members: indexes.length, toMark, missing, late, sums };
}

export interface HandedIn {
  group: Group | null;
  handedIn: string[];
  notYet: string[];
}

/** Who has handed a column in and who has not, by group; those in none of the groups come last. Whom it is not for is left out. */
export function handedInByGroup(sheet: Sheet, layerId: string, item: Item, rows: Bits): HandedIn[] {
  const { reach } = sheet;
  const members = membersOf(sheet, { layerId, item, rows, asOfHandIn: false, own: null });
  const has = new Set<string>();
  for (const { personId, at } of progressByItem(reach.progress).handIns.get(item.id) ?? [])
    if (at <= reach.t) has.add(personId);
  const { states } = sheet.column(item);
  const part = (group: Group | null, indexes: number[]): HandedIn => {
    const theirs = indexes
      .filter((index) => states[index] !== code["not theirs"] && states[index] !== code.excused)
      .map((index) => reach.students[index] as string);
    return { group, handedIn: theirs.filter((id) => has.has(id)), notYet: theirs.filter((id) => !has.has(id)) };
  };
  const placed = new Set([...members.values()].flat());
  const parts = (lookup(reach.plan).groupsOfLayer.get(layerId) ?? []).map((group) =>
    part(group, members.get(group.id) ?? []),
  );
  const others = part(
    null,
    listBits(rows).filter((index) => !placed.has(index)),
  );
  return others.handedIn.length + others.notYet.length > 0 ? [...parts, others] : parts;
}
