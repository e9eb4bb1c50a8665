/** Whether a student passes a filter. Source: semantics.md section 7. */
import { fullName, lookup } from "../plan/lookup.ts";
import type { Item } from "../plan/types.ts";
import type { Reach } from "../reach/reach.ts";
import { type Cell, type Cells, columnsOf } from "./cells.ts";
import type { Comparison, Filter } from "./filter.ts";
import { totalsOf } from "./totals.ts";

const fold = (text: string) => text.normalize("NFC").toLowerCase();
const compare: Record<Comparison, (a: number, b: number) => boolean> = {
  "<": (a, b) => a < b,
  "<=": (a, b) => a <= b,
  ">": (a, b) => a > b,
  ">=": (a, b) => a >= b,
  "=": (a, b) => a === b,
};

export interface Matcher {
  matches(personId: string): boolean;
  /** Names in the filter that nothing in the course has: told, so that an empty list is not a riddle. */
  strangers: string[];
}

export function matcher(filter: Filter, reach: Reach, cells: Cells): Matcher {
  const { plan } = reach;
  const columns = columnsOf(plan);
  const strangers: string[] = [];
  const totals = totalsOf(plan, cells);
  const ask = compile(filter);
  return { matches: (personId) => ask(personId), strangers };

  function columnsNamed(name: string | null): Item[] {
    if (name === null) return columns;
    const named = columns.filter((item) => fold(item.title) === fold(name));
    if (named.length === 0) strangers.push(`no column is called "${name}"`);
    return named;
  }
  function someCell(item: string | null, test: (cell: Cell, column: Item) => boolean): (personId: string) => boolean {
    const among = columnsNamed(item);
    return (personId) =>
      among.some((column) => {
        const cell = cells.cell(column, personId);
        return cell !== null && test(cell, column);
      });
  }
  function inGroups(groupIds: Set<string>, sectionIds = new Set<string>()): (personId: string) => boolean {
    return (personId) => {
      const index = reach.indexOf.get(personId);
      if (index === undefined) return false;
      const memberships = reach.memberships(index);
      return (
        [...groupIds].some((id) => memberships.groupIds.has(id)) ||
        [...sectionIds].some((id) => memberships.sectionIds.has(id))
      );
    };
  }
  function layerGroups(name: string): Set<string> {
    const layer = lookup(plan).layers.find((other) => fold(other.name) === fold(name));
    if (!layer) strangers.push(`no layer is called "${name}"`);
    return new Set((layer ? (lookup(plan).groupsOfLayer.get(layer.id) ?? []) : []).map(({ id }) => id));
  }

  function compile(part: Filter): (personId: string) => boolean {
    switch (part.kind) {
      case "all":
        return () => true;
      case "and": {
        const parts = part.parts.map(compile);
        return (personId) => parts.every((test) => test(personId));
      }
      case "or": {
        const parts = part.parts.map(compile);
        return (personId) => parts.some((test) => test(personId));
      }
      case "not": {
        const test = compile(part.part);
        return (personId) => !test(personId);
      }
      case "is":
        return compileIs(part.field, part.item, part.value);
      case "compare":
        if (part.field === "total")
          return (personId) => {
            const { percent } = totals(personId);
            return percent !== null && compare[part.comparison](percent, part.value);
          };
        return someCell(part.item, ({ mark }, column) =>
          mark?.points == null || mark.excused || !column.points
            ? false
            : compare[part.comparison]((mark.points / column.points) * 100, part.value),
        );
      case "flag":
        return compileFlag(part);
    }
  }

  function compileIs(field: string, item: string | null, value: string): (personId: string) => boolean {
    switch (field) {
      case "name":
        return (personId) => {
          const person = plan.people[personId];
          return Boolean(
            person && fold(`${fullName(person)} ${person.givenName} ${person.familyName}`).includes(fold(value)),
          );
        };
      case "group": {
        const ids = new Set(
          Object.values(plan.groups)
            .filter(({ name }) => fold(name) === fold(value))
            .map(({ id }) => id),
        );
        if (ids.size === 0) strangers.push(`no group is called "${value}"`);
        return inGroups(ids);
      }
      case "section": {
        const ids = new Set(
          Object.values(plan.sections)
            .filter(({ code, title }) => fold(code) === fold(value) || fold(title) === fold(value))
            .map(({ id }) => id),
        );
        if (ids.size === 0) strangers.push(`no section is called "${value}"`);
        return inGroups(new Set(), ids);
      }
      case "set": {
        const sets = Object.values(plan.sets).filter(({ name }) => fold(name) === fold(value));
        if (sets.length === 0) strangers.push(`no set is called "${value}"`);
        return inGroups(new Set(sets.flatMap(({ groupIds }) => groupIds)));
      }
      case "layer":
        return inGroups(layerGroups(value));
      case "status":
        return someCell(item, ({ state }) => state === fold(value));
      default: {
        if (!Object.values(plan.people).some(({ attributes }) => field in attributes))
          strangers.push(`the rosters have no attribute "${field}"`);
        return (personId) =>
          fold(plan.people[personId]?.attributes[field] ?? "") === fold(value) &&
          field in (plan.people[personId]?.attributes ?? {});
      }
    }
  }

  function compileFlag({ field, item, value }: Extract<Filter, { kind: "flag" }>): (personId: string) => boolean {
    if (field === "late") {
      const late = someCell(item, ({ lateBy }) => lateBy > 0);
      return fold(value) === "no" ? (personId) => !late(personId) : late;
    }
    const plain = fold(value) === "yes" || fold(value) === "no";
    const layers = lookup(plan).layers.filter(({ name, rule }) =>
      plain ? rule === "exactly one" : fold(name) === fold(value),
    );
    const groupsOf = layers.map((layer) =>
      inGroups(new Set((lookup(plan).groupsOfLayer.get(layer.id) ?? []).map(({ id }) => id))),
    );
    if (!plain && layers.length === 0) strangers.push(`no layer is called "${value}"`);
    const unplaced = (personId: string) => groupsOf.some((test) => !test(personId));
    const held = (personId: string) =>
      (lookup(plan).placementsOfPerson.get(personId) ?? []).some(
        ({ held: byHand, until, groupId }) =>
          byHand && until === null && (plain || layers.some(({ id }) => id === plan.groups[groupId]?.layerId)),
      );
    const test = field === "unplaced" ? unplaced : held;
    return fold(value) === "no" ? (personId) => !test(personId) : test;
  }
}
