/** Where an item goes that is dragged or moved by keys, as the command that does it. */
import { lookup } from "../../../core/plan/lookup.ts";
import type { Item, Plan } from "../../../core/plan/types.ts";
import type { NewCommand } from "../../workbench/store.ts";

/** Over which row something is held, and in which part of it. */
export interface Drop {
  itemIds: string[];
  overId: string;
  where: "before" | "into" | "after";
}

const siblings = (plan: Plan, parentId: string | null) => lookup(plan).children.get(parentId) ?? [];
const command = (itemIds: string[], parentId: string | null, before: string | null): NewCommand => ({
  kind: "items.move",
  itemIds,
  parentId,
  before,
});

export function moveTo(plan: Plan, { itemIds, overId, where }: Drop): NewCommand | null {
  const over = plan.items[overId];
  if (!over || itemIds.includes(overId)) return null;
  if (where === "into") return command(itemIds, over.id, null);
  if (where === "before") return command(itemIds, over.parentId, over.id);
  const beside = siblings(plan, over.parentId).filter(({ id }) => !itemIds.includes(id));
  return command(itemIds, over.parentId, beside[beside.findIndex(({ id }) => id === overId) + 1]?.id ?? null);
}

/** Up and down among its neighbours, right into the folder above it, left out of its folder. */
export function moveBy(plan: Plan, item: Item, itemIds: string[], key: string): NewCommand | null {
  const beside = siblings(plan, item.parentId);
  const at = beside.findIndex(({ id }) => id === item.id);
  if (key === "ArrowUp") return at > 0 ? command(itemIds, item.parentId, beside[at - 1]?.id ?? null) : null;
  if (key === "ArrowDown")
    return at < beside.length - 1 ? command(itemIds, item.parentId, beside[at + 2]?.id ?? null) : null;
  if (key === "ArrowRight") {
    const folder = beside.slice(0, at).findLast(({ kind }) => kind === "folder");
    return folder ? command(itemIds, folder.id, null) : null;
  }
  const parent = item.parentId ? plan.items[item.parentId] : undefined;
  if (!parent) return null;
  const above = siblings(plan, parent.parentId);
  return command(itemIds, parent.parentId, above[above.findIndex(({ id }) => id === parent.id) + 1]?.id ?? null);
}
