/** The dates of an item as a group has them: the usual value, and how many members differ from it. */

import { lookup } from "../../../core/plan/lookup.ts";
import type { DateField, Group, Item } from "../../../core/plan/types.ts";
import { and, countBits, listBits } from "../../../core/reach/bits.ts";
import type { Reach } from "../../../core/reach/reach.ts";
import { type Origin, resolveField } from "../../../core/timing/resolve.ts";

export interface GroupDate {
  /** Wall-clock text, a number, "none", or null where unset. */
  value: string | number | null;
  differ: number;
}
export type GroupDates = Record<"opens" | "due" | "closes", GroupDate>;
export const moments = ["opens", "due", "closes"] as const;

export function groupDates(reach: Reach, item: Item, group: Group): GroupDates {
  const members = reach.members({ kind: "group", id: group.id });
  const usual = (field: (typeof moments)[number]): GroupDate => {
    const base = item.dates[field] ?? null;
    const differ = and(members, reach.differing(item, field));
    const [all, own] = [countBits(members), listBits(differ)];
    const counts = new Map<string | number | null, number>();
    if (all > own.length) counts.set(base, all - own.length);
    for (const index of own) {
      const { value } = resolveField(reach.plan, item, reach.memberships(index), field);
      counts.set(value, (counts.get(value) ?? 0) + 1);
    }
    const [best] = [...counts].sort((a, b) => b[1] - a[1]);
    if (best) return { value: best[0], differ: all - best[1] };
    // An empty group has what its override says, otherwise the base value.
    const theirs = (lookup(reach.plan).overridesOfItem.get(item.id) ?? []).find(
      ({ target }) => target.kind === "group" && target.id === group.id,
    );
    return { value: theirs?.dates[field] ?? base, differ: 0 };
  };
  return { opens: usual("opens"), due: usual("due"), closes: usual("closes") };
}

/** Every value of a field among the students meant for an item, with where it came from and how many have it. */
export function valuesOf(
  reach: Reach,
  item: Item,
  field: DateField,
): { value: string | number | null; origin: Origin; personIds: string[] }[] {
  const found = new Map<string, { value: string | number | null; origin: Origin; personIds: string[] }>();
  for (const index of listBits(reach.meant(item))) {
    const { value, origin } = resolveField(reach.plan, item, reach.memberships(index), field);
    const key = JSON.stringify([value, origin.kind, origin.target, origin.allowances.map(({ id }) => id)]);
    const entry = found.get(key) ?? { value, origin, personIds: [] };
    entry.personIds.push(reach.students[index] as string);
    found.set(key, entry);
  }
  return [...found.values()].sort((a, b) => b.personIds.length - a.personIds.length);
}
