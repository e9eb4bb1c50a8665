/**
 * Copies that were made into one split item: what people did in them is read as done in the one. The rows stay where
 * they were written, so that taking the step back gives each copy its own again. Source: semantics.md section 4.
 */
import type { Progress } from "../plan/progress.ts";
import type { Item, Plan } from "../plan/types.ts";

const itemsThrough = new WeakMap<Plan["items"], Map<string, Item>>();

/** The item that an earlier copy was made into, by the copy's id. */
export function combinedInto(plan: Plan): Map<string, Item> {
  const ready = itemsThrough.get(plan.items);
  if (ready) return ready;
  const found = new Map<string, Item>();
  for (const item of Object.values(plan.items)) for (const { itemId } of item.combines) found.set(itemId, item);
  itemsThrough.set(plan.items, found);
  return found;
}

const progressOf = new WeakMap<Progress, WeakMap<Plan["items"], Progress>>();

/** Progress as the plan reads it: rows of copies are rows of the item they became. Of two marks the later stands. */
export function progressThrough(plan: Plan, progress: Progress): Progress {
  const into = combinedInto(plan);
  if (into.size === 0) return progress;
  const known = progressOf.get(progress) ?? new WeakMap<Plan["items"], Progress>();
  progressOf.set(progress, known);
  const ready = known.get(plan.items);
  if (ready) return ready;
  const moved = <Row extends { itemId: string; at: number }>(rows: Row[]): Row[] => {
    const through = rows.map((row) => {
      const item = into.get(row.itemId);
      return item ? { ...row, itemId: item.id } : row;
    });
    return through.some((row, at) => row !== rows[at]) ? through.sort((a, b) => a.at - b.at) : rows;
  };
  const made: Progress = {
    marks: moved(progress.marks),
    handIns: moved(progress.handIns),
    openings: moved(progress.openings),
  };
  known.set(plan.items, made);
  return made;
}

/**
 * The thread of a split item in which a post of one of its copies stands: that of the copy's group, where the copy was
 * for several the author's own of those.
 */
export function threadOfCopy(item: Item, copyId: string, authorGroups: ReadonlySet<string>): string | null {
  const groupIds = item.combines.find(({ itemId }) => itemId === copyId)?.groupIds ?? [];
  return groupIds.find((id) => authorGroups.has(id)) ?? groupIds[0] ?? null;
}
