/**
 * The dates and limits of every student as columns of numbers, one an item and field: facts are gathered for all at
 * once, and decided by decide.ts once for all who are alike in them. Columns are computed when they are asked for; `dateTable` takes over from the table
 * before what a change did not touch.
 * Source: semantics.md section 6, steps 1 to 4.
 */

import { instantOf, wallOf } from "../../clock/local-time.ts";
import { lookup } from "../../plan/lookup.ts";
import type { Allowance, DateField, Item, Override } from "../../plan/types.ts";
import { type Bits, eachBit } from "../../sets/bits.ts";
import { type Calendar, isAnchor, wallByCalendar } from "../anchors.ts";
import { allowedBy, type Candidate, decide, isMomentField, type Value } from "./decide.ts";
import type { StudentsAt } from "./memberships.ts";
import { singly } from "./precedence.ts";
import { allowancesFor, type GivenValue } from "./resolve.ts";

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
  /** Which combination of overrides each student has; anything between two columns. */
  combination: Int32Array;
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
    scratch: old?.scratch ?? { combination: new Int32Array(count) },
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

/** An override by one target that it stands for: each group of a named set by itself. */
type Step = ReturnType<typeof singly>[number];

/** Students alike in the overrides that reach them. */
interface Combinations {
  /** The number of each student's. */
  of: Int32Array;
  /** What leads to each: the combination without its last step, and that step. Number 0 has none. */
  all: { before: number; step: number }[];
}

function combinationsOf({ reach, scratch }: Made, steps: Step[]): Combinations {
  const of = scratch.combination;
  const all = [{ before: -1, step: -1 }];
  if (steps.length > 0) of.fill(0);
  steps.forEach(({ target }, step) => {
    if (target.kind === "person") {
      const index = reach.indexOf.get(target.id);
      if (index !== undefined) of[index] = all.push({ before: of[index] as number, step }) - 1;
      return;
    }
    // By what they had so far, what they have with this one; 0: nobody asked yet.
    const next = new Int32Array(all.length);
    eachBit(reach.members(target), (index) => {
      const before = of[index] as number;
      next[before] ||= all.push({ before, step }) - 1;
      of[index] = next[before] as number;
    });
  });
  return { of, all };
}

/** What a field comes to for a combination of overrides and a kind of student, decided when the first of them asks. */
function decisionsOf(made: Made, item: Item, field: DateField, steps: Step[], { all: kinds }: Kinds) {
  const { plan } = made.reach;
  const valueBy = (given: GivenValue | undefined, calendar: Calendar): Value =>
    isAnchor(given) ? wallByCalendar(given, calendar, plan.course.timeZone) : (given ?? null);
  const candidates = new Map<number, Candidate | null>();
  const candidateOf = (step: number, kind: number): Candidate | null => {
    const key = step * kinds.length + kind;
    const known = candidates.get(key);
    if (known !== undefined) return known;
    const { override, place } = steps[step] as Step;
    const value = valueBy(override.dates[field], (kinds[kind] as Kinds["all"][number]).calendar);
    const found = value === null ? null : { override, value, place };
    candidates.set(key, found);
    return found;
  };
  return (combination: number, kind: number, all: Combinations["all"]): number => {
    const { calendar, allowances } = kinds[kind] as Kinds["all"][number];
    const theirs: Candidate[] = [];
    for (let at = all[combination]; at && at.step >= 0; at = all[at.before]) {
      const one = candidateOf(at.step, kind);
      if (one) theirs.push(one);
    }
    const facts = { candidates: theirs.reverse(), base: valueBy(item.dates[field], calendar), allowances };
    const { value } = decide(plan, field, facts);
    return value === null ? Number.NaN : numberOf(made, field, value);
  };
}

/** Fills a column, whatever stood in it. */
function columnOf(made: Made, item: Item, field: DateField, overrides: Override[], column: Column): Column {
  const setting = overrides.filter(({ dates }) => dates[field] !== undefined);
  const given = item.dates[field];
  if (given === undefined && setting.length === 0) return column.fill(Number.NaN);
  const anchored = isAnchor(given) || setting.some(({ dates }) => isAnchor(dates[field]));
  const kinds = kindsOf(made, item, field, anchored);
  const steps = singly(made.reach.plan, setting);
  const decisionOf = decisionsOf(made, item, field, steps, kinds);
  const { of: combinationOf, all } = combinationsOf(made, steps);
  const many = kinds.all.length;
  // Most students have the item's own value.
  const own = Float64Array.from(kinds.all, (_, kind) => decisionOf(0, kind, all));
  if (many === 1) column.fill(own[0] as number);
  else for (let index = 0; index < column.length; index++) column[index] = own[kinds.of[index] as number] as number;
  if (all.length === 1) return column;
  const decided = new Float64Array(all.length * many);
  const isDecided = new Uint8Array(all.length * many);
  for (let index = 0; index < column.length; index++) {
    const combination = combinationOf[index] as number;
    if (combination === 0) continue;
    const kind = kinds.of[index] as number;
    const key = combination * many + kind;
    if (isDecided[key] === 0) {
      isDecided[key] = 1;
      decided[key] = decisionOf(combination, kind, all);
    }
    column[index] = decided[key] as number;
  }
  return column;
}
