/**
 * The dates and limits of every student as columns of numbers, one an item and field: what resolve.ts says of one
 * student, for all at once. Columns are computed when they are asked for; `dateTable` takes over from the table
 * before what a change did not touch.
 * Source: semantics.md section 6, steps 1 to 4.
 */

import { instantOf, wallOf } from "../../clock/local-time.ts";
import { lookup } from "../../plan/lookup.ts";
import type { Allowance, DateField, Item, Override, Target } from "../../plan/types.ts";
import { type Bits, eachBit } from "../../sets/bits.ts";
import { type Calendar, isAnchor, wallByCalendar } from "../anchors.ts";
import type { StudentsAt } from "./memberships.ts";
import { inOrder } from "./precedence.ts";
import { allowancesFor, allowedBy, type GivenValue, isMomentField, type Value, withAllowance } from "./resolve.ts";

/**
 * One number a student, in the order of the reach: epoch milliseconds of a moment, a limit, or the place of an access
 * word in `words`. NaN where it is unset; "none" is the most generous number there is: plus infinity, minus infinity
 * for opens.
 */
export type Column = Float64Array;

export interface DateTable {
  reach: StudentsAt;
  column(item: Item, field: DateField): Column;
  /** The number that everybody has, where nothing differs for anyone; undefined where it may. */
  common(item: Item, field: DateField): number | undefined;
  /** Passwords by their number. */
  words: string[];
  /** What a number of a column says: wall-clock text, a limit, a word, "none", or null. */
  valueOf(field: DateField, number: number): Value;
}

/** Students alike in calendar and allowance of a field, by number; every value is worked out once for each kind. */
interface Kinds {
  /** The kind of each student. */
  of: Uint16Array;
  all: { calendar: Calendar; allowances: Allowance[] }[];
}

interface Kept {
  item: Item;
  overrides: Override[];
  columns: Map<DateField, Column>;
}
interface Made extends DateTable {
  kept: Map<string, Kept>;
  kinds: Map<string, Kinds>;
  scratch: Scratch;
}

/** What a column is made with: the same for all, one after another. */
interface Scratch {
  /** The best of a rank so far, before allowances. */
  best: Float64Array;
  /** With which rank of which column a student's best was stamped. */
  stamp: Int32Array;
  /** The last stamp that was given out. */
  last: number;
}

const sameRows = (a: Override[], b: Override[]) => a.length === b.length && a.every((row, index) => row === b[index]);
const none: Override[] = [];

/** Whether all that columns are made of, beside items and overrides, is the same in both. */
function isAlike(a: StudentsAt, b: StudentsAt): boolean {
  const [one, other] = [a.plan, b.plan];
  return (
    a.membershipSets === b.membershipSets &&
    a.t === b.t &&
    (["course", "sections", "groups", "layers", "sets", "allowances", "enrolments"] as const).every(
      (table) => one[table] === other[table],
    )
  );
}

/**
 * The table of a reach; `before`: a table of the plan as it was, of which what still holds is taken over. A `passing`
 * one keeps nothing: a column stands until one of another item is asked for. A look at every item once then touches
 * the same memory over and over.
 */
export function dateTable(reach: StudentsAt, before?: DateTable, passing = false): DateTable {
  const { plan } = reach;
  const old = before && isAlike(before.reach, reach) ? (before as Made) : null;
  const kinds = old?.kinds ?? new Map<string, Kinds>();
  const words = old?.words ?? [];
  const kept = new Map<string, Kept>();
  const { overridesOfItem } = lookup(plan);

  const keptOf = (item: Item): Kept => {
    const known = kept.get(item.id);
    if (known) return known;
    const overrides = overridesOfItem.get(item.id) ?? none;
    const was = old?.kept.get(item.id);
    const stands = was && was.item.dates === item.dates && sameRows(was.overrides, overrides);
    const made = { item, overrides, columns: stands ? was.columns : new Map<DateField, Column>() };
    kept.set(item.id, made);
    return made;
  };
  const count = reach.students.length;
  const keptColumn = (item: Item, field: DateField): Column => {
    const { columns, overrides } = keptOf(item);
    let column = columns.get(field);
    if (!column) {
      column = columnOf(table, item, field, overrides, new Float64Array(count));
      columns.set(field, column);
    }
    return column;
  };
  const standing = new Map<DateField, { item: Item; column: Column }>();
  const passingColumn = (item: Item, field: DateField): Column => {
    const last = standing.get(field);
    if (last?.item === item) return last.column;
    const column = last?.column ?? new Float64Array(count);
    standing.set(field, { item, column });
    return columnOf(table, item, field, overridesOfItem.get(item.id) ?? none, column);
  };
  const table: Made = {
    scratch: old?.scratch ?? { best: new Float64Array(count), stamp: new Int32Array(count), last: 0 },
    reach,
    words,
    kept,
    kinds,
    column: passing ? passingColumn : keptColumn,
    common(item, field) {
      const overrides = overridesOfItem.get(item.id) ?? none;
      const given = item.dates[field];
      if (isAnchor(given) || overrides.some(({ dates }) => dates[field] !== undefined)) return undefined;
      if (given === undefined) return Number.NaN;
      return given !== "none" && allowancesFor(plan, item).some((one) => allowedBy(one, field) > 0)
        ? undefined
        : numberOf(table, field, given);
    },
    valueOf(field, number) {
      if (Number.isNaN(number)) return null;
      if (!Number.isFinite(number)) return "none";
      if (isMomentField(field)) return wallOf(number, plan.course.timeZone);
      return field === "accessWord" ? (words[number] ?? null) : number;
    },
  };
  return table;
}

/** Students by calendar where something is anchored, and by what allowances add to the field. */
function kindsOf({ reach, kinds }: Made, item: Item, field: DateField, anchored: boolean): Kinds {
  const gives = field === "closes" ? "due" : field;
  const key = `${gives}/${anchored}/${item.kind === "event"}`;
  const ready = kinds.get(key);
  if (ready) return ready;
  const made: Kinds = { of: new Uint16Array(reach.students.length), all: [] };
  const calendars = anchored
    ? reach.calendars()
    : [{ calendar: { key: "none", meetings: [] } satisfies Calendar, bits: reach.everyone }];
  const allowances = allowancesFor(reach.plan, item).filter((one) => allowedBy(one, field) > 0);
  const steps = [...new Set(allowances.map((one) => allowedBy(one, field)))].sort((a, b) => b - a);
  const { both, without, either, nobody } = reach.sets;
  for (const { calendar, bits } of calendars) {
    let left: Bits = bits;
    for (const step of [...steps, 0]) {
      const given = allowances.filter((one) => allowedBy(one, field) === step);
      const theirs =
        step === 0
          ? left
          : both(
              left,
              given.reduce((all, { target }) => either(all, reach.members(target)), nobody),
            );
      left = without(left, theirs);
      const kind = made.all.push({ calendar, allowances: given.slice(0, 1) }) - 1;
      eachBit(theirs, (index) => {
        made.of[index] = kind;
      });
    }
  }
  kinds.set(key, made);
  return made;
}

const numberOf = (made: Made, field: DateField, value: string | number): number => {
  if (value === "none") return field === "opens" ? Number.NEGATIVE_INFINITY : Number.POSITIVE_INFINITY;
  if (isMomentField(field)) return instantOf(String(value), made.reach.plan.course.timeZone);
  if (field !== "accessWord") return Number(value);
  const known = made.words.indexOf(String(value));
  return known >= 0 ? known : made.words.push(String(value)) - 1;
};

/** A given value for each kind of student, worked out when the first of that kind asks. */
interface Numbers {
  /** As it was given, and with the allowance of the kind. */
  plain: Float64Array;
  allowed: Float64Array;
  /** Makes both ready for a kind. */
  ready(kind: number): void;
}

function numbersOf(made: Made, field: DateField, given: GivenValue | undefined, { all }: Kinds): Numbers {
  const { timeZone } = made.reach.plan.course;
  const plain = new Float64Array(all.length).fill(Number.NaN);
  const allowed = new Float64Array(all.length).fill(Number.NaN);
  const known = new Uint8Array(all.length);
  const ready = (kind: number) => {
    if (known[kind] === 1) return;
    known[kind] = 1;
    const { calendar, allowances } = all[kind] as Kinds["all"][number];
    const value = isAnchor(given) ? wallByCalendar(given, calendar, timeZone) : (given ?? null);
    if (value === null) return;
    plain[kind] = numberOf(made, field, value);
    allowed[kind] =
      allowances.length === 0
        ? (plain[kind] as number)
        : numberOf(made, field, withAllowance(field, value, allowances).value);
  };
  return { plain, allowed, ready };
}

/** Fills a column, whatever stood in it. */
function columnOf(made: Made, item: Item, field: DateField, overrides: Override[], column: Column): Column {
  const { reach } = made;
  const { plan } = reach;
  const setting = overrides.filter(({ dates }) => dates[field] !== undefined);
  const given = item.dates[field];
  const anchored = isAnchor(given) || setting.some(({ dates }) => isAnchor(dates[field]));
  if (given === undefined && setting.length === 0) return column.fill(Number.NaN);
  const kinds = kindsOf(made, item, field, anchored);
  const base = numbersOf(made, field, given, kinds);
  for (let kind = 0; kind < kinds.all.length; kind++) base.ready(kind);
  const [kindOf, numbers] = [kinds.of, base.allowed];
  if (kinds.all.length === 1 || given === undefined) column.fill(numbers[0] as number);
  else for (let index = 0; index < column.length; index++) column[index] = numbers[kindOf[index] as number] as number;
  if (setting.length === 0) return column;

  const { scratch } = made;
  const { best, stamp } = scratch;
  const place = ({ target }: { target: Target }) => plan.groups[target.id]?.position ?? 0;
  // Last first: what comes before in the order is written over what comes after.
  const byWord = field === "accessWord";
  const ranks = inOrder(plan, setting, byWord || plan.course.datePolicy === "layer order").reverse();
  // No word to type beats any word, wherever it stands: it is written over all the others.
  if (byWord) ranks.push(ranks.flat().filter(({ override }) => override.dates.accessWord === "none"));
  for (const rank of ranks) {
    const mark = ++scratch.last;
    // Of two words in one layer the group's holds that comes first.
    const list = byWord ? [...rank].sort((a, b) => place(a) - place(b)) : rank;
    for (const { target, override } of list) {
      const { plain, allowed, ready } = numbersOf(made, field, override.dates[field], kinds);
      eachBit(reach.members(target), (index) => {
        const kind = kindOf[index] as number;
        ready(kind);
        const value = plain[kind] as number;
        if (Number.isNaN(value)) return;
        if (stamp[index] === mark) {
          if (byWord) return;
          const sofar = best[index] as number;
          if (field === "opens" ? value >= sofar : value <= sofar) return;
        }
        stamp[index] = mark;
        best[index] = value;
        column[index] = allowed[kind] as number;
      });
    }
  }
  for (const { target, dates } of setting) {
    const index = target.kind === "person" ? reach.indexOf.get(target.id) : undefined;
    if (index === undefined) continue;
    const kind = kindOf[index] as number;
    const { plain, ready } = numbersOf(made, field, dates[field], kinds);
    ready(kind);
    const value = plain[kind] as number;
    if (!Number.isNaN(value)) column[index] = value;
  }
  return column;
}
