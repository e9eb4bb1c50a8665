/**
 * What a draft does to people: whatever a student is shown or may do otherwise with it than without it, at the moment of
 * publication or, by the clock alone, later in the term; students with equal effect are one line. It counts exactly the
 * students who have anything otherwise when everything is asked of each (tests/shown.ts). Source: semantics.md section 8.
 */
import { difference, type RowChange } from "../plan/difference.ts";
import { holdsAt, lookup } from "../plan/lookup.ts";
import type { Progress } from "../plan/progress.ts";
import type { DateField, Item, Placement, Plan } from "../plan/types.ts";
import { type Bits, eachBit, emptyBits, isEmpty, or, setBit } from "../sets/bits.ts";
import { compareCourse } from "./course-effects.ts";
import { type Add, type Effect, type EffectKind, type EffectLine, isTighter, plain, weightOf } from "./effect.ts";
import { impactOf } from "./impact.ts";
import { compareItem } from "./item-effects.ts";
import { comesByDoing } from "./item-sight.ts";
import { compareCells, compareTotals } from "./marks-effects.ts";
import { bitsOfPeople, type Side, sides, type World, worldOf } from "./world.ts";

export interface Review {
  /** Students with the same effects together: warnings first, worst first, then most people first. */
  lines: EffectLine[];
  /** Students who are shown something otherwise, or may do something otherwise. */
  touched: number;
  touchedIds: ReadonlySet<string>;
  /** Warnings: how many students each concerns. */
  leaksAdded: number;
  leaksRemoved: number;
  earlier: number;
  losing: number;
  /** Who they are, in the order of the course; of many the first alone, for a sentence that names them. */
  losingIds: readonly string[];
  /** Of those, who loses something that they handed in or were marked for. */
  losingWork: number;
  /** With a due that has passed already, or comes within a day. */
  pressing: number;
}

/** Up to so many are named in a sentence. */
export const mostNamed = 3;
const losses: EffectKind[] = ["loses", "loses later", "exits"];

/** The review of a draft that changes nothing. */
export const nothingFound: Review = {
  lines: [],
  touched: 0,
  touchedIds: new Set(),
  leaksAdded: 0,
  leaksRemoved: 0,
  earlier: 0,
  losing: 0,
  losingIds: [],
  losingWork: 0,
  pressing: 0,
};

/** Whether students can see that they are in a group, in the plan of a side: of a named layer, while neither was put away. */
function isShown({ plans }: World, side: Side, groupId: string): boolean {
  const group = plans[side].groups[groupId];
  const layer = plans[side].layers[group?.layerId ?? ""];
  return Boolean(group && layer && group.archivedAt === null && layer.archivedAt === null && !layer.private);
}
/** Whether a student can notice an effect: a leak, or a private group, shows by what it leads to alone. */
function isNoticed(world: World, { kind, groupId }: Effect): boolean {
  // Where one is placed is seen after it, where one was before it: a layer may become private by the same draft.
  if (kind === "joins" || kind === "leaves")
    return isShown(world, kind === "joins" ? "after" : "before", groupId ?? "");
  return kind !== "leak" && kind !== "leak ends";
}

/** Effects as they are found, each kept once as a number: thousands of students share a few hundred. */
class Found {
  private readonly known: Effect[] = [];
  private readonly numbers = new Map<string, number>();
  private readonly of = new Map<number, Set<number>>();
  private readonly touched = new Set<string>();
  constructor(private readonly world: World) {}

  readonly add: Add = (effect, bits) => {
    let number = -1;
    const isSeen = isNoticed(this.world, effect);
    eachBit(bits, (index) => {
      if (number < 0) number = this.numberOf(effect);
      const list = this.of.get(index);
      if (list) list.add(number);
      else this.of.set(index, new Set([number]));
      if (isSeen) this.touched.add(this.world.students[index] as string);
    });
  };

  /** Those of some whom nothing touches so far. */
  untouched(bits: Bits): Bits {
    const left = emptyBits(this.world.students.length);
    eachBit(bits, (index) => {
      if (!this.touched.has(this.world.students[index] as string)) setBit(left, index);
    });
    return left;
  }

  private numberOf(effect: Effect): number {
    const key = JSON.stringify(effect);
    const number = this.numbers.get(key) ?? this.known.push(effect) - 1;
    this.numbers.set(key, number);
    return number;
  }

  review(): Review {
    const weights = this.known.map(weightOf);
    const lines = new Map<string, EffectLine & { worst: number }>();
    for (const [index, numbers] of this.of) {
      const list = [...numbers].sort((a, b) => a - b);
      const key = list.join();
      const line = lines.get(key) ?? {
        effects: list.map((number) => this.known[number] as Effect),
        personIds: [],
        worst: Math.min(...list.map((number) => weights[number] as number)),
      };
      line.personIds.push(this.world.students[index] as string);
      lines.set(key, line);
    }
    const whoever = (test: (effect: Effect) => boolean): number[] => {
      const wanted = this.known.map(test);
      return [...this.of].flatMap(([index, numbers]) => ([...numbers].some((number) => wanted[number]) ? [index] : []));
    };
    const having = (test: (effect: Effect) => boolean): number => whoever(test).length;
    const kind = (...kinds: EffectKind[]) => having((effect) => kinds.includes(effect.kind));
    const losing = whoever((effect) => losses.includes(effect.kind));
    return {
      lines: [...lines.values()]
        .sort((a, b) => a.worst - b.worst || b.personIds.length - a.personIds.length)
        .map(({ effects, personIds }) => ({ effects, personIds })),
      touched: this.touched.size,
      touchedIds: this.touched,
      leaksAdded: kind("leak"),
      leaksRemoved: kind("leak ends"),
      earlier: having(({ kind: one, field, from, to }) => one === "date" && isTighter(field as DateField, from, to)),
      losing: losing.length,
      losingIds: losing
        .sort((a, b) => a - b)
        .slice(0, mostNamed)
        .map((index) => this.world.students[index] as string),
      losingWork: kind("work"),
      pressing: kind("due passed", "due near"),
    };
  }
}

/**
 * Who joins and leaves which group; gives whoever can see that they do. Only placements that changed can change who is
 * where; one that ends as another begins in its group does not.
 */
function compareMembers(world: World, changes: RowChange[], add: Add): Bits {
  let movers = emptyBits(world.students.length);
  const pairs = { before: new Map<string, Placement>(), after: new Map<string, Placement>() };
  // Whoever was in a group twice and ends one of the two stays in it.
  const isIn = (side: Side, { personId, groupId }: Placement) =>
    (lookup(world.plans[side]).placementsOfPerson.get(personId) ?? []).some(
      (one) => one.groupId === groupId && holdsAt(one, world.t),
    );
  for (const change of changes) {
    if (change.table !== "placements") continue;
    for (const side of sides) {
      const placement = change[side] as Placement | null;
      if (placement && holdsAt(placement, world.t))
        pairs[side].set(`${placement.personId}/${placement.groupId}`, placement);
    }
  }
  const each = (side: Side, other: Side, kind: EffectKind) => {
    const people = new Map<string, string[]>();
    for (const [key, placement] of pairs[side]) {
      if (pairs[other].has(key) || isIn(other, placement)) continue;
      const { personId, groupId } = placement;
      const joint = people.get(groupId);
      if (joint) joint.push(personId);
      else people.set(groupId, [personId]);
    }
    for (const [groupId, personIds] of people) {
      const bits = bitsOfPeople(world, personIds);
      add({ ...plain, kind, groupId }, bits);
      if (isShown(world, side, groupId)) movers = or(movers, bits);
    }
  };
  each("before", "after", "leaves");
  each("after", "before", "joins");
  return movers;
}

/** The items of either plan, each once, as the later plan has it. */
function itemsOf({ before, after }: Record<Side, Plan>, ids: Iterable<string>): Item[] {
  return [...ids].flatMap((id) => after.items[id] ?? before.items[id] ?? []);
}

/** Review of a draft at t: the plan without it and with it. */
export function review(before: Plan, after: Plan, progress: Progress, t: number): Review {
  const changes = difference(before, after);
  if (changes.length === 0) return nothingFound;
  const world = worldOf(before, after, progress, t);
  const found = new Found(world);
  const impact = impactOf(before, after, changes);
  const movers = compareMembers(world, changes, found.add);
  const items = itemsOf(world.plans, impact.items);
  const nobody = emptyBits(world.students.length);
  const compare = (item: Item, among: Bits) => compareItem(world, impact, item, among, found.add);
  for (const item of items) compare(item, nobody);
  // What may come of what people do is asked of those alone whom nothing else touches.
  for (const item of items) {
    const left = found.untouched(world.everyone);
    if (world.questions.left > 0 && !isEmpty(left) && comesByDoing(world, item)) compare(item, left);
  }
  compareCourse(world, impact, movers, found.untouched(world.everyone), found.add);
  // What a title or a date changes is said of the item; marks are named where nothing else is.
  found.add({ ...plain, kind: "marks" }, compareCells(world, impact, found.untouched(world.everyone)));
  found.add({ ...plain, kind: "marks" }, compareTotals(world, impact));
  return found.review();
}
