/**
 * Forming one scope: a start that keeps every hard wish, then swaps and moves under a falling temperature, each
 * judged by what it changes. Only steps that keep the hard wishes are tried. Source: semantics.md section 3.
 */

import { totalOf } from "./cost.ts";
import { GroupsSoFar } from "./groups-so-far.ts";
import type { Blocks, Instance } from "./instance.ts";
import type { Chance } from "./random.ts";

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
export const stepsFor = (people: number): number => Math.min(850_000, 450_000 + people * 300);

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
  const current = new GroupsSoFar(instance, bin.slice());
  const { members, blockOf, apart, pinned } = blocks;
  let large = 0;
  for (let at = 0; at < bins; at++) if (current.size(at) > low) large++;
  let total = totalOf(instance, current.bin);
  let best = total;
  const blockAt = (block: number) => current.bin[(members[block] as number[])[0] as number] as number;
  const shiftBlock = (block: number, to: number) => {
    let change = 0;
    for (const person of members[block] as number[]) change += current.shift(person, to);
    return change;
  };
  /** Blocks of a bin that together are as many as `wanted`; null where chance finds none. */
  const pick = (at: number, wanted: number): number[] | null => {
    const found: number[] = [];
    let left = wanted;
    const own = current.members[at] as number[];
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

  const isSingle = (block: number) => (members[block] as number[]).length === 1 && pinned[block] === -1;
  const accepts = (change: number, temperature: number) =>
    change <= 1e-12 || random.next() < Math.exp(-change / temperature);
  /** The usual step: two people of whom neither is tied to anyone. */
  const swapStep = (one: number, to: number, temperature: number): number => {
    const others = current.members[to] as number[];
    const other = others[random.below(others.length)] as number;
    const [block, against] = [blockOf[one] as number, blockOf[other] as number];
    if (!isSingle(against)) return 0;
    if ((apart[block] as number[]).length > 0 && clashes(block, to, [against])) return 0;
    if ((apart[against] as number[]).length > 0 && clashes(against, current.bin[one] as number, [block])) return 0;
    const change = current.swapChange(one, other);
    if (!accepts(change, temperature)) return 0;
    current.swap(one, other);
    return change;
  };
  const even = high - low <= 1 && above !== Number.POSITIVE_INFINITY;

  /** One step: a block against others of the same size, or a block to where there is room. Gives what it changed. */
  const step = (temperature: number): number => {
    const one = random.below(people.length);
    const block = blockOf[one] as number;
    if (pinned[block] !== -1) return 0;
    const from = current.bin[one] as number;
    const to = (from + 1 + random.below(bins - 1)) % bins;
    // Where sizes hardly vary, moving someone without an exchange is seldom possible, and seldom tried.
    if (isSingle(block) && current.size(to) > 0 && (!even || above === 0 || random.next() < 0.8))
      if (even || random.next() < 0.6) return swapStep(one, to, temperature);
    const size = (members[block] as number[]).length;
    const [sizeFrom, sizeTo] = [current.size(from), current.size(to)];
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
    if (accepts(change, temperature)) {
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
  const rounds = people.length > 200 ? 1 : 4;
  const slice = 4096;
  const perRound = Math.ceil(steps / rounds);
  for (let round = 0; round < rounds; round++) {
    const hot = (sum / moved) * (people.length > 200 ? 0.03 : 0.5);
    for (let done = 0; done < perRound; done += slice) {
      const temperature = hot * (people.length > 200 ? 1e-3 : 1e-2) ** (done / perRound);
      for (let at = 0; at < slice; at++) {
        total += step(temperature);
        if (total < best - 1e-9 && (people.length <= 200 || at === slice - 1)) {
          best = total;
          bin.set(current.bin);
          if (best <= floor + 1e-9) return;
        }
      }
      yield (round * perRound + done) / (rounds * perRound);
    }
  }
}
