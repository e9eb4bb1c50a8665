/** How a student stands, at a glance: whom they are with, what adjusts their dates, what is due and what came. Source: semantics.md sections 6 and 7. */
import { compareText, outlineOrder } from "../plan/lookup.ts";
import { progressLookup } from "../plan/progress.ts";
import type { Allowance, Group, Item, Section } from "../plan/types.ts";
import { type Reach, takesHandIns } from "../reach/reach.ts";
import { instantOfValue, memberOf, resolveField } from "../timing/resolving/resolve.ts";
import type { Cells } from "./cells.ts";

export interface Overview {
  sections: Section[];
  groups: Group[];
  /** Their own, and those of what they are in. */
  allowances: Allowance[];
  /** What is open and waits for their hand-in, soonest due first; `due` in epoch milliseconds, as it is for them. */
  dues: { item: Item; due: number }[];
  /** What they handed in, their groups' hand-ins with it, in reading order. */
  handedIn: Item[];
  missing: Item[];
}

/** The overview of one student at the moment of a reach; null for whoever is none. */
export function overviewOf(reach: Reach, cells: Cells, personId: string): Overview | null {
  const { plan, t } = reach;
  const index = reach.indexOf.get(personId);
  if (index === undefined) return null;
  const memberships = reach.memberships(index);
  const found = progressLookup(reach.progress);
  const work = outlineOrder(plan).flatMap(({ item }) => (takesHandIns(item) ? [item] : []));
  const inState = (state: string) => work.filter((item) => cells.cell(item, personId)?.state === state);
  const dueOf = (item: Item) => instantOfValue(plan, resolveField(plan, item, memberships, "due").value);
  return {
    sections: [...memberships.sectionIds]
      .flatMap((id) => plan.sections[id] ?? [])
      .sort((a, b) => compareText(a.code, b.code)),
    groups: [...memberships.groupIds]
      .flatMap((id) => plan.groups[id] ?? [])
      .sort((a, b) => compareText(a.name, b.name)),
    allowances: Object.values(plan.allowances).filter(({ target }) => memberOf(memberships, target)),
    dues: inState("waiting")
      .flatMap((item) => {
        const due = dueOf(item);
        return due !== null && due >= t ? [{ item, due }] : [];
      })
      .sort((a, b) => a.due - b.due),
    handedIn: work.filter((item) => found.handIns(personId, item.id).some(({ at }) => at <= t)),
    missing: inState("missing"),
  };
}
