/** How the grid is looked at: which columns in which order and how wide, and how rows are grouped. Source: semantics.md section 7. */
import isEqual from "fast-deep-equal";
import { z } from "zod";
import { foldersAbove } from "../plan/lookup.ts";
import { Id, type Item, type Plan } from "../plan/types.ts";

export const Bands = z.enum(["none", "category", "folder"]);
export type Bands = z.infer<typeof Bands>;
export const SavedView = z.object({
  /** Columns that were moved; others stand where the outline has them. */
  order: z.array(Id).max(2000),
  hidden: z.array(Id).max(2000),
  /** Pixels, where it is not the usual. */
  widths: z.record(Id, z.number().int().min(50).max(600)),
  /** By what columns stand together. */
  bands: Bands,
  /** The layer by which rows are grouped. */
  groupBy: Id.nullable(),
});
export type SavedView = z.infer<typeof SavedView>;

export const usualView: SavedView = { order: [], hidden: [], widths: {}, bands: "none", groupBy: null };
export const usualWidth = 82;

/** Whether two views show the same in the same way; `null` is the usual one. */
export const isSameView = (a: SavedView | null, b: SavedView | null): boolean =>
  isEqual(a ?? usualView, b ?? usualView);

/** Columns in the order that was given them; new ones after the column that the outline has before them. */
export function inOrder(columns: Item[], order: string[]): Item[] {
  const byId = new Map(columns.map((item) => [item.id, item]));
  const made = order.flatMap((id) => byId.get(id) ?? []);
  const placed = new Set(made.map(({ id }) => id));
  columns.forEach((item, at) => {
    if (placed.has(item.id)) return;
    const before = columns[at - 1];
    made.splice(before ? made.indexOf(before) + 1 : 0, 0, item);
    placed.add(item.id);
  });
  return made;
}

export interface ShownColumn {
  item: Item;
  width: number;
  /** What it stands together with, where columns do. */
  band: string;
}

/** What a column stands together with: its category, or the outermost folder that it lies in. */
function bandOf(plan: Plan, item: Item, bands: Bands): string {
  if (bands === "category")
    return plan.course.grading.categories.find(({ id }) => id === item.categoryId)?.name ?? "No category";
  return bands === "folder" ? (foldersAbove(plan, item).at(-1)?.title ?? "Top of the outline") : "";
}

/** The columns that are shown, as the view has them; bands in the order of their first column. */
export function shownColumns(plan: Plan, columns: Item[], view: SavedView): ShownColumn[] {
  const hidden = new Set(view.hidden);
  const all = inOrder(columns, view.order)
    .filter(({ id }) => !hidden.has(id))
    .map((item) => ({ item, width: view.widths[item.id] ?? usualWidth, band: bandOf(plan, item, view.bands) }));
  const bands = [...new Set(all.map(({ band }) => band))];
  return bands.length < 2 ? all : bands.flatMap((band) => all.filter((one) => one.band === band));
}

/** The order after one column was put before another; null: at the end. */
export function movedBefore(columns: Item[], order: string[], itemId: string, before: string | null): string[] {
  const ids = inOrder(columns, order)
    .map(({ id }) => id)
    .filter((id) => id !== itemId);
  const at = before === null ? ids.length : ids.indexOf(before);
  ids.splice(at < 0 ? ids.length : at, 0, itemId);
  return ids;
}

/** A filter that was saved with its columns and order. */
export interface SavedFilter {
  id: string;
  name: string;
  text: string;
  /** Shown above the grid, on a number key. */
  pinned: boolean;
  /** Other staff of the course find it. */
  shared: boolean;
  view: SavedView | null;
  /** Who shares it; null where it is one's own. */
  from: string | null;
}
