/** Items whose resolved dates contradict for somebody they are meant for. Source: semantics.md section 6. */
import { lookup, outlineOrder } from "../../plan/lookup.ts";
import { outOfOrder, resolveDates } from "../../timing/resolve.ts";
import { and, andNot, emptyBits, listBits, or } from "../bits.ts";
import type { Reach } from "../reach.ts";
import { type Finding, finding, studentsSay } from "./finding.ts";

const moments = ["opens", "due", "closes"] as const;

export function datesOutOfOrder(reach: Reach): Finding[] {
  const { plan } = reach;
  const found: Finding[] = [];
  for (const { item } of outlineOrder(plan)) {
    if (Object.keys(item.dates).length === 0 && (lookup(plan).overridesOfItem.get(item.id) ?? []).length === 0)
      continue;
    const wrong = new Map<string, number[]>();
    const note = (says: string | null, indexes: number[]) => {
      if (says && indexes.length > 0) wrong.set(says, [...(wrong.get(says) ?? []), ...indexes]);
    };
    // Those for whom nothing differs are asked about once, the others one by one.
    const meant = reach.meant(item);
    const differ = moments.reduce(
      (bits, field) => or(bits, reach.differing(item, field)),
      emptyBits(reach.students.length),
    );
    const [common, own] = [listBits(andNot(meant, differ)), listBits(and(meant, differ))];
    if (common.length > 0)
      note(outOfOrder(plan, resolveDates(plan, item, reach.memberships(common[0] as number))), common);
    for (const index of own) note(outOfOrder(plan, resolveDates(plan, item, reach.memberships(index))), [index]);
    for (const [says, indexes] of wrong) {
      const personIds = indexes.sort((a, b) => a - b).map((index) => reach.students[index] as string);
      found.push(
        finding(plan, {
          key: `dates/${item.id}/${says}`,
          kind: "dates",
          item,
          personIds,
          says: `${item.title}: ${says}, for ${studentsSay(personIds.length)}.`,
          why: "Opens, due and closes must come in this order, for everyone they are resolved for.",
        }),
      );
    }
  }
  return found;
}
