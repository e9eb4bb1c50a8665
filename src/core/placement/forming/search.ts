/**
 * Forming one scope: a start that keeps every hard wish, then swaps and moves under a falling temperature, each
 * judged by what it changes. Only steps that keep the hard wishes are tried. Source: semantics.md section 3.
 */
import type { Blocks, Instance } from "./instance.ts";
import type { Chance } from "./random.ts";

/** Groups as they stand, with the sums from which a step is judged without looking at everyone. */
export class Standing {
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

/** Everyone in a bin: those of whom something is wished as they were placed, the others where there is room. */
export function start(
  { people, bins, low, high, above }: Instance,
  blocks: Blocks,
  placed: Int32Array,
  random: Chance,
) {
  const bin = new Int32Array(people.length).fill(-1);
  const load = new Int32Array(bins);
  const free: number[] = [];
  for (const [block, members] of blocks.members.entries()) {
    const at = placed[block] as number;
    if (at === -1) free.push(...members);
    else for (const person of members) bin[person] = at;
    if (at !== -1) (load[at] as number) += members.length;
  }
  const waiting = random.shuffle(free);
  for (let at = 0; at < bins; at++)
    while ((load[at] as number) < low && waiting.length > 0) {
      bin[waiting.pop() as number] = at;
      (load[at] as number)++;
    }
  let large = load.filter((one) => one > low).length;
  for (let at = 0; waiting.length > 0; at = (at + 1) % bins) {
    const before = load[at] as number;
    if (before >= high || (before === low && large >= above)) continue;
    if (before === low) large++;
    bin[waiting.pop() as number] = at;
    load[at] = before + 1;
  }
  return bin;
}

/** How many steps a scope of some people is given: enough that more seldom changes the answer. */
export const stepsFor = (people: number): number => Math.min(2_400_000, 20_000 + people * 600);

/**
 * Better and better groups; `bin` holds the best so far whenever it yields, with how much of the steps is done.
 * Ends early where nothing is left to gain.
 */
export function* improve(
  instance: Instance,
  blocks: Blocks,
  bin: Int32Array,
  random: Chance,
  { floor = 0, steps = stepsFor(instance.people.length) } = {},
): Generator<number, void> {
  const { people, bins, low, high, above } = instance;
  const terms = instance.numbers.length + instance.categories.length + instance.pairs.length;
  if (bins < 2 || people.length < 2 || terms === 0) return;
  const standing = new Standing(instance, bin.slice());
  const { members, blockOf, apart, pinned } = blocks;
  let large = 0;
  for (let at = 0; at < bins; at++) if (standing.size(at) > low) large++;
  let total = totalOf(instance, standing.bin);
  let best = total;
  const blockAt = (block: number) => standing.bin[(members[block] as number[])[0] as number] as number;
  const shiftBlock = (block: number, to: number) => {
    let change = 0;
    for (const person of members[block] as number[]) change += standing.shift(person, to);
    return change;
  };
  /** Blocks of a bin that together are as many as `wanted`; null where chance finds none. */
  const pick = (at: number, wanted: number): number[] | null => {
    const found: number[] = [];
    let left = wanted;
    const own = standing.members[at] as number[];
    for (let tries = 0; left > 0 && tries < 4 + 2 * wanted; tries++) {
      const block = blockOf[own[random.below(own.length)] as number] as number;
      const size = (members[block] as number[]).length;
      if (size > left || pinned[block] !== -1 || found.includes(block)) continue;
      found.push(block);
      left -= size;
    }
    return left === 0 ? found : null;
  };
  const clashes = (block: number, at: number, leaving: number[]) =>
    (apart[block] as number[]).some((other) => blockAt(other) === at && !leaving.includes(other));

  /** One step: a block against others of the same size, or a block to where there is room. Gives what it changed. */
  const step = (temperature: number): number => {
    const block = blockOf[random.below(people.length)] as number;
    if (pinned[block] !== -1) return 0;
    const from = blockAt(block);
    const to = (from + 1 + random.below(bins - 1)) % bins;
    const size = (members[block] as number[]).length;
    const [sizeFrom, sizeTo] = [standing.size(from), standing.size(to)];
    const largeAfter =
      large +
      Number(sizeFrom - size > low) -
      Number(sizeFrom > low) +
      Number(sizeTo + size > low) -
      Number(sizeTo > low);
    const canMove = sizeFrom - size >= low && sizeTo + size <= high && largeAfter <= above;
    const moves = canMove && (sizeTo === 0 || random.next() < 0.4);
    const others = moves ? [] : pick(to, size);
    if (!others || clashes(block, to, others) || others.some((other) => clashes(other, from, [block]))) return 0;
    let change = shiftBlock(block, to);
    for (const other of others) change += shiftBlock(other, from);
    if (change <= 1e-12 || random.next() < Math.exp(-change / temperature)) {
      if (moves) large = largeAfter;
      return change;
    }
    for (const other of others) shiftBlock(other, to);
    shiftBlock(block, from);
    return 0;
  };

  // The first steps take anything; how much they change says how hot to begin.
  let moved = 0;
  let sum = 0;
  for (let at = 0; at < 200; at++) {
    const change = step(Number.POSITIVE_INFINITY);
    total += change;
    if (change !== 0) moved++;
    sum += Math.abs(change);
  }
  if (moved === 0) return;
  const rounds = people.length > 200 ? 1 : 6;
  const slice = 4096;
  const perRound = Math.ceil(steps / rounds);
  for (let round = 0; round < rounds; round++) {
    const hot = (sum / moved) * (round === 0 ? 0.5 : 0.25);
    for (let done = 0; done < perRound; done += slice) {
      const temperature = hot * 1e-3 ** (done / perRound);
      for (let at = 0; at < slice; at++) {
        total += step(temperature);
        if (total < best - 1e-9 && (people.length <= 200 || at === slice - 1)) {
          best = total;
          bin.set(standing.bin);
          if (best <= floor + 1e-9) return;
        }
      }
      yield (round * perRound + done) / (rounds * perRound);
    }
  }
}

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
