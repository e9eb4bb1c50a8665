/** What waits to be marked in a filter, in the order in which it is gone through. */
import { code } from "../../../../core/gradebook/column.ts";
import type { Sheet } from "../../../../core/gradebook/sheet.ts";
import { progressLookup } from "../../../../core/plan/progress.ts";
import type { Item } from "../../../../core/plan/types.ts";
import { type Bits, listBits } from "../../../../core/sets/bits.ts";

export type Which = "to be marked" | "handed in" | "not handed in" | "everyone";
export interface Waiting {
  personId: string;
  item: Item;
}

/** What comes next in a queue after some place, or before it, whether or not the place itself is still in it. */
export function besideIn(
  sheet: Sheet,
  items: Item[],
  queue: Waiting[],
  at: { personId: string; itemId: string } | null,
): { next: Waiting | null; previous: Waiting | null } {
  const order = new Map(items.map(({ id }, column) => [id, column * sheet.reach.students.length]));
  const placeOf = (itemId: string, personId: string) =>
    (order.get(itemId) ?? 0) + (sheet.reach.indexOf.get(personId) ?? 0);
  const here = at ? placeOf(at.itemId, at.personId) : -1;
  const place = ({ item, personId }: Waiting) => placeOf(item.id, personId);
  return {
    next: queue.find((one) => place(one) > here) ?? null,
    previous: queue.findLast((one) => place(one) < here) ?? null,
  };
}

/** The cells of some students and columns that are asked for, a column after another. */
export function queueOf(sheet: Sheet, bits: Bits, items: Item[], which: Which): Waiting[] {
  const { progress, students, t } = sheet.reach;
  const { handIns } = progressLookup(progress);
  const indexes = listBits(bits);
  return items.flatMap((item) => {
    const { states } = sheet.column(item);
    const isAsked = (index: number): boolean => {
      const state = states[index];
      if (state === code["not theirs"]) return false;
      if (which === "to be marked") return state === code["handed in"];
      if (which === "everyone") return true;
      const has = handIns(students[index] as string, item.id).some(({ at }) => at <= t);
      return has === (which === "handed in");
    };
    return indexes.filter(isAsked).map((index): Waiting => ({ personId: students[index] as string, item }));
  });
}
