/** How wide the columns of the grid are, and in which order they stand. */
import { movedBefore } from "../../../../core/gradebook/view.ts";
import type { Editing } from "./editing.ts";

export function shapingOf({ sheet, view, setView }: Editing) {
  return {
    /** Null: as wide as is usual. */
    resize(itemId: string, width: number | null) {
      const { [itemId]: _, ...others } = view.widths;
      const wanted = width === null ? null : Math.min(600, Math.max(50, Math.round(width)));
      setView({ ...view, widths: wanted === null ? others : { ...others, [itemId]: wanted } });
    },
    move: (itemId: string, before: string | null) =>
      setView({ ...view, order: movedBefore(sheet.columns, view.order, itemId, before) }),
  };
}
export type Shaping = ReturnType<typeof shapingOf>;
