/** What filters call things: groups, sections, sets, layers and columns by their names, without case. Section 7. */
import { fullName, once } from "../plan/lookup.ts";
import type { Item, Plan } from "../plan/types.ts";

export const fold = (text: string) => text.normalize("NFC").toLowerCase();

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

const attributes = new WeakMap<Plan["people"], Map<string, Map<string, string>>>();
/** What each person has of one attribute of the rosters, by id; empty where nobody has it. */
export function attributeOf(table: Plan["people"], field: string): Map<string, string> {
  const known = attributes.get(table) ?? new Map<string, Map<string, string>>();
  attributes.set(table, known);
  let found = known.get(field);
  if (!found) {
    found = new Map();
    for (const { id, attributes: own } of Object.values(table)) {
      const value = own[field];
      if (value !== undefined) found.set(id, fold(value));
    }
    known.set(field, found);
  }
  return found;
}

/** Every attribute that the rosters have, by name. */
export const attributeNames = once((table: Plan["people"]) =>
  [...new Set(Object.values(table).flatMap((person) => Object.keys(person.attributes)))].sort(),
);

/** The columns a filter names; all where it names none. */
export const columnsNamed = (columns: Item[], name: string | null): Item[] =>
  name === null ? columns : columns.filter(({ title }) => fold(title) === fold(name));
