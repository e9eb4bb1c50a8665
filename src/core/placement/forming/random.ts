/** Repeatable chance: the same seed gives the same numbers everywhere (mulberry32). */
export interface Chance {
  /** From 0 up to, not including, 1. */
  next(): number;
  /** A whole number from 0 up to, not including, `below`. */
  below(below: number): number;
  shuffle<Value>(values: readonly Value[]): Value[];
}

export function chance(seed: number): Chance {
  let state = seed >>> 0;
  const next = () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
  const below = (limit: number) => Math.floor(next() * limit);
  return {
    next,
    below,
    shuffle(values) {
      const made = [...values];
      for (let at = made.length - 1; at > 0; at--) {
        const other = below(at + 1);
        [made[at], made[other]] = [made[other] as never, made[at] as never];
      }
      return made;
    },
  };
}
