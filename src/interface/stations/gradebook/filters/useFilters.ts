import { useCallback, useEffect, useState } from "react";
import { v7 } from "uuid";
import type { SavedFilter } from "../../../../core/gradebook/view.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import { type Failure, getJson, isFailure, postJson, sendJson } from "../../../workbench/fetch.ts";

export type NewFilter = Omit<SavedFilter, "id" | "from"> & { id?: string };

/** Saved filters: kept on the server, one list a person and course, with those that others share. */
export function useFilters() {
  const { store } = useWorkbench();
  const [saved, setSaved] = useState<SavedFilter[]>([]);
  const address = `${store.address}/filters`;
  const take = useCallback(
    (answer: SavedFilter[] | Failure): boolean => {
      if (isFailure(answer)) store.tell("wrong", answer.detail);
      else setSaved(answer);
      return !isFailure(answer);
    },
    [store],
  );
  useEffect(() => void getJson<SavedFilter[]>(address).then(take), [address, take]);
  return {
    saved,
    save: async (filters: NewFilter[]) =>
      take(
        await postJson<SavedFilter[]>(address, {
          filters: filters.map(({ id, name, text, pinned, shared, view }) => ({
            id: id ?? v7(),
            name,
            text,
            pinned,
            shared,
            view,
          })),
        }),
      ),
    remove: async (id: string) => take(await sendJson<SavedFilter[]>("DELETE", address, { id })),
  };
}
export type Filters = ReturnType<typeof useFilters>;
