/** Some people, picked out anywhere, become a group or join one. Source: semantics.md section 3. */
import type { NewCommand } from "../../commands.ts";
import { lastPosition, lookup } from "../../plan/lookup.ts";
import { blankGroup, blankItem, blankLayer, type Item, type Layer, type Plan } from "../../plan/types.ts";
import { nextStripe } from "../stripes.ts";
import { pageId } from "./page.ts";

export interface IntoGroup {
  /** The layer: one that is there, or a new one with its rule, whether students learn of it, and a page for the group. */
  layer: { id: string } | { name: string; rule: Layer["rule"]; isPrivate: boolean; withPage: boolean };
  /** The group: one that is there, or a new one by its name. */
  group: { id: string } | { name: string };
  personIds: readonly string[];
  /** A stored file that only they have: on the page of their group where it has or gets one. */
  file?: Item["file"];
}
interface Made {
  commands: NewCommand[];
  layerId: string;
  groupId: string;
}

/** What puts some people into a group. `newId` makes the ids of the layer and the group where they are new. */
export function intoGroup(plan: Plan, { layer, group, personIds, file = null }: IntoGroup, newId: () => string): Made {
  const commands: NewCommand[] = [];
  const layerId = "id" in layer ? layer.id : newId();
  if (!("id" in layer)) {
    const { name, rule, isPrivate } = layer;
    const position = Object.keys(plan.layers).length;
    commands.push({
      kind: "layer.add",
      layer: { ...blankLayer, id: layerId, position, name, rule, private: isPrivate },
    });
  }
  const groupId = "id" in group ? group.id : newId();
  if (!("id" in group)) {
    const { name } = group;
    const stripe = nextStripe(name, lookup(plan).allGroupsOfLayer.get(layerId) ?? []);
    const position = lookup(plan).groupsOfLayer.get(layerId)?.length ?? 0;
    const added = { ...blankGroup, id: groupId, layerId, position, name, label: name, stripe };
    commands.push({ kind: "group.add", group: added });
  }
  commands.push({ kind: "placement.place", groupId, personIds: [...personIds] });
  let page = Object.values(plan.items).find(({ pageOf }) => pageOf === groupId)?.id ?? null;
  if (!("id" in layer) && layer.withPage) {
    const id = newId();
    commands.push({ kind: "items.onPages", id, itemIds: [], layerId, how: "shared" });
    page = pageId(id, groupId);
  }
  if (file) {
    const to = { ...blankItem.audience, to: [{ kind: "group" as const, id: groupId }] };
    const place = { parentId: page, position: lastPosition(plan, page) };
    const item = { ...blankItem, ...place, id: newId(), kind: "file" as const, title: file.name, file };
    commands.push({ kind: "item.add", item: { ...item, ...(page === null ? { audience: to } : {}) } });
  }
  return { commands, layerId, groupId };
}
