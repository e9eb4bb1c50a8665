/**
 * Reach carried over a change: what the change does not touch is not asked again. The answers are those that a fresh
 * evaluation gives (tested as a property). Source: semantics.md section 4; docs/architecture.md, Reach.
 */
import type { RowChange } from "../plan/difference.ts";
import { lookup } from "../plan/lookup.ts";
import type { MarkChange, Progress } from "../plan/progress.ts";
import { itemsAskedBy } from "../plan/references.ts";
import type { Entrance, Item, Override, Placement, Plan, Target } from "../plan/types.ts";
import { isAnchor, meetingGroups } from "../timing/anchors.ts";
import { combinedInto } from "./combined.ts";
import { isGroupWork } from "./group-work.ts";
import { membershipSetsAfter } from "./membership-sets.ts";
import { mentionsIn, targetKey } from "./mentions.ts";
import { type Answers, type Question, questions, type Reach, reachAt, reachOf } from "./reach.ts";

/** Tables of which a change of one row may touch anyone. */
const wide = new Set<RowChange["table"]>([
  "course",
  "sections",
  "people",
  "enrolments",
  "layers",
  "sets",
  "allowances",
]);
/** What is asked of an item alone. */
const own: Question[] = [
  "audience",
  "conditionHolds",
  "withinDates",
  "released",
  "indexed",
  "meant",
  "arrives",
  "sees",
  "leak",
];
/** What follows from the folders above it. */
const below: Question[] = ["meant", "unsealed", "arrives", "sees", "leak"];
const byEntrance: Question[] = ["arrives", "sees", "leak"];

/** A layer or set that is new is named by nothing yet: whatever names it is a change of its own. */
const isNewName = ({ table, before }: RowChange) => before === null && (table === "layers" || table === "sets");

/** Reach of the plan after `changes`, at the same moment, with the same progress. */
export function reachAfter(reach: Reach, plan: Plan, changes: RowChange[]): Reach {
  if (changes.some((change) => (wide.has(change.table) && !isNewName(change)) || movesGroup(change)))
    return reachAt(plan, reach.rawProgress, reach.t);
  const touched = touchedBy(reach, plan, changes);
  const placed = changes
    .filter(({ table }) => table === "placements")
    .map(({ before, after }) => ({ before: before as Placement | null, after: after as Placement | null }));
  const membershipSets =
    placed.length === 0 ? reach.membershipSets : membershipSetsAfter(reach.membershipSets, placed, reach.t);
  return reachOf(plan, reach.rawProgress, reach.t, membershipSets, answersWithout(reach, plan, touched));
}

/** Reach after some marks were given, changed or taken away: of the same plan, at the same moment. */
export function reachWithMarks(reach: Reach, progress: Progress, changes: MarkChange[]): Reach {
  const { byItem } = mentionsIn(reach.plan);
  const items = new Set(
    changes.flatMap(({ itemId }) => [...(byItem.get(combinedInto(reach.plan).get(itemId)?.id ?? itemId) ?? [])]),
  );
  const isFolder = [...items].some((id) => reach.plan.items[id]?.kind === "folder");
  const answers = isFolder
    ? answersWithout(reach, reach.plan, { items, entered: new Set() })
    : answersToCondition(reach.answers, items);
  return reachOf(reach.plan, progress, reach.t, reach.membershipSets, answers);
}

/** Answers of which those that follow from the conditions of some items, none a folder, are to be found anew. */
function answersToCondition(answers: Answers, items: Set<string>): Answers {
  const next = { ...answers };
  for (const question of ["conditionHolds", "released", "sees", "leak"] as const) {
    next[question] = new Map(answers[question]);
    for (const id of items) next[question].delete(id);
  }
  return next;
}

/** A group whose place or pattern changes may move dates and meetings of all in it. */
const movesGroup = ({ table, before, after }: RowChange): boolean =>
  table === "groups" &&
  before !== null &&
  (after === null ||
    before.position !== after.position ||
    (["pattern", "noClassDays", "moved", "added"] as const).some((field) => before[field] !== after[field]));

/** The layer whose groups share what is done in an item. */
const sharedBy = (item: Item | null) => item && `${isGroupWork(item)} ${item.split?.layerId}`;

interface Touched {
  /** Items whose own answers may differ. */
  items: Set<string>;
  /** Items that may be entered otherwise than before. */
  entered: Set<string>;
}

function touchedBy(reach: Reach, plan: Plan, changes: RowChange[]): Touched {
  const items = new Set<string>();
  const entered = new Set<string>();
  const mentions = mentionsIn(reach.plan);
  for (const { table, id, before, after } of changes) {
    if (table === "items") {
      const [was, is] = [before as Item | null, after as Item | null];
      items.add(id);
      // What can be earned decides whether enough was; a copy that became part of an item brings its marks; what
      // groups hand in is handed in by all of them.
      if (was?.points !== is?.points || was?.combines !== is?.combines || sharedBy(was) !== sharedBy(is))
        for (const asking of mentions.byItem.get(id) ?? []) items.add(asking);
    } else if (table === "overrides") items.add((after ?? before)?.itemId as string);
    else if (table === "entrances")
      for (const row of [before, after] as (Entrance | null)[]) if (row) entered.add(row.itemId);
  }
  const groupIds = new Set(
    changes
      .filter(({ table }) => table === "placements")
      .flatMap(({ before, after }) => [before?.groupId, after?.groupId].filter((id) => typeof id === "string")),
  );
  if (groupIds.size > 0) for (const id of itemsOfGroups(reach, plan, groupIds)) items.add(id);
  if (changes.some(({ table, before, after }) => table === "items" && before?.combines !== after?.combines))
    for (const item of Object.values(plan.items)) if (itemsAskedBy(item).length > 0) items.add(item.id);
  return { items, entered };
}

/** Items that name one of the groups, or whose dates differ for it. */
function itemsOfGroups({ plan: old, progress }: Reach, plan: Plan, groupIds: Set<string>): Set<string> {
  const { setsOfGroup, allowances } = lookup(plan);
  const targets: Target[] = [...groupIds].flatMap((id) => [
    { kind: "group" as const, id },
    ...(setsOfGroup.get(id) ?? []).map((setId) => ({ kind: "set" as const, id: setId })),
  ]);
  const keys = new Set(targets.map(targetKey));
  const found = new Set<string>();
  const { byItem, byTarget, anchored } = mentionsIn(old);
  for (const key of keys) for (const id of byTarget.get(key) ?? []) found.add(id);
  // What a group handed in and was given is that of whoever is in it: what asks for it may hold for others now.
  const layerIds = new Set([...groupIds].map((id) => (plan.groups[id] ?? old.groups[id])?.layerId));
  const marked = new Set(
    progress.groupMarks.filter(({ groupId }) => groupIds.has(groupId)).map(({ itemId }) => itemId),
  );
  for (const item of Object.values(plan.items))
    if ((item.split && layerIds.has(item.split.layerId)) || marked.has(item.id))
      for (const id of byItem.get(item.id) ?? []) found.add(id);
  for (const override of Object.values(plan.overrides) as Override[])
    if (keys.has(targetKey(override.target))) found.add(override.itemId);
  const extended = allowances.some(({ target, extraDays }) => extraDays !== null && keys.has(targetKey(target)));
  if (extended) for (const item of Object.values(plan.items)) if (hasDates(plan, item)) found.add(item.id);
  if (meetingGroups(plan).some(({ id }) => groupIds.has(id))) {
    for (const id of anchored) found.add(id);
    for (const { itemId, dates } of Object.values(plan.overrides) as Override[])
      if (Object.values(dates).some(isAnchor)) found.add(itemId);
  }
  return found;
}

const hasDates = (plan: Plan, item: Item): boolean =>
  Object.keys(item.dates).length > 0 || (lookup(plan).overridesOfItem.get(item.id) ?? []).length > 0;

function answersWithout(reach: Reach, plan: Plan, { items, entered }: Touched): Answers {
  const answers = {
    ...(Object.fromEntries(questions.map((question) => [question, new Map(reach.answers[question])])) as Omit<
      Answers,
      "folders"
    >),
    folders: reach.answers.folders,
  };
  const forget = (list: Question[], itemId: string) => {
    for (const question of list) answers[question].delete(itemId);
  };
  let doors = false;
  for (const id of items) {
    forget(own, id);
    const [was, is] = [reach.plan.items[id], plan.items[id]];
    if (was?.parentId !== is?.parentId) forget(below, id);
    if (was?.kind === "folder" || is?.kind === "folder") doors = true;
    for (const child of beneath(plan, id)) forget(below, child);
  }
  for (const id of entered) {
    forget(byEntrance, id);
    if (plan.items[id]?.kind === "folder") doors = true;
  }
  if (doors) {
    // Who sees a folder decides who comes through it, wherever its entrances lead.
    answers.folders = null;
    for (const question of byEntrance) answers[question].clear();
  }
  return answers;
}

/** Every item whose home lies beneath a folder. */
function beneath(plan: Plan, folderId: string): string[] {
  const { children } = lookup(plan);
  const ids = [folderId];
  for (let at = 0; at < ids.length; at++) for (const { id } of children.get(ids[at] as string) ?? []) ids.push(id);
  return ids.slice(1);
}
