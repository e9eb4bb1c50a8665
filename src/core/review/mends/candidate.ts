/** What may mend a finding, before it is tried. */
import type { NewCommand } from "../../commands.ts";
import type { Item, Plan } from "../../plan/types.ts";
import type { Finding } from "../../reach/audit/finding.ts";
import type { Reach } from "../../reach/reach.ts";

export interface Case {
  reach: Reach;
  plan: Plan;
  finding: Finding;
}
/** A finding about an item. */
export interface ItemCase extends Case {
  item: Item;
}
export interface Candidate {
  says: string;
  commands: NewCommand[];
  /** Offered only where no part of it alone will do. */
  otherwise?: boolean;
}

type Fields = Extract<NewCommand, { kind: "item.change" }>["fields"];
const changing = (item: Item, fields: Fields): NewCommand => ({ kind: "item.change", itemId: item.id, fields });

/** A change of one item, or the same change of several. */
export const change = (says: string, items: Item | Item[], fields: Fields): Candidate => ({
  says,
  commands: [items].flat().map((item) => changing(item, fields)),
});
