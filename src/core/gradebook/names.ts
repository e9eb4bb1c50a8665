/** What filters call things: groups, sections, sets, layers and columns by their names, without case. Section 7. */

import { once } from "../memo.ts";
import { fullName } from "../plan/lookup.ts";
import type { Item, Plan } from "../plan/types.ts";
import { fold } from "../text/caseless.ts";
import { cellStates } from "./cells.ts";
import type { FilterNames } from "./filter.ts";

function byName<Row extends { id: string }>(rows: Row[], names: (row: Row) => string[]): Map<string, string[]> {
  const found = new Map<string, string[]>();
  for (const row of rows)
    for (const name of new Set(names(row).map(fold))) found.set(name, [...(found.get(name) ?? []), row.id]);
  return found;
}

/** Ids of groups by name. */
export const groupsNamed = once((table: Plan["groups"]) => byName(Object.values(table), ({ name }) => [name]));
/** Ids of sections by code and by title. */
export const sectionsNamed = once((table: Plan["sections"]) =>
  byName(Object.values(table), ({ code, title }) => [code, title]),
);
export const setsNamed = once((table: Plan["sets"]) => byName(Object.values(table), ({ name }) => [name]));
export const layersNamed = once((table: Plan["layers"]) =>
  byName(
    Object.values(table).filter(({ archivedAt }) => archivedAt === null),
    ({ name }) => [name],
  ),
);

/** What a name is looked for in: "family, given" and both the other way round. */
export const namesOf = once((table: Plan["people"]) => {
  const found = new Map<string, string>();
  for (const person of Object.values(table))
    found.set(person.id, fold(`${fullName(person)} ${person.givenName} ${person.familyName}`));
  return found;
});

const attributes = once((table: Plan["people"]) => {
  const found = new Map<string, Map<string, string>>();
  for (const { id, attributes: own } of Object.values(table))
    for (const [name, value] of Object.entries(own)) {
      const field = fold(name);
      const values = found.get(field) ?? new Map<string, string>();
      found.set(field, values.set(id, fold(value)));
    }
  return found;
});
const noValues: ReadonlyMap<string, string> = new Map();
/** What each person has of one attribute of the rosters, by id; its name is read without case. Empty where nobody has it. */
export const attributeOf = (table: Plan["people"], field: string): ReadonlyMap<string, string> =>
  attributes(table).get(fold(field)) ?? noValues;

/** Every attribute that the rosters have, by name. */
export const attributeNames = once((table: Plan["people"]) =>
  [...new Set(Object.values(table).flatMap((person) => Object.keys(person.attributes)))].sort(),
);

const beginningWith = (columns: Item[], name: string): Item[] =>
  name.trim() === "" ? [] : columns.filter(({ title }) => fold(title).startsWith(fold(name.trim())));

/** The columns a filter names, by title or by how the title of one alone begins; all where it names none. */
export function columnsNamed(columns: Item[], name: string | null): Item[] {
  if (name === null) return columns;
  const whole = columns.filter(({ title }) => fold(title) === fold(name));
  if (whole.length > 0) return whole;
  const begin = beginningWith(columns, name);
  return begin.length === 1 ? begin : [];
}

/** Why a filter's name is no column's, with those that could be meant. */
function noColumn(columns: Item[], name: string): string | null {
  if (columnsNamed(columns, name).length > 0) return null;
  const could = beginningWith(columns, name).map(({ title }) => `"${title}"`);
  if (could.length === 0) return `no column is called "${name}"`;
  const more = could.length > 6 ? ` and ${could.length - 6} more` : "";
  return `several columns begin with "${name}": ${could.slice(0, 6).join(", ")}${more}`;
}

const fields = "group, section, layer, set, name, status, mark, total, late, unplaced, held and asof";
/** The names that a filter over some columns of a course may use. */
export function filterNames(plan: Plan, columns: Item[]): FilterNames {
  const has = (found: Map<string, unknown>, name: string) => found.has(fold(name));
  return {
    unknown(kind, name) {
      if (kind === "field")
        return attributeOf(plan.people, name).size > 0
          ? null
          : `there is no field "${name}"; there are ${fields}, and the attributes of the rosters`;
      if (kind === "status")
        return cellStates.some((state) => state === fold(name))
          ? null
          : `no cell is ever "${name}": ${cellStates.join(", ")} are what they are`;
      if (kind === "item") return noColumn(columns, name);
      const known = {
        group: () => has(groupsNamed(plan.groups), name),
        section: () => has(sectionsNamed(plan.sections), name),
        set: () => has(setsNamed(plan.sets), name),
        layer: () => has(layersNamed(plan.layers), name),
      };
      return known[kind]() ? null : `no ${kind} is called "${name}"`;
    },
  };
}
