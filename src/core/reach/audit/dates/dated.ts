/** What every look at dates begins from: the items that have any, and everyone's dates as a table. */
import { lookup, outlineOrder } from "../../../plan/lookup.ts";
import type { Item } from "../../../plan/types.ts";
import { type DateTable, dateTable } from "../../../timing/resolving/table.ts";
import type { Reach } from "../../reach.ts";

export interface Dated {
  /** A passing one: items are looked at one after another. */
  table: DateTable;
  /** In the order of the outline, those alone for which some date or limit is set for somebody. */
  items: Item[];
  /** The layer between whose groups times are compared; null where there is none. */
  layerId: string | null;
}

export function datedOf(reach: Reach, layerId: string | null): Dated {
  const { plan } = reach;
  const { overridesOfItem } = lookup(plan);
  const items = outlineOrder(plan)
    .map(({ item }) => item)
    .filter((item) => Object.keys(item.dates).length > 0 || (overridesOfItem.get(item.id) ?? []).length > 0);
  return { table: dateTable(reach, undefined, true), items, layerId };
}
