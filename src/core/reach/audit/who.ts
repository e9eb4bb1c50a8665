/** Findings about who can open what: leaks now and to come, stranded, for nobody, split without a thread. Section 4. */
import { onceOfTwo } from "../../memo.ts";
import { foldersAbove, lookup, outlineOrder } from "../../plan/lookup.ts";
import { itemsAskedBy } from "../../plan/references.ts";
import type { Item } from "../../plan/types.ts";
import { andNot, type Bits, countBits, hasBit, isEmpty, listBits, or } from "../../sets/bits.ts";
import { sayAudience } from "../explain.ts";
import { isPublished, type Reach } from "../reach.ts";
import { type Finding, finding, studentsSay } from "./finding.ts";
import type { Sweep } from "./sweep.ts";

const people = (students: readonly string[], bits: Bits) => listBits(bits).map((index) => students[index] as string);

/** The folder above an item that leaves some of these out, and why that does not hold them back. */
function leakWhy({ plan, meant }: Reach, item: Item): string {
  const narrow = foldersAbove(plan, item).find(
    (folder) => folder.audience.to !== "everyone" || folder.audience.minus.length > 0,
  );
  if (!narrow || meant(item).length === 0) return "It is not meant for them.";
  return `Its folder ${narrow.title} is for ${sayAudience(plan, narrow.audience)}, but does not seal its contents: another entrance leads past it.`;
}

/** Leaks at the moment of the reach, each with the moment since which somebody could; and those that are to come. */
export function leaks(reach: Reach, { spans, students }: Sweep): Finding[] {
  const { plan, t } = reach;
  return outlineOrder(plan).flatMap(({ item }) => {
    const now = people(reach.students, reach.leak(item));
    const of = spans.get(item.id) ?? [];
    if (now.length > 0) {
      const since = of.findLast(({ from, until }) => from <= t && (until === null || t < until))?.from ?? null;
      return finding(plan, {
        key: `leak/${item.id}`,
        kind: "leak",
        item,
        says: `${studentsSay(now.length)} can open ${item.title} and ${now.length === 1 ? "is" : "are"} not meant to.`,
        why: leakWhy(reach, item),
        personIds: now,
        from: since,
      });
    }
    const later = of.find(({ from }) => from > t);
    if (!later) return [];
    const personIds = people(students, later.bits);
    return finding(plan, {
      key: `leak/${item.id}`,
      kind: "leak",
      item,
      says: `${studentsSay(personIds.length)} will be able to open ${item.title} and ${personIds.length === 1 ? "is" : "are"} not meant to.`,
      why: leakWhy(reach, item),
      personIds,
      from: later.from,
    });
  });
}

/** The place in the sweep of each student of a reach. */
const placesIn = onceOfTwo((found: Sweep, students: readonly string[]) =>
  Int32Array.from(students, (personId) => found.indexOf.get(personId) ?? -1),
);

/** Those whom an item is meant for at the moment of the reach and who are not in a set of the sweep. */
export function meantWithout(reach: Reach, found: Sweep, item: Item, bits: Bits): string[] {
  const place = placesIn(found, reach.students);
  const ids: string[] = [];
  for (const index of listBits(reach.meant(item))) {
    const there = place[index] as number;
    if (there < 0 || !hasBit(bits, there)) ids.push(reach.students[index] as string);
  }
  return ids;
}

/** Whoever an item is meant for at the moment of the reach, and who can never reach it in the term. */
export function stranded(reach: Reach, found: Sweep): Finding[] {
  const { plan } = reach;
  return outlineOrder(plan).flatMap(({ item }) => {
    if (!isPublished(plan, item)) return [];
    const personIds = meantWithout(reach, found, item, found.ever.get(item.id) as Bits);
    if (personIds.length === 0) return [];
    return finding(plan, {
      key: `stranded/${item.id}`,
      kind: "stranded",
      item,
      says: `${studentsSay(personIds.length)} can never reach ${item.title}, which is meant for them.`,
      why: strandedWhy(reach, found, item, personIds[0] as string),
      personIds,
    });
  });
}

/** What keeps one of the stranded out, in the order in which the rules ask. */
function strandedWhy(reach: Reach, found: Sweep, item: Item, personId: string): string {
  const { plan } = reach;
  const index = found.indexOf.get(personId);
  const lacks = (bits: Bits | undefined) => index === undefined || bits === undefined || !hasBit(bits, index);
  const chain = [item, ...foldersAbove(plan, item).filter((folder) => folder.seals)];
  for (const one of chain) {
    const root = found.parts.find(({ item: of, condition }) => of.id === one.id && condition === one.condition);
    if (root && lacks(root.mayEver)) {
      const asked = itemsAskedBy(one).find((id) => plan.items[id] && lacks(found.ever.get(id)));
      const never = `The release condition of ${one.title} can never hold for them`;
      return asked ? `${never}: it asks for ${plan.items[asked]?.title}, which they can never reach.` : `${never}.`;
    }
    if (lacks(found.everWithin.get(one.id)))
      return `${one.title} is open only while they are not in the course, or never.`;
  }
  const shut = chain.slice(1).find((folder) => lacks(found.ever.get(folder.id)));
  if (shut) return `Its folder ${shut.title} never opens to them.`;
  return "No entrance leads them to it while it is open, or its conditions never hold at one time.";
}

/** Published items whose audience is nobody. */
export function forNobody(reach: Reach): Finding[] {
  const { plan } = reach;
  if (reach.students.length === 0) return [];
  return outlineOrder(plan)
    .filter(({ item }) => isPublished(plan, item) && isEmpty(reach.audience(item)))
    .map(({ item }) =>
      finding(plan, {
        key: `nobody/${item.id}`,
        kind: "nobody",
        item,
        says: `${item.title} is for nobody.`,
        why:
          item.audience.to !== "everyone" && item.audience.to.length === 0
            ? "Its audience is empty."
            : `It is for ${sayAudience(plan, item.audience)}, and nobody is in that.`,
      }),
    );
}

/** Students meant for a split item who are in none of its layer's groups: they see no thread. */
export function outside(reach: Reach): Finding[] {
  const { plan } = reach;
  const { groupsOfLayer } = lookup(plan);
  return outlineOrder(plan).flatMap(({ item }) => {
    if (!item.split || !isPublished(plan, item)) return [];
    const groups = groupsOfLayer.get(item.split.layerId) ?? [];
    const placed = groups.reduce((bits, { id }) => or(bits, reach.members({ kind: "group", id })), reach.sets.nobody);
    const bits = andNot(reach.meant(item), placed);
    if (isEmpty(bits)) return [];
    const layer = plan.layers[item.split.layerId]?.name ?? "its layer";
    return finding(plan, {
      key: `outside/${item.id}`,
      kind: "outside",
      item,
      says: `${studentsSay(countBits(bits))} will find no thread in ${item.title}.`,
      why: `It is split along ${layer}, and they are in none of its groups.`,
      personIds: people(reach.students, bits),
      about: item.split,
    });
  });
}
