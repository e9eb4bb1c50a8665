/** What the audit asks about rather than accuses: copies that leave a group out, items for everyone that look narrow. Section 4. */

import { lookup, outlineOrder } from "../../plan/lookup.ts";
import type { Group, Item, Plan, Target } from "../../plan/types.ts";
import { type Bits, countBits, hasBit, isEmpty, isSubset, or, sameBits } from "../../sets/bits.ts";
import { sayNames } from "../../text/names.ts";
import { targetKey } from "../mentions.ts";
import { isPublished, type Reach } from "../reach.ts";
import { type Finding, finding } from "./finding.ts";
import { phraseFinder } from "./labels.ts";

interface Named {
  name: string;
  target: Target;
}
/** What groups and sections are called, by which a title may name one. */
function namesOf(plan: Plan): Named[] {
  const { layers, groupsOfLayer } = lookup(plan);
  const groups = layers
    .filter((layer) => !layer.private)
    .flatMap((layer) => groupsOfLayer.get(layer.id) ?? [])
    .flatMap(({ id, name, label }) =>
      [...new Set([name, label])].map((one) => ({ name: one, target: { kind: "group" as const, id } })),
    );
  const sections = Object.values(plan.sections).flatMap(({ id, code, title, studentTitle }) =>
    [...new Set([code, title, studentTitle])].map((one) => ({ name: one, target: { kind: "section" as const, id } })),
  );
  return [...groups, ...sections].filter(({ name }) => name.trim().length >= 2);
}

/** Finds the groups and sections that a title names. */
export const namedIn = (plan: Plan): ((title: string) => Named[]) => phraseFinder(namesOf(plan), ({ name }) => name);

/** A title without the names of groups and sections in it: what parallel copies share. */
function stemOf(title: string, held: Named[]): string {
  let stem = title.normalize("NFC").toLowerCase();
  for (const { name } of [...held].sort((a, b) => b.name.length - a.name.length))
    stem = stem.replace(name.normalize("NFC").toLowerCase(), " ");
  return stem.replace(/[^\p{L}\p{N}]+/gu, " ").trim();
}

/** Items that are copies of each other for some: of one kind, alike in title but for the names of groups in it. */
export function copiesIn(reach: Reach): Item[][] {
  const { plan } = reach;
  const namesIn = namedIn(plan);
  const copies = new Map<string, Item[]>();
  for (const { item } of outlineOrder(plan)) {
    if (!isPublished(plan, item) || item.kind === "folder") continue;
    const meant = reach.meant(item);
    if (isEmpty(meant) || sameBits(meant, reach.everyone)) continue;
    const stem = stemOf(item.title, namesIn(item.title));
    if (stem !== "") copies.set(`${item.kind} ${stem}`, [...(copies.get(`${item.kind} ${stem}`) ?? []), item]);
  }
  return [...copies.values()].filter((items) => items.length >= 2);
}

/** Groups of a layer that have no copy of what the others have. */
export function leftOut(reach: Reach): Finding[] {
  return copiesIn(reach).flatMap((items) => {
    const layer = layerOfCopies(reach, items);
    if (!layer || layer.left.length === 0) return [];
    const [first] = items as [Item];
    const left = layer.left.map(({ name }) => name);
    return finding(reach.plan, {
      key: `left out/${first.id}/${layer.id}`,
      kind: "left out",
      item: first,
      says: `${sayNames(left)} ${left.length === 1 ? "has" : "have"} no copy of ${first.title}; ${items.length} others do.`,
      why: `${items.map(({ title }) => title).join(", ")} are for the other groups of ${layer.name}.`,
      personIds: layer.left.flatMap((group) => peopleIn(reach, group)),
      about: [layer.left.map(({ id }) => id), items.map(({ id }) => id)],
    });
  });
}

const membersOfGroup = (reach: Reach, { id }: Group): Bits => reach.members({ kind: "group", id });
const peopleIn = (reach: Reach, group: Group): string[] => {
  const bits = membersOfGroup(reach, group);
  return reach.students.filter((_, index) => hasBit(bits, index));
};

/** The layer of which each copy is for whole groups, no group for two copies; and its groups without a copy. */
export function layerOfCopies(
  reach: Reach,
  items: Item[],
): { id: string; name: string; left: Group[]; groupsOf: Map<string, Group[]> } | null {
  const { layers, groupsOfLayer } = lookup(reach.plan);
  const sets = items.map((item) => ({ item, bits: reach.meant(item) }));
  for (const layer of layers) {
    const groups = (groupsOfLayer.get(layer.id) ?? []).filter((group) => !isEmpty(membersOfGroup(reach, group)));
    const groupsOf = new Map<string, Group[]>();
    const fits = sets.every(({ item, bits }) => {
      const whole = groups.filter((group) => isSubset(membersOfGroup(reach, group), bits));
      groupsOf.set(item.id, whole);
      const together = whole.reduce((sum, group) => or(sum, membersOfGroup(reach, group)), reach.sets.nobody);
      return whole.length > 0 && isSubset(bits, together);
    });
    const covered = [...groupsOf.values()].flat();
    if (!fits || covered.length < 2 || new Set(covered).size < covered.length) continue;
    return { id: layer.id, name: layer.name, left: groups.filter((group) => !covered.includes(group)), groupsOf };
  }
  return null;
}

/** Items for everyone whose title names one group or section, or whose neighbours are all for some. */
export function wide(reach: Reach): Finding[] {
  const { plan } = reach;
  const namesIn = namedIn(plan);
  const { children } = lookup(plan);
  return outlineOrder(plan).flatMap(({ item }) => {
    if (!isPublished(plan, item) || item.audience.to !== "everyone" || item.audience.minus.length > 0) return [];
    const meant = reach.meant(item);
    const named = new Map(namesIn(item.title).map(({ name, target }) => [targetKey(target), name]));
    // A section and the group that follows it are one name for the same people.
    const distinct = new Set([...named.values()].map((name) => name.toLowerCase()));
    const about = [item.title, countBits(meant) === reach.students.length];
    if (distinct.size === 1 && sameBits(meant, reach.everyone)) {
      const [name] = named.values();
      return finding(plan, {
        key: `one group/${item.id}`,
        kind: "one group",
        item,
        says: `${item.title} is for everyone. Is it meant for ${name} only?`,
        why: `Its title names ${name}.`,
        about,
      });
    }
    const neighbours = (children.get(item.parentId) ?? []).filter(
      (one) => one.id !== item.id && isPublished(plan, one),
    );
    const narrow = neighbours.filter((one) => {
      const theirs = reach.meant(one);
      return one.audience.to !== "everyone" && !isEmpty(theirs) && !isSubset(meant, theirs);
    });
    if (neighbours.length < 2 || narrow.length < neighbours.length) return [];
    return finding(plan, {
      key: `neighbours/${item.id}`,
      kind: "neighbours",
      item,
      says: `${item.title} is for everyone, and everything beside it is for some. Is it meant to be?`,
      why: `Beside it: ${neighbours
        .slice(0, 4)
        .map(({ title }) => title)
        .join(", ")}.`,
      about: [...about, neighbours.map(({ id, audience }) => [id, audience])],
    });
  });
}
