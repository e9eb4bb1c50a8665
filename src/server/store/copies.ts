/** Copies of what is made out of the database, as many as there is room for: the longest unused go first. */
import { LRUCache } from "lru-cache";

/** `most`: the sizes of all that is kept, at most. What is larger than that by itself is kept alone. */
export const copiesUpTo = <Value extends object>(most: number, sizeOf: (value: Value) => number) =>
  new LRUCache<string, Value>({
    maxSize: most,
    sizeCalculation: (value) => Math.min(most, Math.max(1, sizeOf(value))),
  });
