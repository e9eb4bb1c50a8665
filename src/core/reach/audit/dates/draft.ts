/** Overrides that reach nobody, and dues that a draft moves earlier. Source: semantics.md sections 6 and 8. */

import { sayInstant } from "../../../clock/local-time.ts";
import { lookup, targetName } from "../../../plan/lookup.ts";
import type { Item } from "../../../plan/types.ts";
import { eachBit, isEmpty, overlap } from "../../../sets/bits.ts";
import type { DateTable } from "../../../timing/resolving/table.ts";
import { type Finding, finding } from "../finding.ts";
import type { Dated } from "./dated.ts";
import { about } from "./moments.ts";

/** Overrides for somebody whom the item is not meant for. */
export function inVain({ table: { reach } }: Dated, item: Item): Finding[] {
  const { plan } = reach;
  return (lookup(plan).overridesOfItem.get(item.id) ?? [])
    .filter(({ target }) => !isEmpty(reach.members(target)) && !overlap(reach.members(target), reach.meant(item)))
    .map(({ id, target }) =>
      finding(plan, {
        key: `vain override/${id}`,
        kind: "vain override",
        item,
        says: `${item.title}: dates for ${targetName(plan, target)}, but it is meant for nobody there.`,
        why: "An override changes nothing for those whom the item is not for. Perhaps the audience was meant to hold them.",
      }),
    );
}

/** Dues that come earlier than in the plan as it is published. */
export function movedEarlier(dated: Dated, item: Item, before: DateTable): Finding[] {
  const { table } = dated;
  const { reach } = table;
  const published = before.reach;
  const was = published.plan.items[item.id];
  if (!was) return [];
  const [same, old] = [table.common(item, "due"), before.common(was, "due")];
  if (same !== undefined && old !== undefined && !(same < old)) return [];
  const [now, then] = [table.column(item, "due"), before.column(was, "due")];
  const sameStudents = published.membershipSets === reach.membershipSets;
  const indexes: number[] = [];
  let [from, to] = [0, 0];
  eachBit(reach.meant(item), (index) => {
    const place = sameStudents ? index : published.indexOf.get(reach.students[index] as string);
    if (place === undefined || !((now[index] as number) < (then[place] as number))) return;
    if (indexes.push(index) === 1) [from, to] = [then[place] as number, now[index] as number];
  });
  if (indexes.length === 0) return [];
  const { timeZone } = reach.plan.course;
  const says = (at: number) => (Number.isFinite(at) ? sayInstant(at, timeZone) : "no limit");
  const made = about(
    dated,
    item,
    "moved earlier",
    `due moves earlier, from ${says(from)} to ${says(to)}`,
    indexes,
    "Somebody may have planned by the later date.",
  );
  return [{ ...made, key: `moved earlier/${item.id}` }];
}
