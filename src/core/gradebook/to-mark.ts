/** How much handed-in work nobody marked. Source: semantics.md section 7. */
import { progressByItem, rowsByPerson } from "../plan/progress.ts";
import type { Reach } from "../reach/reach.ts";

/** Students of the reach and items with points: handed in, and with no mark, not even an excuse. */
export function countToMark({ plan, progress, indexOf }: Reach): number {
  const { marks, handIns } = progressByItem(progress);
  let count = 0;
  for (const itemId of handIns.keys()) {
    if (plan.items[itemId]?.points == null) continue;
    const marked = rowsByPerson(marks.get(itemId) ?? none);
    const waiting = new Set<string>();
    for (const { personId } of handIns.get(itemId) ?? none)
      if (indexOf.has(personId) && !marked.has(personId)) waiting.add(personId);
    count += waiting.size;
  }
  return count;
}

const none: never[] = [];
