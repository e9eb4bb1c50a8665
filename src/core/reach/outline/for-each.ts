/** One for each group of a layer: items made or copied for every group at once, named by a pattern. Source: semantics.md section 4. */

import { z } from "zod";
import { Title } from "../../plan/basics.ts";
import { defineCommand, derivedId, put, type Refusal, refuse } from "../../plan/command.ts";
import { lastPosition, lookup } from "../../plan/lookup.ts";
import { type Audience, type Group, Id, Item, type Plan } from "../../plan/types.ts";
import { cut } from "../../text/shorten.ts";
import { beneath, checkItem, gone, titlesOf } from "./check.ts";
import { copyItems } from "./copy.ts";

/** `{group}` is the group as students call it, `{mark}` its mark, `{n}` its place among the groups, from 1. */
export const patternBlanks = ["{group}", "{mark}", "{n}"] as const;

/** The title of a group's own item. Without a blank it is the same for every group. */
export const titleFor = (pattern: string, group: Group, at: number): string =>
  cut(
    pattern
      .replaceAll("{group}", group.label || group.name)
      .replaceAll("{mark}", group.stripe.mark)
      .replaceAll("{n}", String(at + 1))
      .trim(),
    200,
  );

/** The pattern that is proposed for items that become one for each group: it names the group where that may be told. */
export function usualPattern(plan: Plan, layerId: string, titles: string[]): string {
  const [only = ""] = titles;
  if (titles.length > 1) return "{group}";
  return plan.layers[layerId]?.private ? only : `{group} ${only}`.trim();
}

/** Why a pattern cannot name items for the groups of a layer; null where it can. */
export function patternMistake(plan: Plan, layerId: string, pattern: string): Refusal | null {
  const layer = plan.layers[layerId];
  if (!layer) return refuse("layer.gone", "The layer is no longer there. Choose another one.");
  const strange = pattern.match(/\{[^{}]*\}/g)?.find((blank) => !(patternBlanks as readonly string[]).includes(blank));
  if (strange)
    return refuse("pattern.blank", `${strange} is not known here. Write ${patternBlanks.join(", ")}, or leave it out.`);
  if (layer.private && /\{(group|mark)\}/.test(pattern))
    return refuse(
      "pattern.private",
      `${layer.name} is private: a title with {group} or {mark} would tell what the group is. Write {n}, or one title for all.`,
    );
  if ((lookup(plan).groupsOfLayer.get(layerId) ?? []).length === 0)
    return refuse("layer.empty", `${layer.name} has no groups yet. Make them first.`);
  return null;
}

const forGroup = (group: Group): Audience => ({ to: [{ kind: "group", id: group.id }], minus: [] });
const groupsOf = (plan: Plan, layerId: string): Group[] => lookup(plan).groupsOfLayer.get(layerId) ?? [];
const layerName = (plan: Plan, layerId: string) => plan.layers[layerId]?.name ?? "a removed layer";

/** The items that a new one becomes: one for each group, in the place of the one. */
export const itemsForEach = (plan: Plan, id: string, item: Item, layerId: string): Item[] =>
  groupsOf(plan, layerId).map((group, at) => ({
    ...item,
    id: derivedId(id, item.id, group.id),
    title: titleFor(item.title, group, at),
    audience: forGroup(group),
    position: item.position + at,
  }));

export const forEachCommands = [
  defineCommand(
    "item.addForEach",
    { item: Item, layerId: Id },
    {
      apply(plan, { id, item, layerId }) {
        const mistake = patternMistake(plan, layerId, item.title);
        if (mistake) return mistake;
        const made = itemsForEach(plan, id, item, layerId);
        return made.map((one) => checkItem(plan, one)).find((one) => one !== null) ?? put(plan, "items", made);
      },
      describe: (plan, { item, layerId }) =>
        `New ${item.kind} ${item.title} for each group of ${layerName(plan, layerId)}`,
    },
  ),
  defineCommand(
    "items.forEach",
    { itemIds: z.array(Id).min(1).max(200), layerId: Id, pattern: Title },
    {
      /**
       * Each item becomes the first group's, and is copied for the others, with all beneath it. What people did stays
       * with the first. Several items keep their own titles behind the pattern.
       */
      apply(plan, { id, itemIds, layerId, pattern }) {
        const mistake = patternMistake(plan, layerId, pattern);
        if (mistake) return mistake;
        if (itemIds.some((itemId) => !plan.items[itemId])) return gone();
        const inside = new Set(itemIds.flatMap((itemId) => beneath(plan, itemId).slice(1)));
        if (itemIds.some((itemId) => inside.has(itemId)))
          return refuse("forEach.within", "One of these lies within another of them. Choose the outer one alone.");
        const [first, ...others] = groupsOf(plan, layerId) as [Group, ...Group[]];
        const titled = (item: Item, group: Group, at: number): Item => ({
          ...item,
          title: titleFor(itemIds.length > 1 ? `${item.title}, ${pattern}` : pattern, group, at),
          audience: forGroup(group),
        });
        const copied = others.reduce((next, group, at) => {
          const change = (item: Item) => titled(item, group, at + 1);
          return itemIds.reduce((soFar, itemId) => {
            const { parentId } = plan.items[itemId] as Item;
            return copyItems(soFar, derivedId(id, group.id), [itemId], parentId, lastPosition(soFar, parentId), change);
          }, next);
        }, plan);
        return put(
          copied,
          "items",
          itemIds.map((itemId) => titled(plan.items[itemId] as Item, first, 0)),
        );
      },
      describe: (plan, { itemIds, layerId }) =>
        `${titlesOf(plan, itemIds)}: one for each group of ${layerName(plan, layerId)}`,
    },
  ),
] as const;
