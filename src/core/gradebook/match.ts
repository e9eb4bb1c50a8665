/**
 * Which students pass a filter, for all at once: every term is a set of students, and the words between them are what
 * sets do. Source: semantics.md section 7.
 */

import { addDays, instantOf } from "../clock/local-time.ts";
import { holdsAt, lookup } from "../plan/lookup.ts";
import { comparePercent, isClose } from "../plan/percent.ts";
import { progressByItem } from "../plan/progress.ts";
import { type MembershipSets, membershipSetsThen } from "../reach/membership-sets.ts";
import { type Bits, copyBits, eachBit, emptyBits, hasBit, isEmpty, listBits, setBit } from "../sets/bits.ts";
import { fold } from "../text/caseless.ts";
import { type CellState, cellStates } from "./cells.ts";
import type { SheetColumn } from "./column.ts";
import type { Comparison, Filter } from "./filter.ts";
import { attributeOf, columnsNamed, groupsNamed, layersNamed, namesOf, sectionsNamed, setsNamed } from "./names.ts";
import type { Sheet } from "./sheet.ts";
import { compareTotal } from "./totals.ts";

/** Of how a value lies to what it is compared with: below, at or above zero; nothing that is no number passes. */
const compare: Record<Comparison, (order: number) => boolean> = {
  "<": (order) => order < 0,
  "<=": (order) => order <= 0,
  ">": (order) => order > 0,
  ">=": (order) => order >= 0,
  "=": (order) => order === 0,
};

export interface Matched {
  /** Who passes, in the order of the sheet's reach. */
  bits: Bits;
  matches(personId: string): boolean;
  /** Person ids of who passes, by name. */
  rows(): string[];
}

/** Who was in what at the moment that a term is asked of. */
interface Then {
  membershipSets: MembershipSets;
  /** Who was a student then; null: all of the sheet are. */
  enrolled: Bits | null;
  t: number;
}

export function matcher(filter: Filter, sheet: Sheet): Matched {
  const { membershipSets, students, indexOf, sets, t } = sheet.reach;
  const found = new Evaluation(sheet).evaluate(filter, { membershipSets, enrolled: null, t }, sets.everyone);
  const bits = sets.both(sets.everyone, found);
  return {
    bits,
    matches(personId) {
      const index = indexOf.get(personId);
      return index !== undefined && hasBit(bits, index);
    },
    rows: () => listBits(bits).map((index) => students[index] as string),
  };
}

/** A filter over one sheet: each term is asked of a set of students, and gives those of them who pass. */
class Evaluation {
  private readonly everyone: Bits;
  private readonly nobody: Bits;
  constructor(private readonly sheet: Sheet) {
    ({ everyone: this.everyone, nobody: this.nobody } = sheet.reach.sets);
  }

  /** Whoever passes, of some at least: what is said of others does not count. */
  evaluate(part: Filter, then: Then, among: Bits): Bits {
    const { either, without } = this.sheet.reach.sets;
    switch (part.kind) {
      case "all":
        return this.everyone;
      case "or":
        return part.parts.reduce((made, one) => either(made, this.evaluate(one, then, among)), this.nobody);
      case "not":
        return without(this.everyone, this.evaluate(part.part, then, among));
      case "and": {
        const asof = part.parts.find((one) => one.kind === "asof");
        const terms = part.parts.filter((one) => one !== asof);
        return asof?.kind === "asof" ? this.asOf(asof.at, terms, among) : this.all(terms, then, among);
      }
      case "asof":
        return this.asOf(part.at, [], among);
      case "is":
        return this.is(part, then, among);
      case "compare":
        return part.field === "total" ? this.comparedTotals(part) : this.comparedCells(part, among);
      case "flag":
        return this.flagged(part, then, among);
    }
  }
  /** Terms together: those that are quickly said first, the others of whoever is left. */
  private all(terms: Filter[], then: Then, among: Bits): Bits {
    const { both } = this.sheet.reach.sets;
    const inOrder = [...terms].sort((a, b) => costOf(a) - costOf(b));
    return inOrder.reduce((left, one) => (isEmpty(left) ? left : both(left, this.evaluate(one, then, left))), among);
  }

  /** The terms with membership as it stood at a day's end, at a moment, or at some hand-in of the items they name. */
  private asOf(at: string, terms: Filter[], among: Bits): Bits {
    if (at === "handin") return this.atHandIns(terms, among);
    const zone = this.sheet.reach.plan.course.timeZone;
    // The end of a day is just before the next begins.
    const moment = at.includes("T") ? instantOf(at, zone) : instantOf(addDays(`${at}T00:00`, 1), zone) - 1;
    return this.all(terms, this.thenAt(moment), among);
  }
  private thenAt(t: number): Then {
    const { plan, membershipSets } = this.sheet.reach;
    const past = membershipSetsThen(plan, membershipSets, t);
    return { membershipSets: past.membershipSets, enrolled: past.then, t };
  }
  private atHandIns(terms: Filter[], among: Bits): Bits {
    const { reach, columns } = this.sheet;
    const names = new Set(terms.flatMap(itemsIn));
    const theirs = names.size === 0 ? columns : [...names].flatMap((name) => columnsNamed(columns, name));
    const known = new Map<MembershipSets, Bits>();
    const made = emptyBits(reach.students.length);
    const rows = progressByItem(reach.progress).handIns;
    for (const { personId, at } of theirs.flatMap(({ id }) => rows.get(id) ?? [])) {
      const index = reach.indexOf.get(personId);
      if (index === undefined || at > reach.t || hasBit(made, index) || !hasBit(among, index)) continue;
      const then = this.thenAt(at);
      const holds = known.get(then.membershipSets) ?? this.all(terms, then, among);
      known.set(then.membershipSets, holds);
      if (hasBit(holds, index)) setBit(made, index);
    }
    return made;
  }

  private inGroups(groupIds: Iterable<string>, sectionIds: Iterable<string>, then: Then): Bits {
    const { membershipSets, enrolled } = then;
    const { both, either } = this.sheet.reach.sets;
    let made = this.nobody;
    for (const id of groupIds) made = either(made, membershipSets.groups.get(id) ?? this.nobody);
    for (const id of sectionIds) made = either(made, membershipSets.sections.get(id) ?? this.nobody);
    return enrolled ? both(made, enrolled) : made;
  }
  private groupsIn(layerId: string): string[] {
    return (lookup(this.sheet.reach.plan).allGroupsOfLayer.get(layerId) ?? []).map(({ id }) => id);
  }

  private is({ field, item, value }: Extract<Filter, { kind: "is" }>, then: Then, among: Bits): Bits {
    const { plan } = this.sheet.reach;
    const wanted = fold(value);
    switch (field) {
      case "name": {
        const names = namesOf(plan.people);
        return this.whoever(among, (personId) => names.get(personId)?.includes(wanted) ?? false);
      }
      case "group":
        return this.inGroups(groupsNamed(plan.groups).get(wanted) ?? [], [], then);
      case "section":
        return this.inGroups([], sectionsNamed(plan.sections).get(wanted) ?? [], then);
      case "set": {
        const ids = setsNamed(plan.sets).get(wanted) ?? [];
        return this.inGroups(
          ids.flatMap((id) => plan.sets[id]?.groupIds ?? []),
          [],
          then,
        );
      }
      case "layer": {
        const ids = layersNamed(plan.layers).get(wanted) ?? [];
        return this.inGroups(
          ids.flatMap((id) => this.groupsIn(id)),
          [],
          then,
        );
      }
      case "status": {
        const state = cellStates.indexOf(wanted as CellState);
        return this.someCell(item, among, (column) => (index) => column.states[index] === state);
      }
      default: {
        const values = attributeOf(plan.people, field);
        return this.whoever(among, (personId) => values.get(personId) === wanted);
      }
    }
  }
  private whoever(among: Bits, test: (personId: string) => boolean): Bits {
    const { students } = this.sheet.reach;
    const made = emptyBits(students.length);
    eachBit(among, (index) => {
      if (test(students[index] as string)) setBit(made, index);
    });
    return made;
  }

  /** Who of some has a cell that passes in one of the columns. */
  private someCell(
    name: string | null,
    among: Bits,
    passes: (column: SheetColumn) => (index: number) => boolean,
  ): Bits {
    const made = emptyBits(this.sheet.reach.students.length);
    const indexes = listBits(among);
    for (const item of columnsNamed(this.sheet.columns, name)) {
      const test = passes(this.sheet.column(item));
      for (const index of indexes) if (test(index)) setBit(made, index);
    }
    return made;
  }

  private comparedTotals({ comparison, value }: Extract<Filter, { kind: "compare" }>): Bits {
    const passes = compare[comparison];
    const { students } = this.sheet.reach;
    const percent = this.sheet.percentages();
    const made = emptyBits(students.length);
    // A total that is not there compares as nothing does.
    for (let index = 0; index < percent.length; index++) {
      const found = percent[index] as number;
      const order = isClose(found, value)
        ? compareTotal(this.sheet.total(students[index] as string), value)
        : found - value;
      if (passes(order)) setBit(made, index);
    }
    return made;
  }
  private comparedCells({ item, comparison, value }: Extract<Filter, { kind: "compare" }>, among: Bits): Bits {
    const passes = compare[comparison];
    return this.someCell(item, among, ({ item: column, points }) => {
      const most = column.points ?? 0;
      return (index) => most > 0 && passes(comparePercent(points[index] as number, most, value));
    });
  }

  private flagged(flag: Extract<Filter, { kind: "flag" }>, then: Then, among: Bits): Bits {
    const { without } = this.sheet.reach.sets;
    const made =
      flag.field === "late"
        ? this.someCell(flag.item, among, ({ late }) => (late ? (index) => (late[index] as number) > 0 : () => false))
        : flag.field === "unplaced"
          ? this.unplaced(flag.value, then)
          : this.held(flag.value, then);
    return fold(flag.value) === "no" ? without(this.everyone, made) : made;
  }
  /** The layers that a flag asks of: by its name, or, with yes or no, all in which everyone has one group. */
  private layersFlagged(value: string) {
    const wanted = fold(value);
    return lookup(this.sheet.reach.plan).layers.filter(({ name, rule }) =>
      isYesOrNo(value) ? rule === "exactly one" : fold(name) === wanted,
    );
  }
  private unplaced(value: string, then: Then): Bits {
    const { either, without } = this.sheet.reach.sets;
    return this.layersFlagged(value).reduce(
      (made, { id }) =>
        either(made, without(then.enrolled ?? this.everyone, this.inGroups(this.groupsIn(id), [], then))),
      this.nobody,
    );
  }
  private held(value: string, then: Then): Bits {
    const { plan, indexOf, sets } = this.sheet.reach;
    const made = copyBits(this.nobody);
    const ids = new Set(this.layersFlagged(value).map(({ id }) => id));
    for (const row of Object.values(plan.placements)) {
      if (!row.held || !holdsAt(row, then.t)) continue;
      const index = indexOf.get(row.personId);
      const isAsked = isYesOrNo(value) || ids.has(plan.groups[row.groupId]?.layerId ?? "");
      if (index !== undefined && isAsked) setBit(made, index);
    }
    return then.enrolled ? sets.both(made, then.enrolled) : made;
  }
}

const isYesOrNo = (value: string): boolean => ["yes", "no"].includes(fold(value));

/** What is looked at for a term: sets that stand ready, a value a student, a column, all columns. */
const cost = { sets: 1, values: 2, column: 3, columns: 200 };
const costOfCells = (item: string | null): number => (item === null ? cost.columns : cost.column);
const inSets = new Set(["group", "section", "set", "layer"]);

function costOf(part: Filter): number {
  switch (part.kind) {
    case "and":
    case "or":
      return part.parts.reduce((sum, one) => sum + costOf(one), 1);
    case "not":
      return costOf(part.part);
    case "compare":
      return part.field === "total" ? cost.values : costOfCells(part.item);
    case "is":
      if (part.field === "status") return costOfCells(part.item);
      return inSets.has(part.field) ? cost.sets : cost.values;
    case "flag":
      return part.field === "late" ? costOfCells(part.item) : cost.sets;
    default:
      return cost.sets;
  }
}

/** The items that a filter's terms name. */
function itemsIn(part: Filter): string[] {
  if (part.kind === "and" || part.kind === "or") return part.parts.flatMap(itemsIn);
  if (part.kind === "not") return itemsIn(part.part);
  return "item" in part && part.item !== null ? [part.item] : [];
}
