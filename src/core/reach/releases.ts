/** When an item opens to each of some groups, as far as the clock decides. Source: semantics.md sections 4 and 5. */
import { noProgress } from "../plan/progress.ts";
import { conditionsOf, partsOf } from "../plan/references.ts";
import type { Item, Plan } from "../plan/types.ts";
import { and, type Bits, countBits, emptyBits, isEmpty, isSubset, or } from "../sets/bits.ts";
import { instantsOfItem, termOf } from "../timing/instants.ts";
import { noAnswers, type Reach, reachOf } from "./reach.ts";

export interface Release {
  /** When the first of the group gets it, and when the last does; null where nobody ever does. */
  first: number | null;
  last: number | null;
  members: number;
  /** Whom of them it is meant for: by its own audience and those of the folders that it lies in. */
  meant: number;
  /** How many of them get it at all. */
  reached: number;
}

/** Whether something that people do must happen as well. */
export const asksProgress = (item: Item): boolean =>
  conditionsOf(item)
    .flatMap(partsOf)
    .some((part) => "itemId" in part);

/**
 * For each set of students, as they are placed at the moment of the reach: when its own rules (audience, condition and
 * opens) let in whom it is meant for, whatever is asked of people taken as done.
 */
export function releasesOf(reach: Reach, item: Item, sets: Bits[]): Release[] {
  const plan: Plan = { ...reach.plan, items: { ...reach.plan.items, [item.id]: { ...item, published: true } } };
  const { from, until } = termOf(plan);
  const calendars = reach.calendars().map(({ calendar }) => calendar);
  const moments = [from, ...instantsOfItem(plan, item, calendars).filter((at) => at > from && at < until)].sort(
    (a, b) => a - b,
  );
  const all = { may: reach.everyone, mayNot: reach.everyone };
  const found: Release[] = sets.map((bits) => ({
    first: null,
    last: null,
    members: countBits(bits),
    meant: 0,
    reached: 0,
  }));
  let ever = emptyBits(reach.students.length);
  for (const at of moments) {
    const then = reachOf(plan, noProgress, at, reach.membershipSets, noAnswers(), {
      mayHold: () => all,
      momentOf: () => reach.t,
    });
    const shown = plan.items[item.id] as Item;
    const meant = then.meant(shown);
    const now = and(then.released(shown), meant);
    sets.forEach((bits, place) => {
      const comes = and(bits, now);
      const one = found[place] as Release;
      one.meant = Math.max(one.meant, countBits(and(bits, meant)));
      if (!isEmpty(comes) && one.first === null) one.first = at;
      if (!isSubset(comes, ever)) one.last = at;
      one.reached = Math.max(one.reached, countBits(and(bits, or(ever, now))));
    });
    ever = or(ever, now);
  }
  return found;
}
