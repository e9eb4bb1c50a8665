/** What an assignment costs, from the beginning. Source: semantics.md section 3. */
import type { Instance } from "./instance.ts";

/** The weighted total of an assignment, from the beginning: what the steps above add up to. */
export function totalOf(instance: Instance, bin: Int32Array): number {
  return costsOf(instance, bin).reduce((sum, { cost }) => sum + cost, 0);
}

/** What each term costs, weighted. */
export function costsOf({ people, bins, numbers, categories, pairs }: Instance, bin: Int32Array) {
  const sizes = new Int32Array(bins);
  for (const at of bin) (sizes[at] as number)++;
  const costs: { wish: number; cost: number }[] = [];
  for (const { wish, factor, distance } of numbers) {
    const sums = new Float64Array(bins);
    for (let person = 0; person < people.length; person++)
      sums[bin[person] as number] = (sums[bin[person] as number] as number) + (distance[person] as number);
    costs.push({ wish, cost: factor * sums.reduce((sum, one) => sum + Math.abs(one), 0) });
  }
  for (const { wish, factor, of, share } of categories) {
    const counts = new Int32Array(bins * share.length);
    for (let person = 0; person < people.length; person++)
      (counts[(bin[person] as number) * share.length + (of[person] as number)] as number)++;
    let sum = 0;
    for (let at = 0; at < bins; at++)
      for (let kind = 0; kind < share.length; kind++)
        sum += Math.abs((counts[at * share.length + kind] as number) - (sizes[at] as number) * (share[kind] as number));
    costs.push({ wish, cost: factor * sum });
  }
  for (const { wish, factor, level, ordered, mates } of pairs) {
    let sum = 0;
    if (mates)
      for (let person = 0; person < people.length; person++)
        for (const mate of mates[person] as Int32Array) if (mate > person && bin[mate] === bin[person]) sum++;
    if (level) {
      const inBin: number[][] = Array.from({ length: bins }, () => []);
      for (let person = 0; person < people.length; person++) inBin[bin[person] as number]?.push(person);
      for (const own of inBin)
        for (const [at, a] of own.entries())
          for (const b of own.slice(at + 1)) {
            const apart = Math.abs((level[a] as number) - (level[b] as number));
            sum += ordered ? apart : Number(apart > 0);
          }
    }
    costs.push({ wish, cost: factor * sum });
  }
  return costs;
}
