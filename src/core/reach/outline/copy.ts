/** Copies of items with all beneath them. Source: semantics.md section 4. */
import { derivedId, put } from "../../plan/command.ts";
import { lookup } from "../../plan/lookup.ts";
import { asUnreleased } from "../../plan/questions.ts";
import { mapReferences } from "../../plan/references.ts";
import type { Item, Plan } from "../../plan/types.ts";
import { beneath } from "./check.ts";

/** An item whose own condition and variants ask of other items than before. */
export const withConditions = (item: Item, itemOf: (id: string) => string): Item => ({
  ...mapReferences("items", item, ({ table, id }) => [table === "items" ? itemOf(id) : id]),
  parentId: item.parentId,
});

/**
 * Copies items into a folder, with what lies beneath them, their dates and limits. Conditions among the copied ask of
 * the copies; what people did stays with the first. The same `id` makes the same rows.
 */
export function copyItems(
  plan: Plan,
  id: string,
  itemIds: string[],
  parentId: string | null,
  position: number,
  change: (item: Item) => Item = (item) => item,
): Plan {
  const all = [...new Set(itemIds.flatMap((itemId) => beneath(plan, itemId)))];
  const copyOf = new Map(all.map((itemId) => [itemId, derivedId(id, itemId, parentId ?? "top")]));
  const { overridesOfItem } = lookup(plan);
  const copies = all.map((itemId): Item => {
    const item = plan.items[itemId] as Item;
    const top = itemIds.indexOf(itemId);
    const home = top >= 0 && !copyOf.has(item.parentId ?? "") ? { parentId, position: position + top } : null;
    const copy = withConditions(item, (asked) => copyOf.get(asked) ?? asked);
    const placed = {
      ...copy,
      id: copyOf.get(itemId) as string,
      combines: [],
      quiz: asUnreleased(copy.quiz),
      ...(home ?? { parentId: copyOf.get(item.parentId ?? "") ?? parentId }),
    };
    return home ? change(placed) : placed;
  });
  const dates = all.flatMap((itemId) =>
    (overridesOfItem.get(itemId) ?? []).map((override) => ({
      ...override,
      id: derivedId(id, override.id, parentId ?? "top"),
      itemId: copyOf.get(itemId) as string,
    })),
  );
  return put(put(plan, "items", copies), "overrides", dates);
}
