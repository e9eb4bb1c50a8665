/** Which people are selected where: a person may stand in several columns of a board. */
import { useMemo, useRef, useState } from "react";
import type { Place } from "../../../../core/placement/moving.ts";

export const keyOf = ({ personId, groupId }: Place): string => `${groupId ?? ""}/${personId}`;

export interface Selection {
  places: ReadonlyMap<string, Place>;
  has(place: Place): boolean;
  /** Alone, beside what is selected already, or everyone from the last one chosen in the same column. */
  choose(column: readonly Place[], index: number, how: "alone" | "toggle" | "range"): void;
  clear(): void;
}

export function useSelection(): Selection {
  const [places, setPlaces] = useState<ReadonlyMap<string, Place>>(new Map());
  /** Where a range begins; known at once, since a key may choose twice. */
  const last = useRef<string>(null);
  return useMemo(
    () => ({
      places,
      has: (place) => places.has(keyOf(place)),
      choose(column, index, how) {
        const place = column[index] as Place;
        const from = how === "range" ? column.findIndex((one) => keyOf(one) === last.current) : -1;
        if (from < 0) last.current = keyOf(place);
        setPlaces((before) => {
          const next = new Map(how === "alone" ? [] : before);
          if (from >= 0) {
            for (const one of column.slice(Math.min(from, index), Math.max(from, index) + 1)) next.set(keyOf(one), one);
          } else if (how === "alone" || !next.delete(keyOf(place))) next.set(keyOf(place), place);
          return next;
        });
      },
      clear: () => setPlaces(new Map()),
    }),
    [places],
  );
}
