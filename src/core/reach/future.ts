/**
 * Whether a student will, or may, see an item from the moment of a reach on: with the memberships, enrolments and dates
 * that are on record for then, and the most favourable progress from here on; what is done stays done.
 * Source: semantics.md sections 4 (what most favourable progress can do) and 5 (announced).
 */
import { once } from "../memo.ts";
import { progressLookup } from "../plan/progress.ts";
import { itemsAskedBy } from "../plan/references.ts";
import type { Item, Plan } from "../plan/types.ts";
import { hasBit } from "../sets/bits.ts";
import { calendarsIn } from "../timing/anchors.ts";
import { instantsOfItem, instantsOfPerson } from "../timing/instants.ts";
import { foldersOf } from "./folders.ts";
import { membershipSetsOfFew } from "./membership-sets.ts";
import { foundOfHandIn, foundOfMark, foundOfOpening, holdsWith, type ProgressLeaf } from "./progress-leaf.ts";
import { noAnswers, type Reach, reachOf } from "./reach.ts";

const askedByFolders = once((items: Plan["items"]): string[] => foldersOf(items).flatMap(itemsAskedBy));
const known = once((_items: Plan["items"]) => new Map<string, Item[]>());

/** An item, and every item that it, a folder or one of those asks about. */
export function askedThrough(plan: Plan, item: Item): Item[] {
  const ready = known(plan.items).get(item.id);
  if (ready) return ready;
  const found = new Set([item]);
  for (const one of found)
    for (const asked of [...itemsAskedBy(one), ...askedByFolders(plan.items)]) {
      const next = plan.items[asked];
      if (next) found.add(next);
    }
  known(plan.items).set(item.id, [...found]);
  return [...found];
}

/** When a folder opens, closes or changes by the clock, for somebody. */
const instantsOfFolders = once((plan: Plan): number[] => {
  const calendars = calendarsIn(plan);
  return foldersOf(plan.items).flatMap((folder) => instantsOfItem(plan, folder, calendars));
});

/** What a student did, or was given, by the moment of the reach, and what may still come of a leaf that asks for it. */
function verdictSoFar({ plan, progress, t }: Reach, personId: string, leaf: ProgressLeaf, could: boolean) {
  const rows = progressLookup(progress);
  const mark = rows.mark(personId, leaf.itemId);
  const handIns = rows.handIns(personId, leaf.itemId).filter((one) => foundOfHandIn(one, t) === "done");
  const opening = rows.opening(personId, leaf.itemId);
  const found = foundOfMark(leaf, plan, mark, t);
  if ("percent" in leaf) {
    const isEnough = holdsWith(leaf.kind, "reaches");
    if (found === "excused") return { may: isEnough, mayNot: !isEnough };
    const points = plan.items[leaf.itemId]?.points ?? null;
    // A mark may be given, or given anew, for what was worked on; none is below 0 %.
    const isMarked = mark !== undefined && mark.at <= t;
    const mayCome = could || isMarked || handIns.length > 0 || (opening !== undefined && opening.at <= t);
    return { may: points !== null && mayCome && (isEnough || leaf.percent > 0), mayNot: true };
  }
  const done =
    leaf.kind === "handedIn" ? found === "excused" || handIns.length > 0 : foundOfOpening(leaf, opening, t) === "done";
  return { may: done || could, mayNot: !done };
}

/** Whether anything that an item, or a folder, asks for is something that people do. */
export const asksProgress = (plan: Plan, item: Item): boolean =>
  askedByFolders(plan.items).length > 0 || itemsAskedBy(item).length > 0;

/** What one student may come to see. */
export function futureOf(reach: Reach, personId: string): (item: Item) => boolean {
  const { plan, rawProgress: given, t } = reach;
  const own = instantsOfPerson(plan, personId).filter((at) => at > t);
  const calendars = calendarsIn(plan);
  const inOrder = (moments: number[]) => [t, ...new Set(moments.filter((at) => at > t))].sort((a, b) => a - b);
  const common = [...own, ...instantsOfFolders(plan)];

  /** The student's reach at a moment, if by then they had done what `could` says. */
  const reachWith = (at: number, could: (leaf: ProgressLeaf) => boolean): Reach | null => {
    const membershipSets = membershipSetsOfFew(plan, [personId], at);
    if (membershipSets.students.length === 0) return null;
    const then: Reach = reachOf(plan, given, at, membershipSets, noAnswers(), {
      mayHold(leaf) {
        const { may, mayNot } = verdictSoFar(reach, personId, leaf, could(leaf));
        const { everyone, nobody } = then.sets;
        return { may: may ? everyone : nobody, mayNot: mayNot ? everyone : nobody };
      },
    });
    return then;
  };
  /** By the clock alone, with what was done up to now. */
  const plain = new Map<number, Reach | null>();
  const seesAt = (item: Item, at: number): boolean => {
    const then = plain.has(at) ? plain.get(at) : reachWith(at, () => false);
    plain.set(at, then ?? null);
    return then != null && hasBit(then.sees(item), 0);
  };
  const byClock = (item: Item) =>
    inOrder([...common, ...instantsOfItem(plan, item, calendars)]).some((at) => seesAt(item, at));

  /** With what they may do on the way: everything that is asked about is followed from now on. */
  const byDoing = (item: Item, those: Item[]): boolean => {
    const [seen, handedIn] = [new Set<string>(), new Set<string>()];
    const moments = inOrder([...common, ...those.flatMap((one) => instantsOfItem(plan, one, calendars))]);
    for (const at of moments) {
      for (let grows = true; grows; ) {
        grows = false;
        const then = reachWith(at, ({ kind, itemId }) => (kind === "handedIn" ? handedIn : seen).has(itemId));
        if (!then) break;
        for (const one of those) {
          if (!seen.has(one.id) && hasBit(then.sees(one), 0)) grows = Boolean(seen.add(one.id));
          if (!handedIn.has(one.id) && hasBit(then.takesHandIn(one), 0)) grows = Boolean(handedIn.add(one.id));
        }
      }
      if (seen.has(item.id)) return true;
    }
    return false;
  };
  return (item) => {
    const those = askedThrough(plan, item);
    return byClock(item) || (asksProgress(plan, item) && byDoing(item, those));
  };
}
