/** Pages of groups: folders of their own, and putting items on all of a layer's in one action. Source: semantics.md section 4. */

import { z } from "zod";
import { pageId } from "../../placement/groups/page.ts";
import { defineCommand, derivedId, put, refuse } from "../../plan/command.ts";
import { lastPosition, lookup } from "../../plan/lookup.ts";
import { blankItem, type Entrance, type Group, Id, type Item, type Plan } from "../../plan/types.ts";
import { beneath, gone, titlesOf } from "./check.ts";
import { copyItems } from "./copy.ts";

/** The page of each group that has one, by group. */
export function pagesOf(plan: Plan): Map<string, Item> {
  const pages = Object.values(plan.items).filter(({ pageOf }) => pageOf !== null);
  return new Map(pages.map((item) => [item.pageOf as string, item]));
}

/** A new page: a sealing folder that only the group can enter. A private group's has a name that tells nothing. */
const pageFor = (plan: Plan, id: string, group: Group, position: number): Item => ({
  ...blankItem,
  id: pageId(id, group.id),
  parentId: null,
  position,
  kind: "folder",
  title: plan.layers[group.layerId]?.private ? "Your page" : group.label,
  audience: { to: [{ kind: "group", id: group.id }], minus: [] },
  announced: !plan.layers[group.layerId]?.private,
  pageOf: group.id,
});

export const pageCommands = [
  defineCommand(
    "items.onPages",
    { itemIds: z.array(Id).max(200), layerId: Id, how: z.enum(["shared", "copied"]) },
    {
      apply(plan, { id, itemIds, layerId, how }) {
        const groups = lookup(plan).groupsOfLayer.get(layerId) ?? [];
        if (groups.length === 0)
          return refuse("layer.empty", "This layer has no groups, so there are no pages to put it on.");
        if (itemIds.some((itemId) => !plan.items[itemId])) return gone();
        const there = pagesOf(plan);
        const first = lastPosition(plan, null);
        const made = groups
          .filter((group) => !there.has(group.id))
          .map((group, place) => pageFor(plan, id, group, first + place));
        const inside = new Set(itemIds.flatMap((itemId) => beneath(plan, itemId)));
        const pages = groups.map(
          (group) => there.get(group.id) ?? (made.find(({ pageOf }) => pageOf === group.id) as Item),
        );
        if (pages.some((page) => inside.has(page.id)))
          return refuse("page.self", "A group's page cannot be put on the pages of its layer.");
        let next = put(plan, "items", made);
        for (const page of pages) {
          if (how === "copied") {
            // Whoever may enter the page may open the copy.
            const forPage = (item: Item): Item => ({ ...item, audience: { to: "everyone", minus: [] } });
            next = copyItems(next, id, itemIds, page.id, lastPosition(next, page.id), forPage);
            continue;
          }
          const doors = (lookup(next).entrancesInFolder.get(page.id) ?? []).map(({ itemId }) => itemId);
          const missing = itemIds.filter(
            (itemId) => !doors.includes(itemId) && next.items[itemId]?.parentId !== page.id,
          );
          next = put(
            next,
            "entrances",
            missing.map(
              (itemId, place): Entrance => ({
                id: derivedId(id, itemId, page.id),
                itemId,
                folderId: page.id,
                position: lastPosition(next, page.id) + place,
              }),
            ),
          );
        }
        return next;
      },
      describe: (plan, { itemIds, layerId, how }) => {
        const name = plan.layers[layerId]?.name ?? "a removed layer";
        if (itemIds.length === 0) return `Pages for the groups of ${name}`;
        return `${titlesOf(plan, itemIds)} ${how} on the pages of ${name}`;
      },
    },
  ),
] as const;
