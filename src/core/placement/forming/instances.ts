/** What is asked for as numbers, a scope at a time. Source: semantics.md section 3. */
import type { Forming, HardWish } from "../../plan/forming.ts";
import { type FormingInput, type FormingScope, numberIn } from "./input.ts";
import type { Instance } from "./instance.ts";

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

/** A scope with its hard wishes; what its soft wishes cost comes to it afterwards. */
function withHardWishes(forming: Forming, scope: FormingScope): Instance {
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
}

/** All that could go wrong with a soft wish in one scope, and how its cost is put there once its factor is known. */
interface Term {
  worst: number;
  add(factor: number): void;
}

/** Each pair of people who were partners costs one. */
function partnersTerm(instance: Instance, wish: number, partners: readonly (readonly [string, string])[]): Term {
  const index = new Map(instance.people.map((id, at) => [id, at]));
  const mates: number[][] = instance.people.map(() => []);
  let worst = 0;
  for (const [one, other] of partners) {
    const [a, b] = [index.get(one), index.get(other)];
    if (a === undefined || b === undefined) continue;
    mates[a]?.push(b);
    mates[b]?.push(a);
    worst++;
  }
  const lists = mates.map((list) => Int32Array.from(list));
  return {
    worst,
    add: (factor) => void instance.pairs.push({ wish, factor, level: null, ordered: false, mates: lists }),
  };
}

/** The people of a scope are spread or gathered by a column, of which these are their values. */
function columnTerm(instance: Instance, wish: number, kind: "number" | "category" | "gather", texts: string[]): Term {
  const { people, bins } = instance;
  const numbers = texts.map(numberIn);
  const filled = numbers.filter((value) => value !== null);
  const mean = filled.reduce((sum, value) => sum + value, 0) / Math.max(1, filled.length);
  if (kind === "number") {
    // Who has no number is taken as being in the middle.
    const distance = Float64Array.from(numbers, (value) => (value === null ? 0 : value - mean));
    const worst = distance.reduce((sum, one) => sum + Math.abs(one), 0);
    return { worst, add: (factor) => void instance.numbers.push({ wish, factor, distance }) };
  }
  const names = [...new Set(texts)].sort();
  const of = Int32Array.from(texts, (text) => names.indexOf(text));
  if (kind === "category") {
    const share = Float64Array.from(names, (_, name) => of.filter((one) => one === name).length / people.length);
    const worst = of.reduce((sum, name) => sum + 2 * (1 - (share[name] as number)), 0);
    return { worst, add: (factor) => void instance.categories.push({ wish, factor, of, share }) };
  }
  const ordered = filled.length >= people.length * 0.9;
  const level = ordered ? Float64Array.from(numbers, (value) => value ?? mean) : Float64Array.from(of);
  return {
    // What chance would give: all pairs, by how likely two people are to meet.
    worst: pairSum(level, ordered) / bins || 0,
    add: (factor) => void instance.pairs.push({ wish, factor, level, ordered, mates: null }),
  };
}

/** The distances of all pairs together; how many pairs differ, where levels have no order. */
function pairSum(level: Float64Array, ordered: boolean): number {
  if (!ordered) {
    const counts = new Map<number, number>();
    for (const one of level) counts.set(one, (counts.get(one) ?? 0) + 1);
    const alike = [...counts.values()].reduce((sum, count) => sum + (count * (count - 1)) / 2, 0);
    return (level.length * (level.length - 1)) / 2 - alike;
  }
  return [...level].sort((a, b) => a - b).reduce((sum, value, at) => sum + value * (2 * at - level.length + 1), 0);
}

const kinds = { "spread number": "number", "spread category": "category", gather: "gather" } as const;

/** Each scope with its wishes; a soft one weighs as much as it does over all that could go wrong with it in any scope. */
export function instancesOf({ forming, scopes, values, partners }: FormingInput): Instance[] {
  const instances = scopes.map((scope) => withHardWishes(forming, scope));
  for (const [wish, soft] of forming.soft.entries()) {
    const terms = instances.map((instance) => {
      if (soft.kind === "new partners") return partnersTerm(instance, wish, partners[wish] ?? []);
      const texts = instance.people.map((id) => (values[soft.column]?.[id] ?? "").normalize("NFC").trim());
      return columnTerm(instance, wish, kinds[soft.kind], texts);
    });
    const worst = terms.reduce((sum, term) => sum + term.worst, 0);
    if (worst > 0) for (const { add } of terms) add(soft.weight / worst);
  }
  return instances;
}
