/** Findings: things that are wrong with who sees what, each with whom it touches. Source: semantics.md section 4. */
import { lookup, outlineOrder } from "../plan/lookup.ts";
import type { Item } from "../plan/types.ts";
import { outOfOrder, resolveDates } from "../timing/resolve.ts";
import { and, andNot, countBits, emptyBits, listBits, or } from "./bits.ts";
import { isPublished, type Reach } from "./reach.ts";

export interface Finding {
  kind: "leak" | "empty audience" | "dates out of order";
  item: Item;
  personIds: string[];
  /** One sentence with the effect on people. */
  says: string;
}

const students = (count: number) => `${count} ${count === 1 ? "student" : "students"}`;

/** Items that somebody opens without being meant to, now. */
export function leaks(reach: Reach): Finding[] {
  const found: Finding[] = [];
  for (const { item } of outlineOrder(reach.plan)) {
    const bits = reach.leak(item);
    const count = countBits(bits);
    if (count === 0) continue;
    const personIds = listBits(bits).map((index) => reach.students[index] as string);
    const says = `${students(count)} can open ${item.title} and ${count === 1 ? "is" : "are"} not meant to.`;
    found.push({ kind: "leak", item, personIds, says });
  }
  return found;
}

/** Published items whose audience is nobody. */
export function emptyAudiences(reach: Reach): Finding[] {
  return outlineOrder(reach.plan)
    .filter(
      ({ item }) => isPublished(reach.plan, item) && reach.students.length > 0 && countBits(reach.audience(item)) === 0,
    )
    .map(({ item }) => ({
      kind: "empty audience",
      item,
      personIds: [],
      says: `${item.title} is for nobody.`,
    }));
}

const moments = ["opens", "due", "closes"] as const;

/** Items whose resolved dates contradict for somebody they are meant for. Source: section 6. */
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
      found.push({
        kind: "dates out of order",
        item,
        personIds,
        says: `${item.title}: ${says}, for ${students(personIds.length)}.`,
      });
    }
  }
  return found;
}
