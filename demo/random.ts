/** Random numbers with a seed: the demo is the same every time. (mulberry32, a public-domain generator.) */
export interface Random {
  /** From 0 up to 1. */
  next(): number;
  /** A whole number from 0 up to below. */
  below(limit: number): number;
  pick<Value>(values: readonly Value[]): Value;
  shuffle<Value>(values: readonly Value[]): Value[];
  /** About normal, from the sum of uniforms. */
  around(mean: number, spread: number): number;
}

export function random(seed: number): Random {
  let state = seed >>> 0;
  const next = () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
  const below = (limit: number) => Math.floor(next() * limit);
  return {
    next,
    below,
    pick: (values) => values[below(values.length)] as never,
    shuffle(values) {
      const list = [...values];
      for (let at = list.length - 1; at > 0; at--) {
        const other = below(at + 1);
        [list[at], list[other]] = [list[other] as never, list[at] as never];
      }
      return list;
    },
    around: (mean, spread) => mean + spread * (next() + next() + next() + next() - 2) * 1.7,
  };
}
