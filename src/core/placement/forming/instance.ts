/**
 * One scope to be divided, as numbers: people, bins (the groups to be), what may never be broken, and what is
 * minimised. Scopes never mix, so that each is formed on its own. Source: semantics.md section 3.
 */
import type { HardWish } from "../../plan/forming.ts";

/** A number to be spread: the distance of each person from the scope's mean. */
export interface NumberTerm {
  wish: number;
  /** Weight of the wish over everything that could go wrong with it, in all scopes together. */
  factor: number;
  distance: Float64Array;
}
/** A category to be spread. */
export interface CategoryTerm {
  wish: number;
  factor: number;
  /** The category of each person. */
  of: Int32Array;
  /** Share of each category in the scope. */
  share: Float64Array;
}
/** Something that costs for every pair in one group. */
export interface PairTerm {
  wish: number;
  factor: number;
  /** For gathering: the level of each person; pairs cost their distance (or one, where levels have no order). */
  level: Float64Array | null;
  ordered: boolean;
  /** For partners: those of each person who cost one. */
  mates: Int32Array[] | null;
}

export interface Instance {
  people: readonly string[];
  bins: number;
  /** Sizes of each bin; at most `above` bins are larger than `low` (infinity where that is free). */
  low: number;
  high: number;
  above: number;
  /** Hard wishes that concern these people, without the sizes. */
  wishes: HardWish[];
  numbers: NumberTerm[];
  categories: CategoryTerm[];
  pairs: PairTerm[];
}

/** Hard wishes as blocks that move together, with what each must avoid and where it is held. */
export interface Blocks {
  members: number[][];
  blockOf: Int32Array;
  /** Blocks that must be in another bin. */
  apart: number[][];
  /** The bin that a block is held in; -1 where it is free. */
  pinned: Int32Array;
}

/** Wishes as blocks, or the wishes among them that contradict at sight. */
export function blocksOf(people: readonly string[], wishes: HardWish[]): Blocks | null {
  const index = new Map(people.map((id, at) => [id, at]));
  const root = Int32Array.from(people, (_, at) => at);
  const find = (at: number): number => {
    let found = at;
    while (root[found] !== found) found = root[found] as number;
    root[at] = found;
    return found;
  };
  const within = (ids: string[]) => ids.map((id) => index.get(id)).filter((at) => at !== undefined);
  for (const wish of wishes) {
    if (wish.kind !== "together") continue;
    const [first, ...rest] = within(wish.people);
    for (const at of rest) root[find(at)] = find(first as number);
  }
  const blockOf = new Int32Array(people.length).fill(-1);
  const members: number[][] = [];
  for (let at = 0; at < people.length; at++) {
    const top = find(at);
    if (blockOf[top] === -1) {
      blockOf[top] = members.length;
      members.push([]);
    }
    blockOf[at] = blockOf[top] as number;
    (members[blockOf[at] as number] as number[]).push(at);
  }
  const pinned = new Int32Array(members.length).fill(-1);
  const avoid = members.map(() => new Set<number>());
  for (const wish of wishes) {
    if (wish.kind === "held") {
      const at = index.get(wish.person);
      if (at === undefined) continue;
      const block = blockOf[at] as number;
      if (pinned[block] !== -1 && pinned[block] !== wish.bin) return null;
      pinned[block] = wish.bin;
    }
    if (wish.kind !== "apart") continue;
    const own = within(wish.people).map((at) => blockOf[at] as number);
    if (new Set(own).size < own.length) return null;
    for (const a of own) for (const b of own) if (a !== b) avoid[a]?.add(b);
  }
  return { members, blockOf, pinned, apart: avoid.map((set) => [...set].sort((a, b) => a - b)) };
}
