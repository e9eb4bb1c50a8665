import { useCallback, useEffect, useState } from "react";
import { v7 } from "uuid";
import * as api from "../../../../api/gradebook.ts";
import type { SavedFilter } from "../../../../core/gradebook/view.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import { ask, type Failure, isFailure } from "../../../workbench/fetch.ts";

export type NewFilter = Omit<SavedFilter, "id" | "from"> & { id?: string };

/** Saved filters: kept on the server, one list a person and course, with those that others share. */
export function useFilters() {
  const { store } = useWorkbench();
  const [saved, setSaved] = useState<SavedFilter[]>([]);
  const take = useCallback(
    (answer: SavedFilter[] | Failure): boolean => {
      if (isFailure(answer)) store.tell("wrong", answer.detail);
      else setSaved(answer);
      return !isFailure(answer);
    },
    [store],
  );
  useEffect(() => void ask(store.address, api.readFilters).then(take), [store, take]);
  return {
    saved,
    save: async (filters: NewFilter[]) =>
      take(
        await ask(store.address, api.saveFilters, {
          body: {
            filters: filters.map(({ id, name, text, pinned, shared, view }) => ({
              id: id ?? v7(),
              name,
              text,
              pinned,
              shared,
              view,
            })),
          },
        }),
      ),
    remove: async (id: string) => take(await ask(store.address, api.removeFilter, { body: { id } })),
  };
}
export type Filters = ReturnType<typeof useFilters>;
