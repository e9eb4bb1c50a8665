/** Who sees the folders of an outline, by their homes and by extra entrances. Source: semantics.md section 4. */
import { once } from "../memo.ts";
import { lookup } from "../plan/lookup.ts";
import type { Entrance, Item, Plan } from "../plan/types.ts";
import { type Algebra, type Bits, sameBits } from "../sets/bits.ts";

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

/** Who comes to an item through its home or through an entrance, by who sees which folder. */
export function throughEntrances(
  plan: Plan,
  { everyone, nobody, either }: Algebra,
  item: Item,
  sight: ReadonlyMap<string, Bits>,
): Bits {
  const extra: Pick<Entrance, "folderId">[] = lookup(plan).entrancesOfItem.get(item.id) ?? [];
  let bits = item.parentId === null ? everyone : (sight.get(item.parentId) ?? nobody);
  for (const { folderId } of extra) bits = either(bits, folderId === null ? everyone : (sight.get(folderId) ?? nobody));
  return bits;
}

/**
 * Who sees each folder, by its id. Folders may be entered by extra entrances, even from within each other, so this is the
 * least fixed point: it begins with nobody and grows until nothing changes.
 * `within`: to whom a folder is open, however they come there; `indexed`: to whom an index lists it.
 */
export function folderSight(
  plan: Plan,
  sets: Algebra,
  { within, indexed }: Record<"within" | "indexed", (folder: Item) => Bits>,
): Map<string, Bits> {
  const { nobody, both, either } = sets;
  const list = foldersOf(plan.items);
  const sight = new Map<string, Bits>(list.map((folder) => [folder.id, nobody]));
  for (let grows = true; grows; ) {
    grows = false;
    for (const folder of list) {
      const bits = both(within(folder), either(throughEntrances(plan, sets, folder, sight), indexed(folder)));
      if (sameBits(bits, sight.get(folder.id) as Bits)) continue;
      sight.set(folder.id, bits);
      grows = true;
    }
  }
  return sight;
}
