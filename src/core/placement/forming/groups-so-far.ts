/** Groups while they are improved: what a step changes, without looking at everyone. Source: semantics.md section 3. */
import type { Instance } from "./instance.ts";

/** Groups as they stand, with the sums from which a step is judged without looking at everyone. */
export class GroupsSoFar {
  readonly members: number[][];
  private readonly placeInBin: Int32Array;
  private readonly sums: Float64Array[];
  private readonly counts: Int32Array[];
  constructor(
    private readonly instance: Instance,
    readonly bin: Int32Array,
  ) {
    const { people, bins, numbers, categories } = instance;
    this.members = Array.from({ length: bins }, () => []);
    this.placeInBin = new Int32Array(people.length);
    this.sums = numbers.map(() => new Float64Array(bins));
    this.counts = categories.map(({ share }) => new Int32Array(bins * share.length));
    for (let person = 0; person < people.length; person++) {
      const at = bin[person] as number;
      this.enter(person, at);
      for (const [term, { distance }] of numbers.entries())
        (this.sums[term] as Float64Array)[at] =
          ((this.sums[term] as Float64Array)[at] as number) + (distance[person] as number);
      for (const [term, { of, share }] of categories.entries())
        ((this.counts[term] as Int32Array)[at * share.length + (of[person] as number)] as number)++;
    }
  }
  size = (at: number): number => (this.members[at] as number[]).length;

  /** Moves a person, and gives what that changes in the total. */
  shift(person: number, to: number): number {
    const from = this.bin[person] as number;
    if (from === to) return 0;
    const { numbers, categories, pairs } = this.instance;
    const [sizeFrom, sizeTo] = [this.size(from), this.size(to)];
    let change = 0;
    for (let term = 0; term < numbers.length; term++) {
      const { distance, factor } = numbers[term] as (typeof numbers)[number];
      const sums = this.sums[term] as Float64Array;
      const [a, b, own] = [sums[from] as number, sums[to] as number, distance[person] as number];
      change += factor * (Math.abs(a - own) - Math.abs(a) + Math.abs(b + own) - Math.abs(b));
      sums[from] = a - own;
      sums[to] = b + own;
    }
    for (let term = 0; term < categories.length; term++) {
      const { of, share, factor } = categories[term] as (typeof categories)[number];
      const counts = this.counts[term] as Int32Array;
      const [own, kinds] = [of[person] as number, share.length];
      let sum = 0;
      for (let kind = 0; kind < kinds; kind++) {
        const part = share[kind] as number;
        const [a, b] = [counts[from * kinds + kind] as number, counts[to * kinds + kind] as number];
        const one = kind === own ? 1 : 0;
        sum +=
          Math.abs(a - one - (sizeFrom - 1) * part) -
          Math.abs(a - sizeFrom * part) +
          Math.abs(b + one - (sizeTo + 1) * part) -
          Math.abs(b - sizeTo * part);
      }
      (counts[from * kinds + own] as number)--;
      (counts[to * kinds + own] as number)++;
      change += factor * sum;
    }
    this.leave(person, from);
    for (let term = 0; term < pairs.length; term++) {
      const pair = pairs[term] as (typeof pairs)[number];
      change += pair.factor * (this.pairCost(pair, person, to) - this.pairCost(pair, person, from));
    }
    this.enter(person, to);
    return change;
  }

  /** What it would change if two people of different bins changed places. Nothing is moved. */
  swapChange(one: number, other: number): number {
    const [from, to] = [this.bin[one] as number, this.bin[other] as number];
    const { numbers, categories, pairs } = this.instance;
    let change = 0;
    for (let term = 0; term < numbers.length; term++) {
      const { distance, factor } = numbers[term] as (typeof numbers)[number];
      const sums = this.sums[term] as Float64Array;
      const [a, b] = [sums[from] as number, sums[to] as number];
      const step = (distance[other] as number) - (distance[one] as number);
      change += factor * (Math.abs(a + step) - Math.abs(a) + Math.abs(b - step) - Math.abs(b));
    }
    for (let term = 0; term < categories.length; term++) {
      const { of, share, factor } = categories[term] as (typeof categories)[number];
      const [leaves, comes] = [of[one] as number, of[other] as number];
      if (leaves === comes) continue;
      const counts = this.counts[term] as Int32Array;
      const [sizeFrom, sizeTo, kinds] = [this.size(from), this.size(to), share.length];
      const [shareLeaves, shareComes] = [share[leaves] as number, share[comes] as number];
      const over = (at: number, size: number, kind: number, part: number) =>
        (counts[at * kinds + kind] as number) - size * part;
      const [a, b] = [over(from, sizeFrom, leaves, shareLeaves), over(from, sizeFrom, comes, shareComes)];
      const [c, d] = [over(to, sizeTo, leaves, shareLeaves), over(to, sizeTo, comes, shareComes)];
      const after = Math.abs(a - 1) + Math.abs(b + 1) + Math.abs(c + 1) + Math.abs(d - 1);
      change += factor * (after - Math.abs(a) - Math.abs(b) - Math.abs(c) - Math.abs(d));
    }
    for (let term = 0; term < pairs.length; term++) {
      const pair = pairs[term] as (typeof pairs)[number];
      const before = this.pairCost(pair, one, from) + this.pairCost(pair, other, to);
      const after = this.pairCost(pair, one, to) + this.pairCost(pair, other, from);
      // Each is counted as if the other were still there: what the two cost each other comes off twice.
      change += pair.factor * (after - before - 2 * this.costOfTwo(pair, one, other));
    }
    return change;
  }

  private costOfTwo({ level, ordered, mates }: Instance["pairs"][number], one: number, other: number): number {
    if (mates) return Number((mates[one] as Int32Array).includes(other));
    const apart = Math.abs(((level as Float64Array)[one] as number) - ((level as Float64Array)[other] as number));
    return ordered ? apart : Number(apart > 0);
  }

  /** Two people of different bins change places. */
  swap(one: number, other: number): void {
    const [from, to] = [this.bin[one] as number, this.bin[other] as number];
    const { numbers, categories } = this.instance;
    for (let term = 0; term < numbers.length; term++) {
      const { distance } = numbers[term] as (typeof numbers)[number];
      const sums = this.sums[term] as Float64Array;
      const step = (distance[other] as number) - (distance[one] as number);
      sums[from] = (sums[from] as number) + step;
      sums[to] = (sums[to] as number) - step;
    }
    for (let term = 0; term < categories.length; term++) {
      const { of, share } = categories[term] as (typeof categories)[number];
      const counts = this.counts[term] as Int32Array;
      const [leaves, comes] = [of[one] as number, of[other] as number];
      (counts[from * share.length + leaves] as number)--;
      (counts[from * share.length + comes] as number)++;
      (counts[to * share.length + comes] as number)--;
      (counts[to * share.length + leaves] as number)++;
    }
    const [placeOne, placeOther] = [this.placeInBin[one] as number, this.placeInBin[other] as number];
    (this.members[from] as number[])[placeOne] = other;
    (this.members[to] as number[])[placeOther] = one;
    this.placeInBin[one] = placeOther;
    this.placeInBin[other] = placeOne;
    this.bin[one] = to;
    this.bin[other] = from;
  }

  private pairCost({ level, ordered, mates }: Instance["pairs"][number], person: number, at: number): number {
    let cost = 0;
    if (mates) {
      for (const mate of mates[person] as Int32Array) if (this.bin[mate] === at && mate !== person) cost++;
      return cost;
    }
    const levels = level as Float64Array;
    const own = levels[person] as number;
    for (const other of this.members[at] as number[]) {
      const apart = Math.abs((levels[other] as number) - own);
      cost += ordered ? apart : Number(apart > 0);
    }
    return cost;
  }
  private enter(person: number, at: number): void {
    const members = this.members[at] as number[];
    this.placeInBin[person] = members.length;
    members.push(person);
    this.bin[person] = at;
  }
  private leave(person: number, at: number): void {
    const members = this.members[at] as number[];
    const last = members.pop() as number;
    const place = this.placeInBin[person] as number;
    if (last !== person) {
      members[place] = last;
      this.placeInBin[last] = place;
    }
    this.bin[person] = -1;
  }
}
