/** What forming says in words: wishes, and where they are not quite met. Source: semantics.md section 3. */

import type { HardWish, SoftWish } from "../../plan/forming.ts";
import { sayDecimal } from "../../text/locale.ts";
import { sayNames } from "../../text/names.ts";
import type { Formed } from "./form.ts";
import { type FormingInput, numberIn } from "./input.ts";
import { instancesOf } from "./instances.ts";

type NameOf = (id: string) => string;

export function saySoft(wish: SoftWish, layerName: NameOf): string {
  switch (wish.kind) {
    case "spread number":
      return `Spread ${wish.column}: means alike`;
    case "spread category":
      return `Spread ${wish.column}: as many of each everywhere`;
    case "gather":
      return `Gather by ${wish.column}: levels`;
    case "new partners":
      return `New partners, not those of ${sayNames(wish.layerIds.map(layerName))}`;
  }
}

export function sayHard(wish: HardWish, name: NameOf, groupName: (bin: number) => string): string {
  switch (wish.kind) {
    case "apart":
      return `Keep ${sayNames(wish.people.map(name))} apart`;
    case "together":
      return `Keep ${sayNames(wish.people.map(name))} together`;
    case "held":
      return `${name(wish.person)} is held in ${groupName(wish.bin)}`;
    case "sizes":
      return "The sizes and number of groups";
    case "scope":
      return "No group mixes two groups of the layer that is kept apart";
  }
}

/** What a group is like, a line for each soft wish that has one. */
export function traits(input: FormingInput, people: readonly string[]): string[] {
  return input.forming.soft.flatMap((wish) => {
    if (wish.kind === "new partners") return [];
    const { numbers, counts, least, most, mean } = traitsOf(
      people.map((id) => input.values[wish.column]?.[id] || "blank"),
    );
    if (wish.kind === "spread number" || (wish.kind === "gather" && numbers.length >= people.length * 0.9))
      return numbers.length === 0
        ? []
        : [`${wish.column} ${sayDecimal(mean, 1)}${wish.kind === "gather" ? `, ${least} to ${most}` : ""}`];
    const said = [...counts].sort(([a], [b]) => (a < b ? -1 : 1)).map(([value, count]) => `${value} × ${count}`);
    return [`${wish.column} ${said.join(", ")}`];
  });
}

/**
 * Where each soft wish is not met, named: groups whose mean is more than a twentieth of the scope's range away,
 * groups that have one too many or too few of something, groups that mix levels, partners who meet again.
 */
export function broken(
  input: FormingInput,
  formed: Formed,
  name: NameOf,
  groupName: (scope: number, bin: number) => string,
): string[][] {
  return input.forming.soft.map((wish, number) =>
    input.scopes.flatMap(({ people }, scope) => {
      const groups = formed.scopes[scope]?.groups ?? [];
      if (wish.kind === "new partners")
        return meetings(input.partners[number] ?? [], groups, name, (bin) => groupName(scope, bin));
      const text = (id: string) => input.values[wish.column]?.[id] || "blank";
      const all = traitsOf(people.map(text));
      const ordered = all.numbers.length >= people.length * 0.9;
      return groups.flatMap((group, bin): string[] => {
        if (group.people.length === 0) return [];
        const title = groupName(scope, bin);
        const own = traitsOf(group.people.map(text));
        if (wish.kind === "spread number")
          return own.numbers.length > 0 && Math.abs(own.mean - all.mean) > (all.most - all.least) / 20
            ? [`${title}: ${sayDecimal(own.mean, 1)} where ${sayDecimal(all.mean, 1)} is the mean`]
            : [];
        if (wish.kind === "spread category")
          return [...all.counts]
            .sort(([a], [b]) => (a < b ? -1 : 1))
            .flatMap(([kind, count]) => {
              const fair = (group.people.length * count) / people.length;
              const there = own.counts.get(kind) ?? 0;
              return Math.abs(there - fair) >= 1
                ? [`${title}: ${there} of ${kind}, ${sayDecimal(fair, 1)} would be even`]
                : [];
            });
        if (ordered)
          return own.most - own.least > (all.most - all.least) / 2
            ? [`${title}: from ${own.least} to ${own.most}`]
            : [];
        return own.counts.size > 1 ? [`${title}: ${[...own.counts.keys()].sort().join(", ")}`] : [];
      });
    }),
  );
}

function meetings(
  pairs: [string, string][],
  groups: { people: string[] }[],
  name: NameOf,
  groupName: (bin: number) => string,
) {
  const of = new Map(groups.flatMap(({ people }, bin) => people.map((id) => [id, bin] as const)));
  return pairs.flatMap(([a, b]) => {
    const bin = of.get(a);
    return bin !== undefined && bin === of.get(b) ? [`${name(a)} and ${name(b)} meet again in ${groupName(bin)}`] : [];
  });
}

/** Numbers and counts of some values. */
function traitsOf(texts: string[]) {
  const numbers = texts.map(numberIn).filter((value) => value !== null);
  const counts = new Map<string, number>();
  for (const text of texts) counts.set(text, (counts.get(text) ?? 0) + 1);
  const [least, most] = [Math.min(...numbers), Math.max(...numbers)];
  return { numbers, counts, least, most, mean: numbers.reduce((sum, value) => sum + value, 0) / numbers.length };
}

/**
 * Groups after two people of one scope changed places by hand; null where a hard wish stands against it, or they
 * are of different scopes or of one group.
 */
export function exchanged(input: FormingInput, formed: Formed, one: string, other: string): Formed | null {
  const at = formed.scopes.findIndex(({ groups }) => groups.some(({ people }) => people.includes(one)));
  const scope = formed.scopes[at];
  const instance = instancesOf(input)[at];
  const [from, to] = [one, other].map((id) => scope?.groups.find(({ people }) => people.includes(id)));
  if (!scope || !instance || !from || !to || from === to) return null;
  const groups = scope.groups.map((group) =>
    group !== from && group !== to
      ? group
      : { ...group, people: group.people.map((id) => (id === one ? other : id === other ? one : id)) },
  );
  const of = new Map(groups.flatMap(({ people }, bin) => people.map((id) => [id, bin] as const)));
  const holds = instance.wishes.every((wish) => {
    if (wish.kind === "held") return of.get(wish.person) === wish.bin;
    if (wish.kind !== "apart" && wish.kind !== "together") return true;
    const bins = new Set(wish.people.map((id) => of.get(id)));
    return wish.kind === "together" ? bins.size === 1 : bins.size === wish.people.length;
  });
  if (!holds) return null;
  return { ...formed, scopes: formed.scopes.map((own, place) => (place === at ? { ...own, groups } : own)) };
}
