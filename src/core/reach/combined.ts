/**
 * Copies that were made into one split item: what people did in them is read as done in the one. The rows stay where
 * they were written, so that taking the step back gives each copy its own again. Source: semantics.md section 4.
 */
import { once, onceOfTwo } from "../memo.ts";
import type { ItemRows } from "../plan/item-rows.ts";
import { type Progress, progressByItem, progressOf } from "../plan/progress.ts";
import type { Item, Plan } from "../plan/types.ts";
import { isGroupWork, sharedIn } from "./group-work.ts";

const combinedOf = once((items: Plan["items"]): Map<string, Item> => {
  const found = new Map<string, Item>();
  for (const item of Object.values(items)) for (const { itemId } of item.combines) found.set(itemId, item);
  return found;
});

/** The item that an earlier copy was made into, by the copy's id. */
export const combinedInto = (plan: Plan): Map<string, Item> => combinedOf(plan.items);

const nothing: never[] = [];

const readThrough = onceOfTwo((progress: Progress, plan: Plan): Progress => {
  const into = combinedInto(plan);
  const given = progressByItem(progress);
  const shares = Object.values(plan.items).filter(
    (item) => item.split !== null && (isGroupWork(item) || given.groupMarks.has(item.id)),
  );
  if (into.size === 0 && shares.length === 0) return progress;
  const moved = <Row extends { itemId: string; at: number }>(rows: ItemRows<Row>): ItemRows<Row> => {
    const made = rows.copy();
    for (const [copyId, item] of into) {
      const theirs = rows.get(copyId);
      if (!theirs) continue;
      made.delete(copyId);
      const all = [...(made.get(item.id) ?? []), ...theirs.map((row) => ({ ...row, itemId: item.id }))];
      made.set(
        item.id,
        all.sort((a, b) => a.at - b.at),
      );
    }
    return made;
  };
  const byItem = {
    marks: moved(given.marks),
    handIns: moved(given.handIns),
    openings: moved(given.openings),
    groupMarks: given.groupMarks,
  };
  for (const item of shares) {
    const handIns = byItem.handIns.get(item.id) ?? nothing;
    const groupMarks = given.groupMarks.get(item.id) ?? nothing;
    // What follows from the same rows is the same list, so that a mark elsewhere leaves it as it is.
    const shared = sharedIn(plan, item, handIns, byItem.marks.get(item.id) ?? nothing, groupMarks);
    byItem.marks.set(item.id, shared.marks);
    if (isGroupWork(item)) byItem.handIns.set(item.id, shared.handIns);
  }
  return progressOf(byItem);
});

/**
 * Progress as the plan reads it: rows of copies are rows of the item they became (of two marks the later stands), what
 * a group handed in together counts for each of them, and its shared mark is the mark of those without one of their own.
 */
export const progressThrough = (plan: Plan, progress: Progress): Progress => readThrough(progress, plan);

/**
 * The thread of a split item in which a post of one of its copies stands: that of the copy's group, where the copy was
 * for several the author's own of those.
 */
export function threadOfCopy(item: Item, copyId: string, authorGroups: ReadonlySet<string>): string | null {
  const groupIds = item.combines.find(({ itemId }) => itemId === copyId)?.groupIds ?? [];
  return groupIds.find((id) => authorGroups.has(id)) ?? groupIds[0] ?? null;
}
