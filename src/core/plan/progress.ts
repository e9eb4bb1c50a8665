/** What people do in a course: live rows, read by the engines beside the plan. Source: semantics.md sections 5, 7. */
import { once } from "../memo.ts";
import { collect } from "../sets/collect.ts";
import { ItemRows } from "./item-rows.ts";

export interface Mark {
  personId: string;
  itemId: string;
  /** Null where nothing but an excuse is recorded. */
  points: number | null;
  excused: boolean;
  /** Epoch milliseconds. */
  at: number;
  /** The group whose shared mark it is, where the person has none of their own. */
  shared?: string;
}
/** One mark for all of a group. Source: semantics.md section 7. */
export interface GroupMark {
  groupId: string;
  itemId: string;
  points: number | null;
  excused: boolean;
  at: number;
}
export interface HandIn {
  id: string;
  personId: string;
  itemId: string;
  at: number;
  /** Who handed it in, where it counts for the person because they were in one group. */
  by?: string;
}
export interface Opening {
  personId: string;
  itemId: string;
  at: number;
  /** Marked as read, not only opened. */
  readAt: number | null;
}
export interface Progress {
  marks: Mark[];
  handIns: HandIn[];
  openings: Opening[];
  groupMarks: GroupMark[];
}

export const noProgress: Progress = { marks: [], handIns: [], openings: [], groupMarks: [] };

export interface ProgressLookup {
  mark(personId: string, itemId: string): Mark | undefined;
  handIns(personId: string, itemId: string): HandIn[];
  opening(personId: string, itemId: string): Opening | undefined;
}

/** Rows by item: no key is put together for the questions asked most. */
export interface ByItem {
  marks: ItemRows<Mark>;
  handIns: ItemRows<HandIn>;
  openings: ItemRows<Opening>;
  groupMarks: ItemRows<GroupMark>;
}

function byItem<Row extends { itemId: string }>(rows: Row[]): ItemRows<Row> {
  const found = new Map<string, Row[]>();
  // Rows of one item most often stand together.
  let [itemId, list]: [string | null, Row[]] = [null, []];
  for (const row of rows) {
    if (row.itemId !== itemId) {
      itemId = row.itemId;
      const known = found.get(itemId);
      list = known ?? [];
      if (!known) found.set(itemId, list);
    }
    list.push(row);
  }
  return ItemRows.of(found);
}

const grouped = new WeakMap<Progress, ByItem>();

/** The rows of progress, an item at a time. */
export function progressByItem(progress: Progress): ByItem {
  const ready = grouped.get(progress);
  if (ready) return ready;
  const made: ByItem = {
    marks: byItem(progress.marks),
    handIns: byItem(progress.handIns),
    openings: byItem(progress.openings),
    groupMarks: byItem(progress.groupMarks),
  };
  grouped.set(progress, made);
  return made;
}

/** Progress out of rows by item; they are put in one list when somebody asks for that. */
export function progressOf(byItem: ByItem): Progress {
  const lists: Partial<Progress> = {};
  const list = <Name extends keyof ByItem>(name: Name): Progress[Name] => {
    lists[name] ??= [...byItem[name].values()].flat() as Progress[Name] as never;
    return lists[name] as Progress[Name];
  };
  const made: Progress = {
    get marks() {
      return list("marks");
    },
    get handIns() {
      return list("handIns");
    },
    get openings() {
      return list("openings");
    },
    get groupMarks() {
      return list("groupMarks");
    },
  };
  grouped.set(made, byItem);
  return made;
}

/** Marks that changed: of persons, or shared ones of groups; without a mark: it was taken away. */
export type MarkChange = { itemId: string; mark: Mark | null } & ({ personId: string } | { groupId: string });

/** Whose mark on which item, as a text. */
export const markKey = (of: { itemId: string } & ({ personId: string } | { groupId: string })): string =>
  `${of.itemId}/${"personId" in of ? of.personId : of.groupId}`;

const steps = new WeakMap<Progress, { before: Progress; changes: MarkChange[] }>();

/** By which changed marks progress came from another, if it did so in a few steps. */
export function marksSince(before: Progress, progress: Progress): MarkChange[] | null {
  const changes: MarkChange[] = [];
  let at: Progress | undefined = progress;
  for (let step = 0; at && step < 50; step++) {
    if (at === before) return changes;
    const last = steps.get(at);
    if (last) changes.unshift(...last.changes);
    at = last?.before;
  }
  return null;
}

/** Progress with some marks given, changed or taken away: the rows of other items are the same lists as before. */
export function withMarks(progress: Progress, changes: MarkChange[]): Progress {
  const byItem = progressByItem(progress);
  const made: ByItem = { ...byItem, marks: byItem.marks.copy(), groupMarks: byItem.groupMarks.copy() };
  const [persons, groups] = [new Map<string, Map<string, Mark | null>>(), new Map<string, Map<string, Mark | null>>()];
  for (const change of changes) {
    const [kind, id] = "personId" in change ? [persons, change.personId] : [groups, change.groupId];
    const of = kind.get(change.itemId) ?? new Map<string, Mark | null>();
    kind.set(change.itemId, of);
    of.set(id, change.mark);
  }
  for (const [itemId, of] of persons) {
    const before = byItem.marks.get(itemId) ?? [];
    const [first] = of.keys();
    const at = of.size === 1 ? before.findIndex((row) => row.personId === first) : -1;
    // One mark of thousands is cut out of where it stands; a person has one row an item.
    const rows = of.size === 1 ? before.slice() : before.filter(({ personId }) => !of.has(personId));
    if (at >= 0) rows.splice(at, 1);
    for (const mark of of.values()) if (mark) rows.push(mark);
    made.marks.set(itemId, rows);
  }
  for (const [itemId, of] of groups) {
    const rows = (byItem.groupMarks.get(itemId) ?? []).filter(({ groupId }) => !of.has(groupId));
    for (const [groupId, mark] of of)
      if (mark) rows.push({ groupId, itemId, points: mark.points, excused: mark.excused, at: mark.at });
    made.groupMarks.set(itemId, rows);
  }
  const next = progressOf(made);
  steps.set(next, { before: progress, changes });
  return next;
}

const noHandIns: HandIn[] = [];

/** The rows of one item by person, in their order; put together when the item is first asked about. */
export const rowsByPerson = once((rows: readonly { personId: string }[]) => collect(rows, ({ personId }) => personId));

/** What one person did in one item; of marks and openings the latest. */
export const progressLookup = once((progress: Progress): ProgressLookup => {
  const rows = progressByItem(progress);
  const byPerson =
    <Row extends { personId: string }>(items: ItemRows<Row>) =>
    (itemId: string, personId: string): Row[] | undefined => {
      const found = items.get(itemId);
      return found && (rowsByPerson(found).get(personId) as Row[] | undefined);
    };
  const [marks, openings, handIns] = [byPerson(rows.marks), byPerson(rows.openings), byPerson(rows.handIns)];
  return {
    mark: (personId, itemId) => marks(itemId, personId)?.at(-1),
    handIns: (personId, itemId) => handIns(itemId, personId) ?? noHandIns,
    opening: (personId, itemId) => openings(itemId, personId)?.at(-1),
  };
});
