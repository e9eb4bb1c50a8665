/** Who has an item in sight with and without a draft: who can open it, and who is told of it. Source: semantics.md 4, 5 and 8. */
import { lookup } from "../plan/lookup.ts";
import { progressByItem } from "../plan/progress.ts";
import { conditionsOf, itemsAskedBy, partsOf, targetsOf } from "../plan/references.ts";
import type { Item, Plan, Target } from "../plan/types.ts";
import { visibilityOf } from "../reach/explain.ts";
import { foldersOf } from "../reach/folders.ts";
import { askedThrough, asksProgress } from "../reach/future.ts";
import { targetKey } from "../reach/mentions.ts";
import { isPublished, type Reach } from "../reach/reach.ts";
import { and, andNot, type Bits, emptyBits, isEmpty, listBits, or } from "../sets/bits.ts";
import { bitsOfPeople, eachAlone, membersAt, partsBy, type Side, sides, type World } from "./world.ts";

export interface Sight {
  open: Bits;
  announced: Bits;
}

/** Who may still be told of an item: all but its condition and opens is fulfilled, and it is not open to them. */
function mayBeTold(reach: Reach, item: Item): Bits {
  const { sets } = reach;
  if (!item.announced || !isPublished(reach.plan, item)) return sets.nobody;
  const at = (passes: (closes: number | null) => boolean) =>
    reach.moment(item, { field: "closes", passes, ifAny: true });
  const notGone = item.readableAfterClose ? sets.everyone : at((closes) => closes === null || reach.t < closes);
  const within = sets.both(sets.both(reach.audience(item), reach.unsealed(item)), reach.arrives(item));
  return sets.without(sets.both(within, notGone), reach.sees(item));
}

/** Sight of one item on one side: at each of its moments who can open it, and who is told of it. */
export class ItemSight {
  private readonly known = new Map<number, Sight>();
  /** The item as that plan has it; undefined where it has none. */
  private readonly own: Item | undefined;
  private readonly byDoing: boolean;
  private after: Map<number, Bits> | null = null;
  constructor(
    private readonly world: World,
    private readonly side: Side,
    item: Item,
    private readonly moments: number[],
    /** Of whom it is asked what may come of what they do. */
    private readonly among: Bits,
  ) {
    const plan = world.plans[side];
    this.own = plan.items[item.id];
    this.byDoing = this.own !== undefined && asksProgress(plan, this.own);
  }
  at(moment: number): Sight {
    let sight = this.known.get(moment);
    if (!sight) {
      sight = this.make(moment);
      this.known.set(moment, sight);
    }
    return sight;
  }
  private seesAt(moment: number): Bits {
    const { world, side, own } = this;
    if (!own) return emptyBits(world.students.length);
    const reach = world.reach(side, moment);
    return world.bits(reach, reach.sees(own));
  }
  /** Who can open it at some moment after one. */
  private seenAfter(moment: number): Bits {
    if (!this.after) {
      this.after = new Map();
      let seen = emptyBits(this.world.students.length);
      for (const one of [...this.moments].reverse()) {
        this.after.set(one, seen);
        seen = or(seen, this.seesAt(one));
      }
    }
    return this.after.get(moment) ?? emptyBits(this.world.students.length);
  }
  private make(moment: number): Sight {
    const { world, side, own } = this;
    const nobody = emptyBits(world.students.length);
    if (!own) return { open: nobody, announced: nobody };
    const open = this.seesAt(moment);
    const reach = world.reach(side, moment);
    const may = world.bits(reach, mayBeTold(reach, own));
    if (isEmpty(may)) return { open, announced: nobody };
    // By the clock alone it comes to whoever can open it at a later moment; the others may have something to do first.
    const announced = and(may, this.seenAfter(moment));
    if (!this.byDoing) return { open, announced };
    const left = and(andNot(may, announced), this.among);
    const told = partsBy(left, isEmpty(left) ? [] : doingCuts(world, side, own, moment)).filter((alike) => {
      world.questions.left--;
      const page = world.page(side, moment, listBits(alike)[0] as number);
      return page !== null && visibilityOf(page.reach, own, page.index).visibility === "announced";
    });
    return { open, announced: told.reduce(or, announced) };
  }
}

/**
 * Sets by which students differ in what may still come of an item by what they do: whoever is in the same of them is in
 * the same groups as far as it, a folder or an item that is asked for names them, and did as much of what is asked.
 */
function doingCuts(world: World, side: Side, item: Item, moment: number): Bits[] {
  const plan = world.plans[side];
  const reach = world.reach(side, moment);
  const those = new Set([...askedThrough(plan, item), ...foldersOf(plan.items)]);
  const targets = new Map<string, Target>();
  for (const one of those)
    for (const target of [...targetsOf(one), ...targetsFor(plan, one, false)]) targets.set(targetKey(target), target);
  const cuts = [...targets.values()].map((target) => membersAt(world, side, moment, target));
  for (const { bits } of reach.calendars()) cuts.push(world.bits(reach, bits));
  const { marks, handIns, openings } = progressByItem(reach.progress);
  const whose = <R extends { personId: string }>(rows: R[] | undefined, test: (row: R) => boolean): Bits =>
    bitsOfPeople(
      world,
      (rows ?? []).filter(test).map(({ personId }) => personId),
    );
  for (const id of new Set([...those].flatMap(itemsAskedBy)))
    cuts.push(
      whose(marks.get(id), () => true),
      whose(marks.get(id), ({ excused }) => excused),
      whose(handIns.get(id), () => true),
      whose(openings.get(id), () => true),
      whose(openings.get(id), ({ readAt }) => readAt !== null),
    );
  return [...cuts, ...eachAlone(world, world.restless)];
}

/** Whom what an item says may depend on: by conditions, overrides, allowances and, where asked, the groups it is split among. */
export function targetsFor(plan: Plan, item: Item, withSplit: boolean): Target[] {
  const { overridesOfItem, groupsOfLayer, allowances } = lookup(plan);
  const targets: Target[] = [
    ...item.variants.flatMap((variant) => variant.targets),
    ...conditionsOf(item)
      .flatMap(partsOf)
      .flatMap((part) => (part.kind === "in" ? part.targets : [])),
    ...(overridesOfItem.get(item.id) ?? []).map(({ target }) => target),
    ...(item.kind === "event" ? [] : allowances.map(({ target }) => target)),
    ...(item.split && withSplit ? (groupsOfLayer.get(item.split.layerId) ?? []) : []).flatMap(
      ({ id, leads }): Target[] => [
        { kind: "group", id },
        ...leads.map((lead): Target => ({ kind: "person", id: lead })),
      ],
    ),
  ];
  // A set ranks by the student's first group in it.
  const inSets = targets.flatMap(({ kind, id }) => (kind === "set" ? (plan.sets[id]?.groupIds ?? []) : []));
  return [...targets, ...inSets.map((id): Target => ({ kind: "group", id }))];
}

/** Whether what students do may still bring an item to them, on either side. */
export const comesByDoing = (world: World, item: Item): boolean =>
  sides.some((side) => {
    const own = world.plans[side].items[item.id];
    return own?.announced && asksProgress(world.plans[side], own);
  });

/** Who has an item in sight on a side at a moment, open or announced: for the order of a folder's contents. */
export function sightOf(world: World, side: Side, item: Item, among: Bits): (moment: number) => Bits {
  const sight = new ItemSight(world, side, item, world.momentsOf(item), among);
  return (moment) => or(sight.at(moment).open, sight.at(moment).announced);
}
