/** Moving what is selected on the board: by drag, by key, by choice; what it would make of a group is said before. */
import { type DragEvent, useMemo, useState } from "react";
import type { LayerCount } from "../../../../core/placement/membership.ts";
import { effectOfMove, type Place } from "../../../../core/placement/moving.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import type { NewCommand } from "../../../workbench/store.ts";
import type { Column } from "./useBoard.ts";
import type { Selection } from "./useSelection.ts";

export interface Moving {
  /** Whoever is selected, and where. */
  places: readonly Place[];
  /** The groups they stand in. */
  sources: readonly string[];
  /** Whether somebody may be in several groups of the layer: they can be copied. */
  copyable: boolean;
  /** Puts the selection into a group, or out of theirs with null. */
  put(groupId: string | null, copies?: boolean): void;
  /** What the selection would make of a column that the pointer or the keys are on; null for every other. */
  effectOn(column: Column): { before: number; after: number; breaks: string[] } | null;
  begin(column: Column, event: DragEvent, index: number): void;
  hover(column: Column, event: DragEvent): void;
  drop(column: Column, event: DragEvent): void;
  /** The keys or the pointer come to a column, or leave it. */
  here(column: Column | null): void;
}

export function useMoving({ layer }: LayerCount, selection: Selection): Moving {
  const { store, plan, t } = useWorkbench();
  const [over, setOver] = useState<{ groupId: string | null; copies: boolean } | null>(null);
  const places = useMemo(() => [...selection.places.values()], [selection.places]);
  const copyable = layer.rule === "any number";
  const effect = useMemo(
    () => over && effectOfMove(plan, layer, over.groupId, places, t, over.copies),
    [over, plan, layer, places, t],
  );
  const put = (groupId: string | null, copies = false) => {
    // Put down where they are, nothing happens.
    if (places.length === 0 || places.every((place) => place.groupId === groupId)) return;
    const commands = moveCommands(places, groupId, groupId === null || (copyable && !copies));
    if (commands.length > 0 && store.draft(commands)) selection.clear();
  };
  return {
    places,
    sources: sourcesOf(places),
    copyable,
    put,
    effectOn({ group }) {
      const groupId = group?.id ?? null;
      return over?.groupId === groupId && places.some((place) => place.groupId !== groupId) ? effect : null;
    },
    begin(column, event, index) {
      const isMore = selection.has(column.places[index] as Place) && places.length > 1;
      if (!isMore) selection.choose(column.places, index, "alone");
      event.dataTransfer.effectAllowed = copyable ? "copyMove" : "move";
      event.dataTransfer.setData("text/plain", isMore ? `${places.length} people` : "1 person");
    },
    hover({ group }, event) {
      if (places.length === 0) return;
      event.preventDefault();
      const copies = copyable && (event.ctrlKey || event.altKey);
      event.dataTransfer.dropEffect = copies ? "copy" : "move";
      const groupId = group?.id ?? null;
      if (over?.groupId !== groupId || over.copies !== copies) setOver({ groupId, copies });
    },
    drop({ group }, event) {
      event.preventDefault();
      setOver(null);
      put(group?.id ?? null, over?.copies ?? false);
    },
    here: (column) => setOver(column && { groupId: column.group?.id ?? null, copies: false }),
  };
}

const sourcesOf = (places: readonly Place[]) => [...new Set(places.flatMap(({ groupId }) => groupId ?? []))];

/** Where the layer allows several groups, a move leaves the one that somebody was dragged from. */
function moveCommands(places: readonly Place[], groupId: string | null, leaves: boolean): NewCommand[] {
  const personIds = [...new Set(places.map(({ personId }) => personId))];
  const left = leaves ? sourcesOf(places).filter((source) => source !== groupId) : [];
  const from = (source: string) => places.filter((place) => place.groupId === source).map((place) => place.personId);
  return [
    ...left.map((source) => ({ kind: "placement.remove" as const, groupId: source, personIds: from(source) })),
    ...(groupId ? [{ kind: "placement.place" as const, groupId, personIds }] : []),
  ];
}
