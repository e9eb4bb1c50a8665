import { useState } from "react";
import { useKept, usePlace, useWorkbench } from "../../workbench/context.tsx";
import type { ViewOf } from "../../workbench/views.ts";
import type { At } from "./grid.ts";
import { isFilledIn, type Written } from "./items/useItemForm.ts";
import type { Show } from "./useOutline.ts";
import { useReachPlace } from "./useReachPlace.ts";

export const nothing: ReadonlySet<string> = new Set();

/** What the station keeps while one works at it: what is shown, chosen, folded and being written. */
export function useReachState() {
  const { store, plan } = useWorkbench();
  const [view, setView] = usePlace<ViewOf<"reach">>("reach.view", "crossings");
  const place = useReachPlace();
  const [show, setShow] = useState<Show>("all");
  const [folded, setFolded] = useState(nothing);
  const [selected, setSelected] = useState(nothing);
  const [findingKey, setFindingKey] = useState<string | null>(null);
  const [dialog, setDialog] = useState<"look" | "cartridge" | null>(null);
  /** What is being written stays so while one is at another station. */
  const [written, setWritten] = useKept<Written | null>("reach.written", null);
  const { at, setAt } = place;
  const item = at ? plan.items[at.itemId] : undefined;
  const parentId = item?.kind === "folder" ? item.id : (item?.parentId ?? null);
  return {
    view,
    setView,
    ...place,
    item,
    show,
    setShow,
    folded,
    setFolded,
    selected,
    setSelected,
    findingKey,
    dialog,
    setDialog,
    written,
    setWritten,
    chooseFinding: setFindingKey,
    edit: (itemId: string) => setWritten({ itemId, parentId: null }),
    writeNew: () => setWritten({ itemId: null, parentId }),
    writeInto: () => setWritten({ itemId: null, parentId, isInIt: true }),
    /** Another crossing, unless something is being written that would be lost. */
    choose(next: At | null) {
      if (written && isFilledIn(store, written))
        return store.tell("wrong", "Draft what stands in the card, or leave it; then choose another.");
      setWritten(null);
      setAt(next);
    },
    showFinding(key: string) {
      setFindingKey(key);
      setView("audit");
    },
  };
}

export type ReachState = ReturnType<typeof useReachState>;
