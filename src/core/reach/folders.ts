/** The folders of an outline in the order in which sight grows down it. */
import { once } from "../memo.ts";
import type { Item, Plan } from "../plan/types.ts";

/** Every folder, those nearer the top first, so that sight grows down the outline in one pass. */
export const foldersOf = once((items: Plan["items"]): Item[] => {
  const depth = (item: Item): number => {
    const seen = new Set<string>();
    for (let parent = item.parentId; parent !== null && !seen.has(parent); parent = items[parent]?.parentId ?? null)
      seen.add(parent);
    return seen.size;
  };
  return Object.values(items)
    .filter(({ kind }) => kind === "folder")
    .map((folder) => ({ folder, depth: depth(folder) }))
    .sort((a, b) => a.depth - b.depth)
    .map(({ folder }) => folder);
});
