/** Separate copies of an item, one a group, made into one split item: one column, own threads. Source: semantics.md section 4. */
import { z } from "zod";
import { defineCommand, derivedId, drop, put, type Refusal, refuse } from "../../plan/command.ts";
import { same } from "../../plan/difference.ts";
import { foldersAbove, lookup } from "../../plan/lookup.ts";
import { noProgress } from "../../plan/progress.ts";
import {
  Between,
  type DateFields,
  type Entrance,
  type Group,
  Id,
  type Item,
  type Override,
  type Plan,
} from "../../plan/types.ts";
import { type Bits, isEmpty, isSubset, or } from "../../sets/bits.ts";
import { type Reach, reachAt } from "../reach.ts";
import { beneath, checkItem, gone, splitKinds, titleOf } from "./check.ts";
import { withConditions } from "./copy.ts";

/** The groups of a layer that a copy is wholly for. */
function groupsOf(reach: Reach, item: Item, groups: Group[]): Group[] {
  const meant = reach.meant(item);
  return groups.filter(({ id }) => {
    const members = reach.members({ kind: "group", id });
    return !isEmpty(members) && isSubset(members, meant);
  });
}

/** The nearest folder from which everyone reaches it: what the first copy lies in, or one above. */
function homeFor(reach: Reach, first: Item, people: Bits): string | null {
  const above = foldersAbove(reach.plan, first);
  const fits = above.find((folder) => isSubset(people, reach.meant(folder)));
  return fits?.id ?? null;
}

/** What differs in a copy's dates from the kept item's: the copy's groups keep it. */
function differing(kept: DateFields, copy: DateFields): DateFields {
  const found: Record<string, unknown> = {};
  for (const field of new Set([...Object.keys(kept), ...Object.keys(copy)]) as Set<keyof DateFields>)
    if (kept[field] !== copy[field]) found[field] = copy[field] ?? "none";
  return found as DateFields;
}

export const combineCommands = [
  defineCommand(
    "items.combine",
    { itemIds: z.array(Id).min(2).max(200), layerId: Id, between: Between },
    {
      apply(plan, { id, itemIds, layerId, between }, { now }) {
        const items = itemIds.map((itemId) => plan.items[itemId]).filter((item) => item !== undefined);
        if (items.length < itemIds.length) return gone();
        const wrong = refused(plan, items, layerId);
        if (wrong) return wrong;
        const [first, ...copies] = items as [Item, ...Item[]];
        const reach = reachAt(plan, noProgress, now);
        const layerGroups = lookup(plan).groupsOfLayer.get(layerId) ?? [];
        const groups = new Map(items.map((item) => [item.id, groupsOf(reach, item, layerGroups)]));
        const astray = items.find((item) => groups.get(item.id)?.length === 0);
        const layerName = plan.layers[layerId]?.name ?? "";
        if (astray)
          return refuse(
            "combine.group",
            `${astray.title} is not for a whole group of ${layerName}, so it would have no thread there.`,
          );
        const all = [...groups.values()].flat();
        const twice = all.find((group, place) => all.indexOf(group) !== place);
        if (twice) return refuse("combine.twice", `Two of the copies are for ${twice.name}. Choose one a group.`);

        const people = items.reduce((bits, item) => or(bits, reach.meant(item)), reach.sets.nobody);
        const everyone = isSubset(reach.everyone, people);
        const parentId = homeFor(reach, first, people);
        const into = new Map(copies.map((copy) => [copy.id, first.id]));
        const itemOf = (asked: string) => into.get(asked) ?? asked;
        const kept: Item = withConditions(
          {
            ...first,
            parentId,
            audience: { to: everyone ? "everyone" : all.map((group) => ({ kind: "group", id: group.id })), minus: [] },
            split: { layerId, between },
            variants: [
              ...first.variants,
              ...copies
                .filter((copy) => !same(copy.condition, first.condition))
                .map((copy) => ({ targets: (groups.get(copy.id) ?? []).map(target), condition: copy.condition })),
            ],
            combines: items.flatMap((item) => [
              ...item.combines,
              { itemId: item.id, groupIds: (groups.get(item.id) ?? []).map((group) => group.id) },
            ]),
          },
          itemOf,
        );
        const checked = checkItem(plan, kept);
        if (checked) return checked;
        // Whoever found a copy in a folder finds the one item there.
        const doors = items
          .filter((item) => item.parentId !== parentId)
          .map(
            (item): Entrance => ({
              id: derivedId(id, item.id),
              itemId: first.id,
              folderId: item.parentId,
              position: item.position,
            }),
          );
        const led = Object.values(plan.entrances).filter((row) => into.has(row.itemId));
        const asking = Object.values(plan.items)
          .filter((item) => !into.has(item.id) && item.id !== first.id)
          .map((item) => ({ item, next: withConditions(item, itemOf) }))
          .filter(({ item, next }) => !same(item, next));
        let next = put(plan, "items", [kept, ...asking.map(({ next: one }) => one)]);
        next = put(next, "entrances", [
          ...doors,
          ...led.map((row) => ({ ...row, id: derivedId(id, row.id), itemId: first.id })),
        ]);
        // Rows that move get new ids: the copies they named are gone by then.
        next = drop(
          next,
          "entrances",
          led.map((row) => row.id),
        );
        next = drop(
          next,
          "overrides",
          overridesOf(plan, copies).map((row) => row.id),
        );
        next = put(next, "overrides", datesOf(plan, id, first, copies, groups));
        return drop(
          next,
          "items",
          copies.map((copy) => copy.id),
        );
      },
      describe: (plan, { itemIds, layerId }) =>
        `${itemIds.length} copies of ${titleOf(plan, itemIds[0] as string)} into one, split along ${plan.layers[layerId]?.name ?? "a removed layer"}`,
    },
  ),
] as const;

const target = (group: Group) => ({ kind: "group" as const, id: group.id });
const overridesOf = (plan: Plan, items: Item[]): Override[] =>
  items.flatMap((item) => lookup(plan).overridesOfItem.get(item.id) ?? []);

/** Each copy's own dates become those of its groups; overrides of a person or of a part move along. */
function datesOf(plan: Plan, id: string, first: Item, copies: Item[], groups: Map<string, Group[]>): Override[] {
  const found = new Map<string, Override>();
  const key = (row: Override["target"]) => `${row.kind}/${row.id}`;
  for (const row of overridesOf(plan, [first])) found.set(key(row.target), row);
  for (const copy of copies) {
    const dates = differing(first.dates, copy.dates);
    if (Object.keys(dates).length > 0)
      for (const group of groups.get(copy.id) ?? []) {
        const known = found.get(key(target(group)));
        const row = { id: derivedId(id, copy.id, group.id), itemId: first.id, target: target(group), dates };
        found.set(key(row.target), known ? { ...known, dates: { ...known.dates, ...dates } } : row);
      }
    for (const row of overridesOf(plan, [copy])) {
      const known = found.get(key(row.target));
      found.set(key(row.target), {
        ...(known ?? { ...row, id: derivedId(id, row.id) }),
        itemId: first.id,
        dates: { ...known?.dates, ...row.dates },
      });
    }
  }
  return [...found.values()];
}

function refused(plan: Plan, items: Item[], layerId: string): Refusal | null {
  const [first] = items as [Item];
  const layer = plan.layers[layerId];
  if (!layer) return refuse("layer.gone", "The layer to split along is no longer there.");
  const other = items.find(({ kind }) => kind !== first.kind);
  if (other)
    return refuse(
      "combine.kind",
      `${first.title} is a ${first.kind} and ${other.title} a ${other.kind}; copies are of one kind.`,
    );
  if (!splitKinds.has(first.kind))
    return refuse("split.kind", "Only discussions, assignments and quizzes can be split.");
  const worth = items.find(({ points }) => points !== first.points);
  if (worth)
    return refuse(
      "combine.points",
      `${first.title} is worth ${first.points ?? "no"} points and ${worth.title} ${worth.points ?? "none"}. Give them the same points first, so that marks keep their meaning.`,
    );
  const split = items.find((item) => item.split !== null);
  if (split) return refuse("combine.split", `${split.title} is split already.`);
  const nested = items.find((item) => beneath(plan, item.id).length > 1);
  return nested ? refuse("combine.nested", `${nested.title} has something beneath it.`) : null;
}
