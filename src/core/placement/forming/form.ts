/**
 * Forming groups: one scope after another, each from a start that keeps the hard wishes. The same input and seed
 * give the same output. Source: semantics.md section 3.
 */

import type { Forming, HardWish } from "../../plan/forming.ts";
import { costsOf } from "./cost.ts";
import { contradiction, placeBlocks } from "./feasible.ts";
import { type FormingInput, type FormingScope, numberIn } from "./input.ts";
import type { Instance } from "./instance.ts";
import { chance } from "./random.ts";
import { improve, start, stepsFor } from "./search.ts";

/** One scope formed: its groups by place; the first are those that were there. */
export interface FormedScope {
  groupId: string | null;
  groups: { existing: string | null; people: string[] }[];
}
export interface Formed {
  seed: number;
  scopes: FormedScope[];
}
/** Nothing is formed. */
export interface Unformed {
  unformed: true;
  scope: string;
  /** A smallest set that contradicts, where that was proved; otherwise what could not be met in the time given. */
  proved: boolean;
  wishes: HardWish[];
}
/** Told between slices of work: how much is done, and the best groups so far, for whoever asks. */
export interface Forward {
  share: number;
  best(): Formed;
}

/** How many groups a scope gets: the number asked for, or the one that comes nearest to the size. */
export function binsFor({ into, limits }: Forming, scope: FormingScope): number {
  const people = scope.people.length;
  const nearest = into.by === "groups" ? into.number : Math.max(1, Math.round(people / into.number));
  const [least, most] = limits
    ? [Math.ceil(people / limits.max), limits.min > 0 ? Math.max(1, Math.floor(people / limits.min)) : people]
    : [1, Number.POSITIVE_INFINITY];
  const within = into.by === "groups" ? nearest : Math.max(Math.min(nearest, most), least);
  return Math.max(within, ...scope.held.map(({ bin }) => bin + 1));
}

/** Distances and categories of a wish, with the sum of all that could go wrong with it in any scope. */
export function instancesOf(input: FormingInput): Instance[] {
  const { forming, scopes, values, partners } = input;
  const instances = scopes.map((scope): Instance => {
    const { people } = scope;
    const bins = binsFor(forming, scope);
    const there = new Set(people);
    const concerns = (ids: string[]) => ids.filter((id) => there.has(id));
    const sets = (kind: "apart" | "together", lists: string[][]): HardWish[] =>
      lists.map(concerns).flatMap((own) => (own.length > 1 ? [{ kind, people: own }] : []));
    const low = forming.limits ? forming.limits.min : Math.floor(people.length / bins);
    return {
      people,
      bins,
      low,
      high: forming.limits ? forming.limits.max : Math.ceil(people.length / bins),
      above: forming.limits ? Number.POSITIVE_INFINITY : people.length - low * bins,
      wishes: [
        ...sets("apart", forming.apart),
        ...sets("together", forming.together),
        ...scope.held.map(({ person, bin }): HardWish => ({ kind: "held", person, bin })),
      ],
      numbers: [],
      categories: [],
      pairs: [],
    };
  });
  for (const [wish, soft] of forming.soft.entries()) {
    let worst = 0;
    const own = instances.map((instance) => {
      const { people } = instance;
      const index = new Map(people.map((id, at) => [id, at]));
      if (soft.kind === "new partners") {
        const mates: number[][] = people.map(() => []);
        for (const [one, other] of partners[wish] ?? []) {
          const [a, b] = [index.get(one), index.get(other)];
          if (a === undefined || b === undefined) continue;
          mates[a]?.push(b);
          mates[b]?.push(a);
          worst++;
        }
        return () =>
          instance.pairs.push({
            wish,
            factor: soft.weight / worst,
            level: null,
            ordered: false,
            mates: mates.map((list) => Int32Array.from(list)),
          });
      }
      const texts = people.map((id) => (values[soft.column]?.[id] ?? "").normalize("NFC").trim());
      const numbers = texts.map(numberIn);
      const filled = numbers.filter((value) => value !== null);
      const mean = filled.reduce((sum, value) => sum + value, 0) / Math.max(1, filled.length);
      if (soft.kind === "spread number") {
        // Who has no number is taken as being in the middle.
        const distance = Float64Array.from(numbers, (value) => (value === null ? 0 : value - mean));
        worst += distance.reduce((sum, one) => sum + Math.abs(one), 0);
        return () => instance.numbers.push({ wish, factor: soft.weight / worst, distance });
      }
      const names = [...new Set(texts)].sort();
      const of = Int32Array.from(texts, (text) => names.indexOf(text));
      if (soft.kind === "spread category") {
        const share = Float64Array.from(names, (_, kind) => of.filter((one) => one === kind).length / people.length);
        for (const kind of of) worst += 2 * (1 - (share[kind] as number));
        return () => instance.categories.push({ wish, factor: soft.weight / worst, of, share });
      }
      const ordered = filled.length >= people.length * 0.9;
      const level = ordered ? Float64Array.from(numbers, (value) => value ?? mean) : Float64Array.from(of);
      // What chance would give: all pairs, by how likely two people are to meet.
      worst += pairSum(level, ordered) / instance.bins || 0;
      return () => instance.pairs.push({ wish, factor: soft.weight / worst, level, ordered, mates: null });
    });
    if (worst > 0) for (const add of own) add();
  }
  return instances;
}

function pairSum(level: Float64Array, ordered: boolean): number {
  if (!ordered) {
    const counts = new Map<number, number>();
    for (const one of level) counts.set(one, (counts.get(one) ?? 0) + 1);
    const alike = [...counts.values()].reduce((sum, count) => sum + (count * (count - 1)) / 2, 0);
    return (level.length * (level.length - 1)) / 2 - alike;
  }
  return [...level].sort((a, b) => a - b).reduce((sum, value, at) => sum + value * (2 * at - level.length + 1), 0);
}

/** A wish that ties people of two scopes together: no scope alone can say so. */
function acrossScopes({ forming, scopes }: FormingInput): string[] | null {
  const scopeOf = new Map(scopes.flatMap(({ people }, at) => people.map((id) => [id, at] as const)));
  return (
    forming.together.find((people) => {
      const own = new Set(people.map((id) => scopeOf.get(id)).filter((at) => at !== undefined));
      return own.size > 1;
    }) ?? null
  );
}

/** Forms every scope, a slice of work at a time; whoever runs it may stop between slices and keep the best so far. */
export function* form(input: FormingInput, seed: number): Generator<Forward, Formed | Unformed> {
  const torn = acrossScopes(input);
  if (torn)
    return { unformed: true, scope: "", proved: true, wishes: [{ kind: "together", people: torn }, { kind: "scope" }] };
  const instances = instancesOf(input);
  const bins: Int32Array[] = [];
  const blocks: Parameters<typeof improve>[1][] = [];
  for (const [at, instance] of instances.entries()) {
    const random = chance(seed + at * 7919);
    const wishes: HardWish[] = [...instance.wishes, { kind: "sizes" }];
    // Of equal bins the emptiest first, and among those as chance has it.
    const placed = placeBlocks(instance, wishes, (all, load) =>
      random.shuffle(all).sort((a, b) => (load[a] as number) - (load[b] as number)),
    );
    if (typeof placed === "string") {
      const scope = input.scopes[at]?.name ?? "";
      const proof = placed === "impossible" ? contradiction(instance, wishes) : null;
      return { unformed: true, scope, proved: proof !== null, wishes: proof ?? wishes };
    }
    blocks.push(placed.blocks);
    bins.push(start(instance, placed.blocks, placed.bins, random));
  }
  const formed = (): Formed => ({
    seed,
    scopes: instances.map((instance, at) =>
      formedScope(input.scopes[at] as FormingScope, instance, bins[at] as Int32Array),
    ),
  });
  const steps = instances.map(({ people }) => stepsFor(people.length));
  const all = steps.reduce((sum, one) => sum + one, 0);
  // Many scopes share what one of that size would be given.
  const scale = Math.min(1, stepsFor(instances.reduce((sum, { people }) => sum + people.length, 0)) / all);
  let done = 0;
  yield { share: 0, best: formed };
  for (const [at, instance] of instances.entries()) {
    const random = chance(seed + at * 7919 + 1);
    const own = steps[at] as number;
    for (const share of improve(instance, blocks[at] as never, bins[at] as Int32Array, random, { steps: own * scale }))
      yield { share: (done + share * own) / all, best: formed };
    done += own;
    yield { share: done / all, best: formed };
  }
  return formed();
}

function formedScope(scope: FormingScope, instance: Instance, bin: Int32Array): FormedScope {
  const groups = Array.from({ length: instance.bins }, (_, at) => ({
    existing: scope.existing[at] ?? null,
    people: [] as string[],
  }));
  for (const [person, id] of instance.people.entries()) groups[bin[person] as number]?.people.push(id);
  return { groupId: scope.groupId, groups };
}

/** All of it at once. */
export function formNow(input: FormingInput, seed: number): Formed | Unformed {
  const work = form(input, seed);
  for (;;) {
    const { done, value } = work.next();
    if (done) return value as Formed | Unformed;
  }
}

/** The weighted cost of each soft wish for groups as they are, also after swaps by hand. */
export function scoreOf(input: FormingInput, formed: Formed): { total: number; wishes: number[] } {
  const wishes = input.forming.soft.map(() => 0);
  for (const [at, instance] of instancesOf(input).entries()) {
    const of = new Map(
      (formed.scopes[at]?.groups ?? []).flatMap(({ people }, bin) => people.map((id) => [id, bin] as const)),
    );
    const bin = Int32Array.from(instance.people, (id) => of.get(id) ?? 0);
    for (const { wish, cost } of costsOf(instance, bin)) wishes[wish] = (wishes[wish] ?? 0) + cost;
  }
  return { total: wishes.reduce((sum, one) => sum + one, 0), wishes };
}
