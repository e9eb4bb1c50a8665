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
  const { reach, columns } = sheet;
  const { plan, students, indexOf, sets } = reach;
  const { everyone, nobody, both, either, without } = sets;
  const bits = both(
    everyone,
    evaluate(filter, { membershipSets: reach.membershipSets, enrolled: null, t: reach.t }, everyone),
  );
  return {
    bits,
    matches(personId) {
      const index = indexOf.get(personId);
      return index !== undefined && hasBit(bits, index);
    },
    rows: () => listBits(bits).map((index) => students[index] as string),
  };

  /** Who of some has a cell that passes in one of the columns. */
  function someCell(
    name: string | null,
    among: Bits,
    passes: (column: SheetColumn) => (index: number) => boolean,
  ): Bits {
    const made = emptyBits(students.length);
    const indexes = listBits(among);
    for (const item of columnsNamed(columns, name)) {
      const test = passes(sheet.column(item));
      for (const index of indexes) if (test(index)) setBit(made, index);
    }
    return made;
  }

  /** Whoever passes, of some at least: what is said of others does not count. */
  function evaluate(part: Filter, then: Then, among: Bits): Bits {
    switch (part.kind) {
      case "all":
        return everyone;
      case "or":
        return part.parts.reduce((made, one) => either(made, evaluate(one, then, among)), nobody);
      case "not":
        return without(everyone, evaluate(part.part, then, among));
      case "and": {
        const asof = part.parts.find((one) => one.kind === "asof");
        const terms = part.parts.filter((one) => one !== asof);
        return asof?.kind === "asof" ? asOf(asof.at, terms, among) : all(terms, then, among);
      }
      case "asof":
        return asOf(part.at, [], among);
      case "is":
        return is(part.field, part.item, part.value, then, among);
      case "compare":
        return compared(part, among);
      case "flag":
        return flagged(part, then, among);
    }
  }
  /** Terms together: those that are quickly said first, the others of whoever is left. */
  function all(terms: Filter[], then: Then, among: Bits): Bits {
    const inOrder = [...terms].sort((a, b) => costOf(a) - costOf(b));
    return inOrder.reduce((left, one) => (isEmpty(left) ? left : both(left, evaluate(one, then, left))), among);
  }

  /** The terms with membership as it stood at a day's end, at a moment, or at some hand-in of the items they name. */
  function asOf(at: string, terms: Filter[], among: Bits): Bits {
    const zone = plan.course.timeZone;
    if (at !== "handin") {
      // The end of a day is just before the next begins.
      const moment = at.includes("T") ? instantOf(at, zone) : instantOf(addDays(`${at}T00:00`, 1), zone) - 1;
      const past = membershipSetsThen(plan, reach.membershipSets, moment);
      return all(terms, { membershipSets: past.membershipSets, enrolled: past.then, t: moment }, among);
    }
    const names = new Set(terms.flatMap(itemsIn));
    const theirs = names.size === 0 ? columns : [...names].flatMap((name) => columnsNamed(columns, name));
    const known = new Map<MembershipSets, Bits>();
    const made = emptyBits(students.length);
    const rows = progressByItem(reach.progress).handIns;
    for (const { id } of theirs)
      for (const { personId, at: when } of rows.get(id) ?? []) {
        const index = indexOf.get(personId);
        if (index === undefined || when > reach.t || hasBit(made, index) || !hasBit(among, index)) continue;
        const past = membershipSetsThen(plan, reach.membershipSets, when);
        let holds = known.get(past.membershipSets);
        if (!holds) {
          holds = all(terms, { membershipSets: past.membershipSets, enrolled: past.then, t: when }, among);
          known.set(past.membershipSets, holds);
        }
        if (hasBit(holds, index)) setBit(made, index);
      }
    return made;
  }

  function inGroups(
    groupIds: Iterable<string>,
    sectionIds: Iterable<string>,
    { membershipSets, enrolled }: Then,
  ): Bits {
    let made = nobody;
    for (const id of groupIds) made = either(made, membershipSets.groups.get(id) ?? nobody);
    for (const id of sectionIds) made = either(made, membershipSets.sections.get(id) ?? nobody);
    return enrolled ? both(made, enrolled) : made;
  }
  function layerGroups(name: string): string[] {
    return (layersNamed(plan.layers).get(fold(name)) ?? []).flatMap(groupsIn);
  }
  function groupsIn(layerId: string): string[] {
    return (lookup(plan).allGroupsOfLayer.get(layerId) ?? []).map(({ id }) => id);
  }

  function is(field: string, item: string | null, value: string, then: Then, among: Bits): Bits {
    const wanted = fold(value);
    switch (field) {
      case "name": {
        const names = namesOf(plan.people);
        return whoever(among, (personId) => names.get(personId)?.includes(wanted) ?? false);
      }
      case "group": {
        const ids = groupsNamed(plan.groups).get(wanted);
        return inGroups(ids ?? [], [], then);
      }
      case "section": {
        const ids = sectionsNamed(plan.sections).get(wanted);
        return inGroups([], ids ?? [], then);
      }
      case "set": {
        const ids = setsNamed(plan.sets).get(wanted);
        return inGroups(
          (ids ?? []).flatMap((id) => plan.sets[id]?.groupIds ?? []),
          [],
          then,
        );
      }
      case "layer":
        return inGroups(layerGroups(value), [], then);
      case "status": {
        const state = cellStates.indexOf(wanted as CellState);
        return someCell(
          item,
          among,
          ({ states }) =>
            (index) =>
              states[index] === state,
        );
      }
      default: {
        const values = attributeOf(plan.people, field);
        return whoever(among, (personId) => values.get(personId) === wanted);
      }
    }
  }
  function whoever(among: Bits, test: (personId: string) => boolean): Bits {
    const made = emptyBits(students.length);
    eachBit(among, (index) => {
      if (test(students[index] as string)) setBit(made, index);
    });
    return made;
  }

  function compared({ field, item, comparison, value }: Extract<Filter, { kind: "compare" }>, among: Bits): Bits {
    const passes = compare[comparison];
    if (field === "total") {
      const percent = sheet.percentages();
      const made = emptyBits(students.length);
      // A total that is not there compares as nothing does.
      for (let index = 0; index < percent.length; index++) {
        const found = percent[index] as number;
        const order = isClose(found, value)
          ? compareTotal(sheet.total(students[index] as string), value)
          : found - value;
        if (passes(order)) setBit(made, index);
      }
      return made;
    }
    return someCell(item, among, ({ item: column, points }) => {
      const most = column.points ?? 0;
      return (index) => most > 0 && passes(comparePercent(points[index] as number, most, value));
    });
  }

  function flagged({ field, item, value }: Extract<Filter, { kind: "flag" }>, then: Then, among: Bits): Bits {
    const wanted = fold(value);
    const [yes, no] = [wanted === "yes", wanted === "no"];
    const turned = (made: Bits) => (no ? without(everyone, made) : made);
    if (field === "late")
      return turned(someCell(item, among, ({ late }) => (late ? (index) => (late[index] as number) > 0 : () => false)));
    const layers = lookup(plan).layers.filter(({ name, rule }) =>
      yes || no ? rule === "exactly one" : fold(name) === wanted,
    );
    if (field === "unplaced") {
      const missing = layers.reduce(
        (made, { id }) => either(made, without(then.enrolled ?? everyone, inGroups(groupsIn(id), [], then))),
        nobody,
      );
      return turned(missing);
    }
    const made = copyBits(nobody);
    const ids = new Set(layers.map(({ id }) => id));
    for (const row of Object.values(plan.placements)) {
      if (!row.held || !holdsAt(row, then.t)) continue;
      const index = indexOf.get(row.personId);
      if (index !== undefined && (yes || no || ids.has(plan.groups[row.groupId]?.layerId ?? ""))) setBit(made, index);
    }
    return turned(then.enrolled ? both(made, then.enrolled) : made);
  }
}

/** How much there is to look at for a term: sets that stand ready, a value a student, a column, all columns. */
function costOf(part: Filter): number {
  if (part.kind === "and" || part.kind === "or") return part.parts.reduce((sum, one) => sum + costOf(one), 1);
  if (part.kind === "not") return costOf(part.part);
  if (part.kind === "compare") return part.field === "total" ? 2 : part.item === null ? 200 : 3;
  const inCells = (part.kind === "is" && part.field === "status") || (part.kind === "flag" && part.field === "late");
  if (inCells) return "item" in part && part.item !== null ? 3 : 200;
  return part.kind === "is" && !["group", "section", "set", "layer"].includes(part.field) ? 2 : 1;
}

/** The items that a filter's terms name. */
function itemsIn(part: Filter): string[] {
  if (part.kind === "and" || part.kind === "or") return part.parts.flatMap(itemsIn);
  if (part.kind === "not") return itemsIn(part.part);
  return "item" in part && part.item !== null ? [part.item] : [];
}
