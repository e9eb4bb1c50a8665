/**
 * Questions every engine asks of a plan: which rows belong to which. Each answer is computed once a table and kept
 * with it (tables are never changed in place), so that a plan in which a few rows of one table differ shares the
 * rest of its answers with the plan before.
 */

import { once, onceOfTwo } from "../memo.ts";
import { collect } from "../sets/collect.ts";
import { compareInAlphabet, localeOfAll, withLocale } from "../text/locale.ts";
import { isolated } from "../text/names.ts";
import { rowsBy } from "./tables.ts";
import type { Allowance, Enrolment, Entrance, Group, Item, Layer, Override, Placement, Plan, Target } from "./types.ts";

export interface Lookup {
  /** Without those that were put away. */
  layers: Layer[];
  groupsOfLayer: Map<string, Group[]>;
  /** With those that were put away: for what was. */
  allLayers: Layer[];
  allGroupsOfLayer: Map<string, Group[]>;
  /** Ids of the named sets that hold a group. */
  setsOfGroup: Map<string, string[]>;
  placementsOfPerson: Map<string, Placement[]>;
  placementsOfGroup: Map<string, Placement[]>;
  enrolmentsOfPerson: Map<string, Enrolment[]>;
  /** Keyed by folder id; `null` holds the top of the outline. In reading order. */
  children: Map<string | null, Item[]>;
  entrancesOfItem: Map<string, Entrance[]>;
  entrancesInFolder: Map<string | null, Entrance[]>;
  overridesOfItem: Map<string, Override[]>;
  allowances: Allowance[];
}

const byPosition = (a: { position: number; id: string }, b: { position: number; id: string }) =>
  a.position - b.position || (a.id < b.id ? -1 : 1);

const isKept = ({ archivedAt }: { archivedAt: number | null }) => archivedAt === null;
const allLayersOf = once((table: Plan["layers"]) => Object.values(table).sort(byPosition));
const layersOf = once((table: Plan["layers"]) => allLayersOf(table).filter(isKept));
const allGroupsOfLayer = once((table: Plan["groups"]) =>
  collect(Object.values(table).sort(byPosition), ({ layerId }) => layerId),
);
const groupsOfLayer = once((table: Plan["groups"]) =>
  collect(Object.values(table).filter(isKept).sort(byPosition), ({ layerId }) => layerId),
);
/** Names that groups of several layers bear: said without their layer they could be either. */
const sharedNames = once((table: Plan["groups"]) => {
  const layerOf = new Map<string, string>();
  const shared = new Set<string>();
  for (const { name, layerId, archivedAt } of Object.values(table)) {
    if (archivedAt !== null) continue;
    const key = name.toLowerCase();
    const known = layerOf.get(key);
    if (known !== undefined && known !== layerId) shared.add(key);
    layerOf.set(key, layerId);
  }
  return shared;
});
const setsOfGroup = once((table: Plan["sets"]) => {
  const found = new Map<string, string[]>();
  for (const { id, groupIds } of Object.values(table))
    for (const groupId of groupIds) found.set(groupId, [...(found.get(groupId) ?? []), id]);
  return found;
});
const placementsOfPerson = rowsBy("placements", ({ personId }) => personId);
const placementsOfGroup = rowsBy("placements", ({ groupId }) => groupId);
const enrolmentsOfPerson = rowsBy("enrolments", ({ personId }) => personId);
const children = once((table: Plan["items"]) =>
  collect(Object.values(table).sort(byPosition), ({ parentId }) => parentId),
);
const entrancesOfItem = once((table: Plan["entrances"]) => collect(Object.values(table), ({ itemId }) => itemId));
const entrancesInFolder = once((table: Plan["entrances"]) =>
  collect(Object.values(table).sort(byPosition), ({ folderId }) => folderId),
);
const overridesOfItem = once((table: Plan["overrides"]) => collect(Object.values(table), ({ itemId }) => itemId));
const allowancesOf = once((table: Plan["allowances"]) => Object.values(table));
const peopleByName = once((table: Plan["people"]) =>
  withLocale(localeOfAll(), () => Object.values(table).sort((a, b) => compareNames(a, b) || (a.id < b.id ? -1 : 1))),
);

/** Every answer of a plan, each computed when it is asked for. */
export const lookup = once((plan: Plan): Lookup => {
  return {
    get layers() {
      return layersOf(plan.layers);
    },
    get groupsOfLayer() {
      return groupsOfLayer(plan.groups);
    },
    get allLayers() {
      return allLayersOf(plan.layers);
    },
    get allGroupsOfLayer() {
      return allGroupsOfLayer(plan.groups);
    },
    get setsOfGroup() {
      return setsOfGroup(plan.sets);
    },
    get placementsOfPerson() {
      return placementsOfPerson(plan);
    },
    get placementsOfGroup() {
      return placementsOfGroup(plan);
    },
    get enrolmentsOfPerson() {
      return enrolmentsOfPerson(plan);
    },
    get children() {
      return children(plan.items);
    },
    get entrancesOfItem() {
      return entrancesOfItem(plan.entrances);
    },
    get entrancesInFolder() {
      return entrancesInFolder(plan.entrances);
    },
    get overridesOfItem() {
      return overridesOfItem(plan.overrides);
    },
    get allowances() {
      return allowancesOf(plan.allowances);
    },
  };
});

/** Whether a row with `since` and `until` holds at t: half-open, [since, until). */
export const holdsAt = (row: { since: number; until: number | null }, t: number) =>
  row.since <= t && (row.until === null || t < row.until);

interface Spell {
  since: number;
  until: number | null;
}
interface ValidRows<Row> {
  from: number;
  until: number;
  rows: Row[];
}
// Of two plans at two moments, each list is asked for at most so often before it changes.
const mostHeld = 4;
const held = new WeakMap<readonly Spell[], ValidRows<Spell>[]>();

function validRowsAt<Row extends Spell>(rows: readonly Row[], t: number): ValidRows<Row> {
  const ready = (held.get(rows) ?? []) as ValidRows<Row>[];
  const found = ready.find(({ from, until }) => from <= t && t < until);
  if (found) return found;
  const made: ValidRows<Row> = { from: Number.NEGATIVE_INFINITY, until: Number.POSITIVE_INFINITY, rows: [] };
  for (const row of rows) {
    for (const moment of [row.since, row.until ?? Number.POSITIVE_INFINITY]) {
      if (moment <= t) made.from = Math.max(made.from, moment);
      else made.until = Math.min(made.until, moment);
    }
    if (holdsAt(row, t)) made.rows.push(row);
  }
  held.set(rows, [made, ...ready].slice(0, mostHeld));
  return made;
}

/** Those of some rows that hold at t: the same list for as long as none of them begins or ends. */
export const rowsValidAt = <Row extends Spell>(rows: readonly Row[], t: number): readonly Row[] =>
  validRowsAt(rows, t).rows;

/** The first moment after t at which one of some rows begins or ends. */
export const rowsValidUntil = (rows: readonly Spell[], t: number): number => validRowsAt(rows, t).until;

/** Every enrolment there is or was. */
export const enrolmentRows = once((table: Plan["enrolments"]) => Object.values(table));
/** Enrolments that are open at t. */
export const openEnrolments = (plan: Plan, t: number) => rowsValidAt(enrolmentRows(plan.enrolments), t);

/** Whether somebody has an open enrolment at t, in whatever role. */
export const isEnrolledAt = (plan: Plan, personId: string, t: number): boolean =>
  (lookup(plan).enrolmentsOfPerson.get(personId) ?? []).some((row) => holdsAt(row, t));

/** Whether somebody is a student at t. */
export const isStudentAt = (plan: Plan, personId: string, t: number): boolean =>
  (lookup(plan).enrolmentsOfPerson.get(personId) ?? []).some((row) => row.role === "student" && holdsAt(row, t));

/** The folders above an item's home, nearest first. */
export function foldersAbove(plan: Plan, item: Item): Item[] {
  const above: Item[] = [];
  let parent = item.parentId ? plan.items[item.parentId] : undefined;
  while (parent && !above.includes(parent)) {
    above.push(parent);
    parent = parent.parentId ? plan.items[parent.parentId] : undefined;
  }
  return above;
}

/** The items of the outline in reading order, each with how many folders it lies in. */
export function outlineOrder(plan: Plan): { item: Item; depth: number }[] {
  const { children } = lookup(plan);
  const order: { item: Item; depth: number }[] = [];
  const walk = (parentId: string | null, depth: number) => {
    for (const item of children.get(parentId) ?? []) {
      order.push({ item, depth });
      if (item.kind === "folder") walk(item.id, depth + 1);
    }
  };
  walk(null, 0);
  return order;
}

/** Family name first, as registers are read; NFC and locale-aware. */
export const fullName = (person: { givenName: string; familyName: string }) =>
  `${person.familyName}, ${person.givenName}`.normalize("NFC").replace(/^, |, $/, "");

/** Given name first, as people call each other. */
export const plainName = ({ givenName, familyName }: { givenName: string; familyName: string }) =>
  `${givenName} ${familyName}`.normalize("NFC").trim();

/** By the reader's alphabet. */
export const compareNames = (a: { givenName: string; familyName: string }, b: typeof a) =>
  compareInAlphabet(a.familyName, b.familyName) || compareInAlphabet(a.givenName, b.givenName);
/** The same for every reader: what a plan is goes by it, and codes and titles stand by it. */
export const compareText = new Intl.Collator("en", { sensitivity: "base", numeric: true }).compare;

/** A student's home section at t: the chosen one, otherwise the one that began last. Source: section 2. */
export function homeEnrolment(plan: Plan, personId: string, t: number): Enrolment | null {
  let best: Enrolment | null = null;
  for (const enrolment of lookup(plan).enrolmentsOfPerson.get(personId) ?? []) {
    if (enrolment.role !== "student" || !holdsAt(enrolment, t)) continue;
    const better =
      !best ||
      (enrolment.sectionId !== null && best.sectionId === null) ||
      ((enrolment.sectionId === null) === (best.sectionId === null) &&
        (Number(enrolment.home) - Number(best.home) || enrolment.since - best.since) > 0);
    if (better) best = enrolment;
  }
  return best;
}

/** The students of some enrolments, by name. */
const studentsOf = onceOfTwo((people: Plan["people"], open: readonly Enrolment[]): readonly string[] => {
  const enrolled = new Set<string>();
  for (const { role, personId } of open) if (role === "student") enrolled.add(personId);
  return peopleByName(people)
    .filter(({ id }) => enrolled.has(id))
    .map(({ id }) => id);
});

/** Everybody with an open student enrolment at t, by name: the same list for as long as they are the same enrolments. */
export const studentsAt = (plan: Plan, t: number): readonly string[] =>
  studentsOf(plan.people, openEnrolments(plan, t));

/** What a group is called by staff beside groups of other layers: with its layer, where two share the name. */
export function groupName(plan: Plan, { name, layerId }: Pick<Group, "name" | "layerId">): string {
  const layer = sharedNames(plan.groups).has(name.toLowerCase()) ? plan.layers[layerId] : undefined;
  return layer ? `${name} (${layer.name})` : name;
}

/** What a target is called by staff. */
export function targetName(plan: Plan, target: Target): string {
  if (target.kind === "set") return plan.sets[target.id]?.name ?? "a removed set";
  if (target.kind === "group") {
    const group = plan.groups[target.id];
    return group ? groupName(plan, group) : "a removed group";
  }
  if (target.kind === "section") return plan.sections[target.id]?.code ?? "a removed section";
  const person = plan.people[target.id];
  return person ? isolated(fullName(person)) : "a removed person";
}

/** The place after the last in a folder. */
export const lastPosition = (plan: Plan, parentId: string | null): number =>
  Math.max(-1, ...(lookup(plan).children.get(parentId) ?? []).map(({ position }) => position)) + 1;
