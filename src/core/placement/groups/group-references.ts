/** What is aimed at groups: items, dates, allowances and placement rules. Source: semantics.md sections 3 to 7. */
import { put } from "../../plan/command.ts";
import { compareText } from "../../plan/lookup.ts";
import { mapReferences, partsOf, type Retarget } from "../../plan/references.ts";
import type { Condition, Item, Plan, Target } from "../../plan/types.ts";

export interface GroupReferences {
  /** Items that are for one of the groups, or not for it, or ask for it in a condition or variant. */
  items: { id: string; title: string; how: ("for" | "not for" | "condition")[] }[];
  /** Items with dates or limits of the groups' own. */
  dates: { id: string; title: string }[];
  /** Items that are split along the layer: each group has a thread of its own in them. */
  threads: { id: string; title: string }[];
  allowances: number;
  /** Placement rules of following layers that fill one of them. */
  rules: number;
  /** Names of the sets that hold one of them. */
  sets: string[];
}

const targetsIn = (condition: Condition | null): Target[] =>
  condition === null ? [] : partsOf(condition).flatMap((part) => (part.kind === "in" ? part.targets : []));

function howAimed(item: Item, hit: (target: Target) => boolean): GroupReferences["items"][number]["how"] {
  const how: GroupReferences["items"][number]["how"] = [];
  if (item.audience.to !== "everyone" && item.audience.to.some(hit)) how.push("for");
  if (item.audience.minus.some(hit)) how.push("not for");
  const asked = [
    ...targetsIn(item.condition),
    ...item.variants.flatMap(({ targets, condition }) => [...targets, ...targetsIn(condition)]),
  ];
  if (asked.some(hit)) how.push("condition");
  return how;
}

/** Everything that names one of the groups. */
export function referencesToGroups(plan: Plan, groupIds: readonly string[]): GroupReferences {
  const wanted = new Set(groupIds);
  const hit = ({ kind, id }: Target) => kind === "group" && wanted.has(id);
  const byTitle = (a: { title: string }, b: { title: string }) => compareText(a.title, b.title);
  const dated = new Set(
    Object.values(plan.overrides)
      .filter(({ target }) => hit(target))
      .map(({ itemId }) => itemId),
  );
  const layerIds = new Set(groupIds.map((id) => plan.groups[id]?.layerId));
  return {
    items: Object.values(plan.items)
      .map((item) => ({ id: item.id, title: item.title, how: howAimed(item, hit) }))
      .filter(({ how }) => how.length > 0)
      .sort(byTitle),
    dates: [...dated].map((id) => ({ id, title: plan.items[id]?.title ?? "" })).sort(byTitle),
    threads: Object.values(plan.items)
      .filter(({ split }) => split !== null && layerIds.has(split.layerId))
      .map(({ id, title }) => ({ id, title }))
      .sort(byTitle),
    allowances: Object.values(plan.allowances).filter(({ target }) => hit(target)).length,
    rules: Object.values(plan.layers)
      .flatMap(({ following }) => following ?? [])
      .filter(({ groupId }) => wanted.has(groupId)).length,
    sets: Object.values(plan.sets)
      .filter(({ groupIds: held }) => held.some((id) => wanted.has(id)))
      .map(({ name }) => name),
  };
}

/** How many items name each group, in whom they are for, in a condition, or in dates: all groups in one pass. */
export function aimedCounts(plan: Plan): Map<string, number> {
  const itemsOf = new Map<string, Set<string>>();
  const note = (itemId: string) => (target: Target) => {
    if (target.kind !== "group") return false;
    const items = itemsOf.get(target.id);
    if (items) items.add(itemId);
    else itemsOf.set(target.id, new Set([itemId]));
    return false;
  };
  for (const item of Object.values(plan.items)) howAimed(item, note(item.id));
  for (const { itemId, target } of Object.values(plan.overrides)) note(itemId)(target);
  return new Map([...itemsOf].map(([groupId, items]) => [groupId, items.size]));
}

/**
 * The plan in which everything that named one of the groups names others in its place: one for a merge, all parts for
 * a split. Where dates of both end on one group and item, those of the group that `stays` are kept, field by field.
 */
export function retargetGroups(
  plan: Plan,
  from: readonly string[],
  to: readonly string[],
  idFor: (...parts: string[]) => string,
): Plan {
  const gone = new Set(from);
  const swap: Retarget = ({ table, id }) => (table === "groups" && gone.has(id) ? to : [id]);
  const items = { ...plan.items };
  for (const { id } of referencesToGroups(plan, from).items) {
    const item = items[id] as Item;
    // Whose page it is, and which copies became part of it, stays.
    items[id] = { ...mapReferences("items", item, swap), pageOf: item.pageOf, combines: item.combines };
  }
  const overrides = { ...plan.overrides };
  for (const row of Object.values(plan.overrides)) {
    if (row.target.kind !== "group" || !gone.has(row.target.id)) continue;
    delete overrides[row.id];
    for (const id of to) {
      const there = Object.values(overrides).find(
        ({ itemId, target }) => itemId === row.itemId && target.kind === "group" && target.id === id,
      );
      const rowId = there?.id ?? (id === row.target.id ? row.id : idFor("dates", row.id, id));
      const target = { kind: "group" as const, id };
      overrides[rowId] = { id: rowId, itemId: row.itemId, target, dates: { ...row.dates, ...there?.dates } };
    }
  }
  const allowances = { ...plan.allowances };
  for (const row of Object.values(plan.allowances)) {
    if (row.target.kind !== "group" || !gone.has(row.target.id)) continue;
    delete allowances[row.id];
    for (const id of to) {
      const rowId = id === row.target.id ? row.id : idFor("allowance", row.id, id);
      allowances[rowId] = { ...row, id: rowId, target: { kind: "group", id } };
    }
  }
  const sets = Object.values(plan.sets)
    .map((set) => mapReferences("sets", set, swap))
    .filter((set) => set !== plan.sets[set.id]);
  return put({ ...plan, items, overrides, allowances }, "sets", sets);
}
