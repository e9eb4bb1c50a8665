/** Whether hard wishes can hold together, and which of them contradict. Source: semantics.md section 3. */

import type { HardWish } from "../../plan/forming.ts";
import { type Blocks, blocksOf, type Instance } from "./instance.ts";

type Answer = { bins: Int32Array; blocks: Blocks } | "impossible" | "unknown";

/** How many steps are tried before it is said that nobody knows. */
const patience = 60_000;

/**
 * A bin for each block that something is wished of (-1 for the others, who fit wherever there is room), by exact
 * search: the block with the fewest bins left goes first. `order` says which of equal bins comes first.
 */
export function placeBlocks(
  { people, bins, low, high, above }: Pick<Instance, "people" | "bins" | "low" | "high" | "above">,
  wishes: HardWish[],
  order: (bins: number[], load: Int32Array) => number[] = (all) => all,
): Answer {
  const blocks = blocksOf(people, wishes);
  if (!blocks) return "impossible";
  const sized = wishes.some(({ kind }) => kind === "sizes");
  const [top, many] = sized ? [high, above] : [people.length, Number.POSITIVE_INFINITY];
  if (sized && (people.length > bins * top || people.length < bins * low)) return "impossible";
  const { members, apart, pinned } = blocks;
  const bin = new Int32Array(members.length).fill(-1);
  const load = new Int32Array(bins);
  const size = (block: number) => (members[block] as number[]).length;
  const constrained = members
    .map((_, block) => block)
    .filter((block) => size(block) > 1 || (apart[block] as number[]).length > 0 || pinned[block] !== -1);
  // Bins that somebody is held in are not like the others, even while they are empty.
  const marked = new Set([...pinned].filter((at) => at >= 0));
  let large = 0;
  const put = (block: number, at: number) => {
    const before = load[at] as number;
    load[at] = before + size(block);
    if (before <= low && (load[at] as number) > low) large++;
    bin[block] = at;
  };
  const take = (block: number) => {
    const at = bin[block] as number;
    const before = load[at] as number;
    load[at] = before - size(block);
    if (before > low && (load[at] as number) <= low) large--;
    bin[block] = -1;
  };
  const fits = (block: number, at: number) => {
    const after = (load[at] as number) + size(block);
    if (after > top) return false;
    if (after > low && (load[at] as number) <= low && large + 1 > many) return false;
    return (apart[block] as number[]).every((other) => bin[other] !== at);
  };
  const choices = (block: number): number[] => {
    if (pinned[block] !== -1) return fits(block, pinned[block] as number) ? [pinned[block] as number] : [];
    const found: number[] = [];
    let sawEmpty = false;
    for (let at = 0; at < bins; at++) {
      if (load[at] === 0 && !marked.has(at)) {
        if (sawEmpty) continue;
        sawEmpty = true;
      }
      if (fits(block, at)) found.push(at);
    }
    return found;
  };
  /** Whether those of whom nothing is wished are enough to bring every bin to its smallest size. */
  const roomLeft = () => {
    let [placed, lacking] = [0, 0];
    for (const one of load) {
      placed += one;
      lacking += Math.max(0, low - one);
    }
    return lacking <= people.length - placed;
  };
  let steps = 0;
  // Where each is small beside the whole, which of them goes next hardly matters and is costly to ask.
  const exact = constrained.length <= 80;
  const waiting = [...constrained].sort(
    (a, b) =>
      Number(pinned[b] !== -1) - Number(pinned[a] !== -1) ||
      size(b) - size(a) ||
      (apart[b] as number[]).length - (apart[a] as number[]).length,
  );
  const search = (from: number): boolean | null => {
    if (from === waiting.length) return !sized || roomLeft();
    if (++steps > patience) return null;
    if (exact) {
      let [best, fewest] = [from, Number.POSITIVE_INFINITY];
      for (let at = from; at < waiting.length && fewest > 1; at++) {
        const left = choices(waiting[at] as number).length;
        if (left < fewest) [best, fewest] = [at, left];
      }
      [waiting[from], waiting[best]] = [waiting[best] as number, waiting[from] as number];
    }
    const block = waiting[from] as number;
    for (const at of order(choices(block), load)) {
      put(block, at);
      const found = search(from + 1);
      if (found !== false) return found;
      take(block);
    }
    return false;
  };
  const found = search(0);
  if (found === null) return "unknown";
  return found ? { bins: bin, blocks } : "impossible";
}

/**
 * A smallest set of hard wishes that contradict, where it can be proved: first one from which nothing can be left
 * out, then any smaller one. Null where they can hold, or nobody knows.
 */
export function contradiction(instance: Instance, wishes: HardWish[]): HardWish[] | null {
  const fails = (some: HardWish[]) => placeBlocks(instance, some) === "impossible";
  if (!fails(wishes)) return null;
  const irreducible = explain([], wishes, false);
  const single = wishes.find((wish) => fails([wish]));
  if (single) return [single];
  if (irreducible.length > 2 && wishes.length <= 400)
    for (const [at, a] of wishes.entries()) for (const b of wishes.slice(at + 1)) if (fails([a, b])) return [a, b];
  if (irreducible.length > 3 && wishes.length <= 40)
    for (const [at, a] of wishes.entries())
      for (const [further, b] of wishes.slice(at + 1).entries())
        for (const c of wishes.slice(at + further + 2)) if (fails([a, b, c])) return [a, b, c];
  return irreducible;

  /** Halves what may be left out until nothing may be (Junker's QuickXplain). */
  function explain(given: HardWish[], some: HardWish[], added: boolean): HardWish[] {
    if (added && fails(given)) return [];
    if (some.length === 1) return some;
    const [first, second] = [some.slice(0, some.length >> 1), some.slice(some.length >> 1)];
    const ofSecond = explain([...given, ...first], second, true);
    const ofFirst = explain([...given, ...ofSecond], first, ofSecond.length > 0);
    return [...ofFirst, ...ofSecond];
  }
}
