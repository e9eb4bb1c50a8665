/**
 * Every reference from one row of a plan to another, declared once a table. Undo and revert, retargeting, roll-over and
 * whatever else walks rows go by this; references.test.ts walks the schemas, so that a new column cannot be forgotten.
 */
import type { Row } from "./difference.ts";
import type { Condition, Item, TableName, Target } from "./types.ts";

/** Where ids of other rows stand in a value: one id, a target or condition, a list of such, or fields of an object. */
type Shape = TableName | "target" | "condition" | { each: Shape } | { fields: Fields };
type Fields = Record<string, Shape>;

const each = (shape: Shape): Shape => ({ each: shape });
const fields = (inner: Fields): Shape => ({ fields: inner });
const audience = fields({ to: each("target"), minus: each("target") });

/**
 * By table. Not among them, since they lead to no row: a category of the gradebook (in the course's settings), a stored
 * file, and the copies that an item was made of (they are gone on purpose).
 */
export const references: Record<TableName | "course", Fields> = {
  course: {
    layerOrder: each("layers"),
    classList: fields({ layerId: "layers" }),
    splitting: fields({ layerId: "layers" }),
    meetingLayerId: "layers",
  },
  sections: {},
  people: {},
  enrolments: { personId: "people", sectionId: "sections" },
  layers: {
    following: each(fields({ sectionIds: each("sections"), groupId: "groups" })),
    keepApart: each(each("people")),
    forming: fields({
      scopeLayerId: "layers",
      apart: each(each("people")),
      together: each(each("people")),
      soft: each(fields({ layerIds: each("layers") })),
    }),
  },
  groups: { layerId: "layers", leads: each("people"), scopeGroupId: "groups" },
  sets: { groupIds: each("groups") },
  placements: { groupId: "groups", personId: "people" },
  items: {
    parentId: "items",
    audience,
    condition: "condition",
    variants: each(fields({ targets: each("target"), condition: "condition" })),
    split: fields({ layerId: "layers" }),
    pageOf: "groups",
    owners: each("people"),
    combines: each(fields({ groupIds: each("groups") })),
  },
  entrances: { itemId: "items", folderId: "items" },
  overrides: { itemId: "items", target: "target" },
  allowances: { target: "target" },
  acceptances: {},
};

const conditionFields: Fields = { of: each("condition"), targets: each("target"), itemId: "items" };
const tableOfTarget: Record<string, TableName> = {
  group: "groups",
  section: "sections",
  person: "people",
  set: "sets",
};

export interface Reference {
  table: TableName;
  id: string;
}
/** What a reference becomes: none, one or several ids of the same table. A reference that stands alone takes the first. */
export type Retarget = (reference: Reference) => readonly string[];

/** A value with every reference in it replaced; what changes nothing gives back the value itself. */
function mapped(shape: Shape, value: unknown, retarget: Retarget): unknown {
  if (value === null || value === undefined) return value;
  if (typeof shape === "string") {
    if (shape === "condition") return mappedFields(conditionFields, value as Record<string, unknown>, retarget);
    return mappedEach(shape, [value], retarget)[0] ?? null;
  }
  if ("fields" in shape) return mappedFields(shape.fields, value as Record<string, unknown>, retarget);
  // "everyone" stands where a list of targets may.
  if (!Array.isArray(value)) return value;
  const next = mappedEach(shape.each, value, retarget);
  return next.length === value.length && next.every((one, at) => one === value[at]) ? value : next;
}

function mappedFields(inner: Fields, value: Record<string, unknown>, retarget: Retarget): Record<string, unknown> {
  let next = value;
  for (const [field, shape] of Object.entries(inner)) {
    if (!(field in value)) continue;
    const one = mapped(shape, value[field], retarget);
    if (one !== value[field]) next = { ...next, [field]: one };
  }
  return next;
}

/** The values of a list: ids and targets may become none or several, and stand once each. */
function mappedEach(shape: Shape, values: unknown[], retarget: Retarget): unknown[] {
  if (typeof shape !== "string" || shape === "condition") return values.map((one) => mapped(shape, one, retarget));
  const next: unknown[] = [];
  const there = new Set<string>();
  for (const value of values) {
    const { kind, id } =
      shape === "target" ? (value as { kind: string; id: string }) : { kind: "", id: value as string };
    // The order of layers holds the word "sections" beside ids.
    const isWord = shape === "layers" && id === "sections";
    const ids = isWord ? [id] : retarget({ table: tableOfTarget[kind] ?? (shape as TableName), id });
    for (const one of ids) {
      if (there.has(`${kind}/${one}`)) continue;
      there.add(`${kind}/${one}`);
      next.push(one === id ? value : shape === "target" ? { kind, id: one } : one);
    }
  }
  return next;
}

/** A row in which every reference is replaced by what it becomes; the same row where nothing changes. */
export const mapReferences = <R extends object>(table: TableName | "course", row: R, retarget: Retarget): R =>
  mappedFields(references[table], row as Record<string, unknown>, retarget) as R;

/** Every reference of a row, in the order of its fields; the same one as often as it stands there. */
export function referencesOf(table: TableName | "course", row: Row): Reference[] {
  const found: Reference[] = [];
  mapReferences(table, row, (reference) => {
    found.push(reference);
    return [reference.id];
  });
  return found;
}

/** Every condition of an item: its own and its variants'. */
export const conditionsOf = (item: Item): Condition[] =>
  [item.condition, ...item.variants.map(({ condition }) => condition)].filter((one) => one !== null);

/** Every part of a condition, itself first. */
export function partsOf(condition: Condition): Condition[] {
  return "of" in condition ? [condition, ...condition.of.flatMap(partsOf)] : [condition];
}

/** Everything that an item's audience, conditions and variants name. */
export function targetsOf(item: Item): Target[] {
  const { to, minus } = item.audience;
  return [
    ...(to === "everyone" ? [] : to),
    ...minus,
    ...item.variants.flatMap(({ targets }) => targets),
    ...conditionsOf(item)
      .flatMap(partsOf)
      .flatMap((part) => (part.kind === "in" ? part.targets : [])),
  ];
}

/** The items that a condition of this item asks about. */
export const itemsAskedBy = (item: Item): string[] =>
  conditionsOf(item)
    .flatMap(partsOf)
    .flatMap((part) => ("itemId" in part ? [part.itemId] : []));
