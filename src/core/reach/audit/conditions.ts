/** Findings about conditions: circles, items asked about in vain, windows that are empty, parts that never or always hold. Section 5. */

import { foldersAbove, outlineOrder } from "../../plan/lookup.ts";
import { itemsAskedBy } from "../../plan/references.ts";
import type { Condition, Item, Plan } from "../../plan/types.ts";
import { type Bits, countBits, isEmpty, overlap } from "../../sets/bits.ts";
import { sayNames } from "../../text/names.ts";
import { isPublished, type Reach } from "../reach.ts";
import { type Finding, finding, studentsSay } from "./finding.ts";
import { sayPart } from "./say.ts";
import type { Part, Sweep } from "./sweep.ts";
import { meantWithout } from "./who.ts";

/** Items that an item waits for: those its conditions ask about, and the folders that seal it. */
const waitsFor = (plan: Plan, item: Item): string[] => [
  ...itemsAskedBy(item).filter((id) => plan.items[id]),
  ...foldersAbove(plan, item)
    .filter(({ seals }) => seals)
    .map(({ id }) => id),
];

/** Sets of items that wait for each other, each once (Tarjan's strongly connected components). */
function circlesIn(plan: Plan): Item[][] {
  const edges = new Map(Object.values(plan.items).map((item) => [item.id, waitsFor(plan, item)]));
  const number = new Map<string, number>();
  const low = new Map<string, number>();
  const stack: string[] = [];
  const found: Item[][] = [];
  const visit = (id: string): void => {
    number.set(id, number.size);
    low.set(id, number.get(id) as number);
    stack.push(id);
    for (const to of edges.get(id) ?? []) {
      if (!number.has(to)) visit(to);
      if (stack.includes(to)) low.set(id, Math.min(low.get(id) as number, low.get(to) as number));
    }
    if (low.get(id) !== number.get(id)) return;
    const component = stack.splice(stack.indexOf(id));
    if (component.length > 1 || edges.get(id)?.includes(id))
      found.push(component.map((one) => plan.items[one] as Item));
  };
  for (const id of edges.keys()) if (!number.has(id)) visit(id);
  return found;
}

export function circles({ plan }: Reach): Finding[] {
  return circlesIn(plan).map((items) => {
    const inOrder = outlineOrder(plan)
      .map(({ item }) => item)
      .filter((item) => items.includes(item));
    // The one whose own condition closes the circle is where it can be cut.
    const item = (inOrder.find((one) => itemsAskedBy(one).length > 0) ?? items[0]) as Item;
    const titles = inOrder.map(({ title }) => title);
    return finding(plan, {
      key: `circle/${items
        .map(({ id }) => id)
        .sort()
        .join("/")
        .slice(0, 250)}`,
      kind: "circle",
      item,
      says: items.length === 1 ? `${item.title} waits for itself.` : `${sayNames(titles)} wait for each other.`,
      why: "A folder that seals counts as what its contents wait for. Nobody can be the first to do either.",
      about: inOrder.map((one) => [one.condition, one.variants]),
    });
  });
}

/** Conditions on an item that nobody of their own audience can ever reach. */
export function unreachable(reach: Reach, found: Sweep): Finding[] {
  const { plan } = reach;
  return outlineOrder(plan).flatMap(({ item }) =>
    !isPublished(plan, item)
      ? []
      : [...new Set(itemsAskedBy(item))].flatMap((askedId) => {
          const asked = found.parts
            .filter(
              ({ item: of, condition }) => of.id === item.id && "itemId" in condition && condition.itemId === askedId,
            )
            .map((part) => part.asked);
          const ever = found.ever.get(askedId);
          if (asked.every(isEmpty) || (ever && asked.some((bits) => overlap(bits, ever)))) return [];
          const title = plan.items[askedId]?.title ?? "a removed item";
          return finding(plan, {
            key: `unreachable/${item.id}/${askedId}`,
            kind: "unreachable",
            item,
            says: `${item.title} asks for ${title}, which nobody it is meant for can ever reach.`,
            why: `What it asks can be done by nobody of its own audience.`,
            about: [item.condition, item.variants],
          });
        }),
  );
}

/** Items that are open to somebody at no moment of the term by their own dates. */
export function noWindow(reach: Reach, found: Sweep): Finding[] {
  const { plan } = reach;
  return outlineOrder(plan).flatMap(({ item }) => {
    if (!isPublished(plan, item)) return [];
    const personIds = meantWithout(reach, found, item, found.everWithin.get(item.id) as Bits);
    if (personIds.length === 0) return [];
    return finding(plan, {
      key: `no window/${item.id}`,
      kind: "no window",
      item,
      says: `${item.title} is open at no moment of the term for ${studentsSay(personIds.length)}.`,
      why: "It closes before it opens, opens after the term, or closed before they came.",
      personIds,
    });
  });
}

/** Where a part stands in an item's conditions: the variant (or the item's own), and the way down. */
export function pathOf(item: Item, part: Condition): string | null {
  const walk = (condition: Condition, path: string): string | null => {
    if (condition === part) return path;
    if (!("of" in condition)) return null;
    for (const [at, one] of condition.of.entries()) {
      const found = walk(one, `${path}.${at}`);
      if (found) return found;
    }
    return null;
  };
  const roots = [
    ...item.variants.map(({ condition }, at) => [`v${at}`, condition] as const),
    ["own", item.condition] as const,
  ];
  for (const [name, condition] of roots) {
    const found = condition && walk(condition, name);
    if (found) return found;
  }
  return null;
}

const verdictWords = {
  never: { holds: "can never hold", whatever: "whatever they do" },
  always: { holds: "always holds", whatever: "from its first day" },
};
/** Each part of a condition that can hold for nobody it is asked of, or holds for everybody at any time. */
export function branches(reach: Reach, { parts }: Sweep): Finding[] {
  const { plan } = reach;
  return parts.flatMap((part: Part) => {
    const { item, condition, asked, mayEver, mayNotEver } = part;
    if (isEmpty(asked) || !isPublished(plan, item)) return [];
    const kind = !overlap(mayEver, asked) ? "never" : !overlap(mayNotEver, asked) ? "always" : null;
    const path = kind && pathOf(item, condition);
    if (!kind || path === null) return [];
    const { holds, whatever } = verdictWords[kind];
    const says = sayPart(plan, condition);
    return finding(plan, {
      key: `${kind}/${item.id}/${path}`,
      kind,
      item,
      says: `In ${item.title}, "${says}" ${holds}.`,
      why: `Asked of ${studentsSay(countBits(asked))}, over the whole term, ${whatever}.`,
      about: condition,
    });
  });
}
