/** What waits to be marked in a filter, in the order in which it is gone through. */
import { code } from "../../../../core/gradebook/column.ts";
import type { Sheet } from "../../../../core/gradebook/sheet.ts";
import type { Item } from "../../../../core/plan/types.ts";

export type Which = "to be marked" | "handed in" | "not handed in" | "everyone";
export interface Waiting {
  personId: string;
  item: Item;
}

/** The cells of some students and columns that are asked for, a column after another. */
export function queueOf(
  sheet: Sheet,
  rows: string[],
  items: Item[],
  which: Which,
  handedIn: (one: Waiting) => boolean,
) {
  return items.flatMap((item): Waiting[] => {
    const { states } = sheet.column(item);
    return rows.flatMap((personId): Waiting[] => {
      const state = states[sheet.reach.indexOf.get(personId) ?? -1];
      if (state === undefined || state === code["not theirs"]) return [];
      const one = { personId, item };
      if (which === "to be marked") return state === code["handed in"] ? [one] : [];
      if (which === "everyone") return [one];
      return handedIn(one) === (which === "handed in") ? [one] : [];
    });
  });
}
