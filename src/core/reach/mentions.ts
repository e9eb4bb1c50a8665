/** Which items name what: read once an outline, so that a change of one group asks only the items that name it. */
import { once } from "../memo.ts";
import { conditionsOf, itemsAskedBy, partsOf, targetsOf } from "../plan/references.ts";
import type { Plan, Target } from "../plan/types.ts";
import { isAnchor } from "../timing/anchors.ts";

export const targetKey = ({ kind, id }: Target): string => `${kind}/${id}`;

export interface Mentions {
  /** Ids of items by what they name: `group/ID` and so on. */
  byTarget: Map<string, Set<string>>;
  /** Ids of items by the item that a condition of theirs asks about. */
  byItem: Map<string, Set<string>>;
  /** Ids of items of which a condition asks whether they were handed in. */
  askedHandIns: Set<string>;
  /** Ids of items with a condition or a date on a meeting anchor. */
  anchored: Set<string>;
}

const mentionsOf = once((items: Plan["items"]): Mentions => {
  const made: Mentions = { byTarget: new Map(), byItem: new Map(), askedHandIns: new Set(), anchored: new Set() };
  const add = (map: Map<string, Set<string>>, key: string, itemId: string) => {
    const set = map.get(key);
    if (set) set.add(itemId);
    else map.set(key, new Set([itemId]));
  };
  for (const item of Object.values(items)) {
    for (const target of targetsOf(item)) add(made.byTarget, targetKey(target), item.id);
    for (const asked of itemsAskedBy(item)) add(made.byItem, asked, item.id);
    const parts = conditionsOf(item).flatMap(partsOf);
    for (const part of parts) if (part.kind === "handedIn") made.askedHandIns.add(part.itemId);
    if (parts.some((part) => "moment" in part && isAnchor(part.moment)) || Object.values(item.dates).some(isAnchor))
      made.anchored.add(item.id);
  }
  return made;
});

/** Which items name what. */
export const mentionsIn = (plan: Plan): Mentions => mentionsOf(plan.items);
