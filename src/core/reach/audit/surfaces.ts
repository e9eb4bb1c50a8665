/** Surfaces: whatever two students meet on, as the sets of students who meet there. Source: semantics.md section 4. */
import { isMeeting } from "../../placement/groups/page.ts";
import { windowAt } from "../../placement/self-placement.ts";
import { lookup, outlineOrder } from "../../plan/lookup.ts";
import type { Item } from "../../plan/types.ts";
import { and, type Bits, countBits, emptyBits, or } from "../../sets/bits.ts";
import type { Reach } from "../reach.ts";

export interface Surface {
  /** `class list`, `thread/ID`, `names/LAYER`, `pages/LAYER`. */
  key: string;
  says: string;
  itemId: string | null;
  layerId: string | null;
  /** Each set meets within itself. */
  meetings: Bits[];
}

const some = (bits: Bits) => countBits(bits) > 1;

/** The sets that read one same thread of an item (or share a hand-in): all threads of one item are one surface. */
export function readersOf(reach: Reach, item: Item): Bits[] {
  const sees = reach.sees(item);
  if (!item.split) return item.kind === "discussion" ? [sees] : [];
  const groups = (lookup(reach.plan).groupsOfLayer.get(item.split.layerId) ?? []).map(({ id }) =>
    and(sees, reach.members({ kind: "group", id })),
  );
  if (item.split.between === "sealed") return groups;
  // Whoever is in a group reads every thread, answered or not; whoever is in none reads none.
  return [groups.reduce(or, emptyBits(reach.students.length))];
}

/** Every surface of a course at the moment of the reach, the class list first. */
export function surfacesOf(reach: Reach): Surface[] {
  const { plan, t } = reach;
  const { layers, groupsOfLayer } = lookup(plan);
  const { classList } = plan.course;
  const found: Surface[] = [];
  if (classList.to !== "nobody") {
    const meetings =
      classList.to === "everyone"
        ? [reach.everyone]
        : (groupsOfLayer.get(classList.layerId) ?? []).map(({ id }) => reach.members({ kind: "group", id }));
    found.push({ key: "class list", says: "the class list", itemId: null, layerId: null, meetings });
  }
  for (const { item } of outlineOrder(plan)) {
    const meetings = readersOf(reach, item).filter(some);
    if (meetings.length > 0)
      found.push({ key: `thread/${item.id}`, says: item.title, itemId: item.id, layerId: null, meetings });
  }
  for (const layer of layers) {
    const window = windowAt(plan, layer, t);
    if (!layer.selfPlacement?.showNames || window === "none") continue;
    // While one can choose, every group's names are shown to all; otherwise each sees those of their own group.
    const all = window === "open" && layer.selfPlacement.by === "choice";
    const meetings = all
      ? [reach.everyone]
      : (groupsOfLayer.get(layer.id) ?? []).map(({ id }) => reach.members({ kind: "group", id }));
    const says = `the names in ${layer.name}, to place oneself`;
    found.push({ key: `names/${layer.id}`, says, itemId: null, layerId: layer.id, meetings });
  }
  for (const layer of layers) {
    if (layer.private) continue;
    const meetings = (groupsOfLayer.get(layer.id) ?? [])
      .filter(({ page }) => page && isMeeting(page))
      .map(({ id }) => reach.members({ kind: "group", id }));
    const says = `the pages of ${layer.name}`;
    found.push({ key: `pages/${layer.id}`, says, itemId: null, layerId: layer.id, meetings });
  }
  return found.filter(({ meetings }) => meetings.some(some));
}
