/** What the grid of crossings and its rows are told. */
import type { Bits } from "../../../core/sets/bits.ts";
import type { Column, ColumnView } from "./columns.ts";
import type { OutlineRow } from "./useOutline.ts";

export interface At {
  itemId: string;
  columnId: string | null;
}
export interface GridProps {
  rows: OutlineRow[];
  columns: Column[];
  at: At | null;
  setAt(at: At): void;
  selected: ReadonlySet<string>;
  select(itemIds: string[], isSelected: boolean): void;
  folded: ReadonlySet<string>;
  fold(itemId: string, isFolded: boolean): void;
  stranded: Map<string, Bits>;
  /** What is found about an item, in a word. */
  flags: Map<string, string>;
  /** Whether rows stand in the order of the outline, so that they can be moved in it. */
  inOrder: boolean;
  edit(itemId: string): void;
  open(view: ColumnView): void;
}
