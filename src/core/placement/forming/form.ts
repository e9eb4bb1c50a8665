/**
 * Forming groups: one scope after another, each from a start that keeps the hard wishes. The same input and seed
 * give the same output. Source: semantics.md section 3.
 */

import type { HardWish } from "../../plan/forming.ts";
import { costsOf } from "./cost.ts";
import { contradiction, placeBlocks } from "./feasible.ts";
import type { FormingInput, FormingScope } from "./input.ts";
import type { Instance } from "./instance.ts";
import { instancesOf } from "./instances.ts";
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
