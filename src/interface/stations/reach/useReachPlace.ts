/** Where one is on Reach: which columns stand there, and which crossing is chosen. The address says layer and item. */
import { useCallback, useMemo, useState } from "react";
import { lookup } from "../../../core/plan/lookup.ts";
import { useReach, useSelected, useWorkbench } from "../../workbench/context.tsx";
import { type Column, type ColumnView, columnsOf } from "./columns.ts";
import type { At } from "./grid.ts";

export interface ReachPlace {
  /** What stands in the columns; null where the course has no groups. */
  shown: ColumnView | null;
  columns: Column[];
  /** Another choice of columns; null: the layer that was looked at. */
  setColumnView(view: ColumnView | null): void;
  at: At | null;
  setAt(at: At | null): void;
}

export function useReachPlace(): ReachPlace {
  const { plan } = useWorkbench();
  const reach = useReach();
  const { layers } = lookup(plan);
  const [columnView, setColumns] = useState<ColumnView | null>(null);
  const [chosenLayer, chooseLayer] = useSelected("layer");
  const [itemId, selectItem] = useSelected("item");
  const [columnId, setColumnId] = useState<string | null>(null);
  const usualLayer = (layers.find(({ id }) => id === chosenLayer) ?? layers[0])?.id;
  const shown = useMemo<ColumnView | null>(
    () => columnView ?? (usualLayer === undefined ? null : { kind: "layer", layerId: usualLayer }),
    [columnView, usualLayer],
  );
  const columns = useMemo(() => (shown ? columnsOf(reach, shown) : []), [reach, shown]);
  const at = useMemo<At | null>(
    () => (itemId !== null && plan.items[itemId] ? { itemId, columnId } : null),
    [itemId, columnId, plan.items],
  );
  const setAt = useCallback(
    (next: At | null) => {
      selectItem(next?.itemId ?? null);
      setColumnId(next?.columnId ?? null);
    },
    [selectItem],
  );
  const setColumnView = (next: ColumnView | null) => {
    setColumns(next);
    if (next?.kind === "layer") chooseLayer(next.layerId);
  };
  return { shown, columns, setColumnView, at, setAt };
}
