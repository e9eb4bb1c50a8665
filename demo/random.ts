/** Random numbers with a seed: the demo is the same every time. */
import { type Chance, chance } from "../src/core/placement/forming/random.ts";

export interface Random extends Chance {
  pick<Value>(values: readonly Value[]): Value;
  /** About normal, from the sum of uniforms. */
  around(mean: number, spread: number): number;
}

export function random(seed: number): Random {
  const from = chance(seed);
  const { next, below } = from;
  return {
    ...from,
    pick: (values) => values[below(values.length)] as never,
    around: (mean, spread) => mean + spread * (next() + next() + next() + next() - 2) * 1.7,
  };
}
