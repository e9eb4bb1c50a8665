import { useCallback, useEffect, useState } from "react";
import { v7 } from "uuid";
import { useBench } from "../../bench/context.tsx";
import { type Failure, getJson, isFailure, postJson, sendJson } from "../../bench/fetch.ts";

export interface SavedFilter {
  id: string;
  name: string;
  text: string;
  pinned: boolean;
}

/** Saved filters: kept on the server, one list a person and course. */
export function useFilters() {
  const { store } = useBench();
  const [saved, setSaved] = useState<SavedFilter[]>([]);
  const address = `${store.address}/filters`;
  const take = useCallback(
    (answer: SavedFilter[] | Failure) => {
      if (isFailure(answer)) store.tell("wrong", answer.detail);
      else setSaved(answer);
    },
    [store],
  );
  useEffect(() => void getJson<SavedFilter[]>(address).then(take), [address, take]);
  return {
    saved,
    save: async (filter: Omit<SavedFilter, "id"> & { id?: string }) =>
      take(await postJson<SavedFilter[]>(address, { id: v7(), ...filter })),
    remove: async (id: string) => take(await sendJson<SavedFilter[]>("DELETE", address, { id })),
  };
}
export type Filters = ReturnType<typeof useFilters>;
