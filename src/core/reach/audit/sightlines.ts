/**
 * Who sees whom between the groups of a layer, counted by signature: students who meet on the same surfaces and are in
 * the same groups are asked about once. Cost: signatures × surfaces × students / 32; at most linear in students as long
 * as signatures are bounded, as they are where surfaces follow groups. Source: semantics.md section 4, who sees whom.
 */

import { lookup } from "../../plan/lookup.ts";
import type { Group, Plan } from "../../plan/types.ts";
import {
  andNot,
  type Bits,
  countBits,
  countShared,
  countWord,
  emptyBits,
  hasBit,
  isSubset,
  or,
  setBit,
} from "../../sets/bits.ts";
import { sayNumber } from "../../text/locale.ts";
import type { Reach } from "../reach.ts";
import { type Finding, finding } from "./finding.ts";
import { type Surface, surfacesOf } from "./surfaces.ts";

export interface SeenSurface {
  surface: Surface;
  /** Pairs from different groups that meet there, and those that meet nowhere else. */
  pairs: number;
  alone: number;
}
export interface Sightlines {
  layerId: string;
  groups: Group[];
  /** Pairs of students from different groups, and those of them that see each other. */
  possible: number;
  pairs: number;
  /** By two places in `groups`: pairs that see each other, and all. Symmetric; the diagonal is empty. */
  matrix: Cell[][];
  surfaces: SeenSurface[];
}

/** The layer whose groups are to be kept apart unless another is chosen: the first that follows sections. */
export function usualLayer(plan: Plan): string | null {
  const layers = lookup(plan).layers.filter((layer) => !layer.private);
  return (
    (layers.find(({ following }) => following !== null) ?? layers.find(({ rule }) => rule === "exactly one"))?.id ??
    null
  );
}

/** Students who are in the same groups of the layer: whom they are apart from is the same. */
interface Kind {
  groups: number[];
  bits: Bits;
  size: number;
  /** Placed, and in no group of theirs. */
  others: Bits;
  othersSize: number;
  /** Of those, how many are in each group. */
  othersIn: number[];
}

function kindsOf(count: number, groupBits: Bits[]): { kinds: Kind[]; kindOf: Int32Array } {
  const nobody = emptyBits(count);
  const placed = groupBits.reduce(or, nobody);
  const kindOf = new Int32Array(count).fill(-1);
  const places = new Map<string, number>();
  const kinds: Kind[] = [];
  for (let index = 0; index < count; index++) {
    if (!hasBit(placed, index)) continue;
    const groups: number[] = [];
    for (let at = 0; at < groupBits.length; at++) if (hasBit(groupBits[at] as Bits, index)) groups.push(at);
    const key = groups.join();
    let place = places.get(key);
    if (place === undefined) {
      const others = groups.reduce((bits, at) => andNot(bits, groupBits[at] as Bits), placed);
      place =
        kinds.push({
          groups,
          bits: emptyBits(count),
          size: 0,
          others,
          othersSize: countBits(others),
          othersIn: groupBits.map((bits) => countShared(others, bits)),
        }) - 1;
      places.set(key, place);
    }
    kindOf[index] = place;
    const kind = kinds[place] as Kind;
    kind.size++;
    setBit(kind.bits, index);
  }
  return { kinds, kindOf };
}

/** Pairs of two kinds that have no group in common, weighed by how many of each there are. */
function pairsBetween(kinds: Kind[], sizes: number[]): number {
  let pairs = 0;
  for (let a = 0; a < kinds.length; a++)
    for (let b = a + 1; b < kinds.length; b++) {
      const apart = !(kinds[a] as Kind).groups.some((at) => (kinds[b] as Kind).groups.includes(at));
      if (apart) pairs += (sizes[a] as number) * (sizes[b] as number);
    }
  return pairs;
}

interface Signature {
  kind: Kind;
  size: number;
  /** The sets they meet in, one a surface, with the surface's place beside each. */
  sets: Bits[];
  surfaces: number[];
}

function signaturesOf(kinds: Kind[], kindOf: Int32Array, surfaces: Surface[]): Signature[] {
  const found = new Map<string, Signature>();
  for (let index = 0; index < kindOf.length; index++) {
    const kind = kinds[kindOf[index] as number];
    if (!kind) continue;
    const meets: [number, Bits[]][] = [];
    let key = String(kindOf[index]);
    for (let place = 0; place < surfaces.length; place++) {
      const { meetings } = surfaces[place] as Surface;
      let theirs: Bits[] | null = null;
      for (let meeting = 0; meeting < meetings.length; meeting++) {
        const bits = meetings[meeting] as Bits;
        if (!hasBit(bits, index)) continue;
        key += ` ${place}.${meeting}`;
        if (theirs) theirs.push(bits);
        else theirs = [bits];
      }
      if (theirs) meets.push([place, theirs]);
    }
    const known = found.get(key);
    if (known) known.size++;
    else
      found.set(key, {
        kind,
        size: 1,
        sets: meets.map(([, sets]) => (sets.length === 1 ? (sets[0] as Bits) : sets.reduce(or))),
        surfaces: meets.map(([place]) => place),
      });
  }
  return [...found.values()];
}

/** Whether the sets of a surface have nobody in common, so that its pairs can be counted from their sizes. */
const areDisjoint = (sets: Bits[]): boolean =>
  countBits(sets.reduce(or)) === sets.reduce((sum, bits) => sum + countBits(bits), 0);

/** A surface while its pairs are counted. */
interface Counted {
  surface: Surface;
  pairs: number;
  alone: number;
  /** Its sets have nobody in common: its pairs follow from their sizes. */
  isClosed: boolean;
  /** Everybody who is placed meets there. */
  isWhole: boolean;
}

function countedOf(surface: Surface, kinds: Kind[], placed: Bits): Counted {
  const { meetings } = surface;
  const isClosed = areDisjoint(meetings);
  const within = (bits: Bits) =>
    pairsBetween(
      kinds,
      kinds.map((kind) => countShared(kind.bits, bits)),
    );
  const pairs = isClosed ? meetings.reduce((sum, bits) => sum + within(bits), 0) : 0;
  return { surface, pairs, alone: 0, isClosed, isWhole: meetings.some((bits) => isSubset(placed, bits)) };
}

/**
 * Whom the students of a signature meet: fills `any` and gives how many, and adds to the surfaces what follows. Each
 * pair is met from both ends, so that half is added.
 */
function meet({ kind, size, sets, surfaces: places }: Signature, counted: Counted[], any: Bits): number {
  const theirs = places.map((place) => counted[place] as Counted);
  const open = theirs.flatMap(({ isClosed }, at) => (isClosed ? [] : [at]));
  // Where everyone meets on two surfaces, nobody is met on one alone, and all are met.
  if (open.length === 0 && theirs.filter(({ isWhole }) => isWhole).length > 1) return kind.othersSize;
  let seen = 0;
  for (let word = 0; word < any.length; word++) {
    const others = (kind.others[word] as number) | 0;
    let met = 0;
    let twice = 0;
    for (let at = 0; at < sets.length && twice !== others; at++) {
      const bits = ((sets[at] as Bits)[word] as number) & others;
      twice |= met & bits;
      met |= bits;
    }
    any[word] = met;
    if (met === 0) continue;
    seen += countWord(met);
    // Whoever is met once is met on one surface only: the search ends when all of them were found.
    let once = met & ~twice;
    for (let at = 0; at < sets.length && once !== 0; at++) {
      const bits = ((sets[at] as Bits)[word] as number) & once;
      if (bits === 0) continue;
      (theirs[at] as Counted).alone += (size * countWord(bits)) / 2;
      once &= ~bits;
    }
    for (const at of open) {
      const bits = ((sets[at] as Bits)[word] as number) & others;
      (theirs[at] as Counted).pairs += (size * countWord(bits)) / 2;
    }
  }
  return seen;
}

/** Sightlines between the groups of a layer at the moment of the reach. */
export function sightlines(reach: Reach, layerId: string): Sightlines {
  const groups = lookup(reach.plan).groupsOfLayer.get(layerId) ?? [];
  const count = reach.students.length;
  const groupBits = groups.map(({ id }) => reach.members({ kind: "group", id }));
  const { kinds, kindOf } = kindsOf(count, groupBits);
  const placed = groupBits.reduce(or, emptyBits(count));
  const surfaces = surfacesOf(reach);
  const counted = surfaces.map((surface) => countedOf(surface, kinds, placed));
  const matrix = groups.map(() => groups.map(() => ({ pairs: 0, possible: 0 })));
  const add = ({ groups: theirs }: Kind, what: keyof Cell, pairsWith: (to: number) => number) => {
    for (let to = 0; to < groups.length; to++) {
      const pairs = pairsWith(to);
      for (const at of theirs) ((matrix[at] as Cell[])[to] as Cell)[what] += pairs;
    }
  };
  for (const kind of kinds) add(kind, "possible", (to) => kind.size * (kind.othersIn[to] as number));
  const any = emptyBits(count);
  let pairs = 0;
  for (const signature of signaturesOf(kinds, kindOf, surfaces)) {
    const { kind, size } = signature;
    const seen = meet(signature, counted, any);
    pairs += (size * seen) / 2;
    const all = seen === kind.othersSize;
    add(kind, "pairs", (to) => size * (all ? (kind.othersIn[to] as number) : countShared(any, groupBits[to] as Bits)));
  }
  const possible = pairsBetween(
    kinds,
    kinds.map(({ size }) => size),
  );
  const seenOn = counted
    .filter((one) => one.pairs > 0)
    .sort((a, b) => b.pairs - a.pairs || b.alone - a.alone)
    .map(({ surface, pairs: met, alone }) => ({ surface, pairs: met, alone }));
  return { layerId, groups, possible, pairs, matrix, surfaces: seenOn };
}

type Cell = { pairs: number; possible: number };

/** A finding for each surface on which students of different groups meet. */
export function sightlineFindings(reach: Reach, lines: Sightlines): Finding[] {
  const { plan } = reach;
  const layer = plan.layers[lines.layerId]?.name ?? "";
  return lines.surfaces.map(({ surface, pairs, alone }) => {
    const item = surface.itemId ? plan.items[surface.itemId] : undefined;
    return finding(plan, {
      key: `sightline/${lines.layerId}/${surface.key}`,
      kind: "sightline",
      ...(item ? { item } : {}),
      subject: surface.says,
      says: `${sayNumber(pairs)} ${pairs === 1 ? "pair" : "pairs"} from different groups of ${layer} see each other on ${surface.says}.`,
      why:
        alone > 0
          ? `${sayNumber(alone)} of them see each other nowhere else.`
          : "All of them see each other elsewhere too.",
      // Who meets is what was accepted, not how many: late arrivals in the same groups change nothing in it.
      about: item ? [item.audience, item.split, item.parentId] : [plan.course.classList, surface.key],
    });
  });
}
