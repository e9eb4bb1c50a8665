/** What a draft does to who can open which item, when it opens and is due for them, and what its page says. Section 8. */

import { instantOf } from "../clock/local-time.ts";
import { same } from "../plan/difference.ts";
import { lookup } from "../plan/lookup.ts";
import { progressByItem } from "../plan/progress.ts";
import { conditionsOf, itemsAskedBy, partsOf } from "../plan/references.ts";
import type { DateField, Item, Plan } from "../plan/types.ts";
import { isWork } from "../reach/reach.ts";
import { type StudentItem, type StudentPage, studentEntry, studentItem } from "../reach/student-page.ts";
import { and, andNot, type Bits, emptyBits, isEmpty, listBits, or } from "../sets/bits.ts";
import { isAnchor } from "../timing/anchors.ts";
import {
  dateFields,
  type GivenValue,
  isMomentField,
  type ResolvedDates,
  resolveDates,
} from "../timing/resolving/resolve.ts";
import { type Add, type EffectKind, plain } from "./effect.ts";
import type { Impact } from "./impact.ts";
import { ItemSight, type Sight, targetsFor } from "./item-sight.ts";
import { bitsOfPeople, eachAlone, membersAt, partsBy, sides, type World } from "./world.ts";

/** Whether a moment of an item, or of an override, is a class meeting. */
const isAnchored = (plan: Plan, item: Item): boolean =>
  [item, ...(lookup(plan).overridesOfItem.get(item.id) ?? [])].some(({ dates }) =>
    Object.values(dates).some(isAnchor),
  ) ||
  conditionsOf(item)
    .flatMap(partsOf)
    .some((part) => "moment" in part && isAnchor(part.moment));

/** Items of which what somebody did may be told otherwise on one side than on the other, so that each is asked alone. */
function countedOtherwise({ plans: { before, after } }: World, item: Item): string[] {
  const [was, is] = [before.items[item.id], after.items[item.id]];
  if (!was || !is) return [];
  const askedIds = [...itemsAskedBy(was), ...itemsAskedBy(is)];
  const asks = !same([was.condition, was.variants], [is.condition, is.variants]);
  const changed = askedIds.filter((id) => asks || before.items[id] !== after.items[id]);
  const own = !same([was.combines, was.split, was.leadHandsIn], [is.combines, is.split, is.leadHandsIn]);
  return own ? [item.id, ...was.combines.map(({ itemId }) => itemId), ...changed] : changed;
}

/** Sets by which students who see an item may have it otherwise than others: whoever is in the same of them has it alike. */
function cutsOf(world: World, impact: Impact, item: Item, moment: number): Bits[] {
  const cuts: Bits[] = [];
  const alone = new Set<string>();
  const counted = countedOtherwise(world, item);
  const [was, is] = sides.map((side) => world.plans[side].items[item.id]?.split ?? null);
  const withSplit =
    !same(was, is) ||
    impact.enrolment ||
    impact.layers.has(was?.layerId ?? is?.layerId ?? "") ||
    counted.includes(item.id);
  for (const side of sides) {
    const own = world.plans[side].items[item.id];
    if (!own) continue;
    const reach = world.reach(side, moment);
    for (const target of targetsFor(world.plans[side], own, withSplit))
      cuts.push(membersAt(world, side, moment, target));
    if (isAnchored(world.plans[side], own))
      for (const { bits } of reach.calendars()) cuts.push(world.bits(reach, bits));
    const { marks, handIns, openings } = progressByItem(reach.progress);
    for (const id of counted)
      for (const rows of [marks.get(id) ?? [], handIns.get(id) ?? [], openings.get(id) ?? []])
        for (const { personId } of rows) alone.add(personId);
  }
  return [...cuts, ...eachAlone(world, bitsOfPeople(world, alone))];
}

interface Detail {
  dates: ResolvedDates;
  /** The item's page, or its line where it is only announced. */
  shown: Record<string, unknown> | null;
}
function detailOf(page: StudentPage, item: Item): Detail {
  const dates = resolveDates(page.reach.plan, item, page.reach.memberships(page.index));
  const shown = studentItem(page, item.id) ?? studentEntry(page, item);
  // Points decide, also of what is only announced, whether the list of work has it.
  const isInWork = page.reach.plan.course.indexes.work && isWork(item);
  return { dates, shown: shown && { ...shown, isInWork } };
}

/** By what of a page differs, what is said of it. */
const kindOf: Partial<Record<keyof StudentItem, EffectKind>> = {
  handIn: "hand-in",
  threads: "threads",
  post: "threads",
  mark: "marks",
  dates: "told",
  needs: "told",
};

/** What is told of a field: of a moment that is taken away as little as of one that was never set. */
const asTold = (field: DateField, value: GivenValue | null): GivenValue | null =>
  value === "none" && isMomentField(field) ? null : value;

/** Dates, words, threads and the rest of an item for some students who have it on both sides, alike among themselves. */
function compareDetails(world: World, item: Item, moment: number, alike: Bits, isAlike: boolean, add: Add): void {
  const [first] = listBits(alike) as [number];
  const [was, is] = sides.map((side) => {
    const page = world.page(side, moment, first);
    const own = world.plans[side].items[item.id];
    return page && own ? detailOf(page, own) : null;
  }) as [Detail | null, Detail | null];
  if (!was || !is) return;
  const effect = { ...plain, itemId: item.id };
  let isDated = false;
  for (const field of dateFields) {
    const [from, to] = [was.dates[field].value, is.dates[field].value];
    if (asTold(field, from) === asTold(field, to)) continue;
    isDated = true;
    add({ ...effect, kind: "date", field, from, to }, alike);
    if (field === "due") addPressing(world, effect, to, alike, add);
  }
  // Where it opens or ceases to be open, that is said.
  if (!isAlike) return;
  const kinds = new Set<EffectKind>();
  for (const key of new Set([...Object.keys(was.shown ?? {}), ...Object.keys(is.shown ?? {})])) {
    if (same(was.shown?.[key], is.shown?.[key])) continue;
    const kind = kindOf[key as keyof StudentItem] ?? "text";
    // What follows from a date that moves is said by the date.
    if (isDated && (kind === "told" || kind === "hand-in" || key === "post")) continue;
    kinds.add(kind);
  }
  for (const kind of kinds) add({ ...effect, kind }, alike);
}

const day = 24 * 3600_000;
/** A due that has passed already, or that is less than a day away, is a warning. */
function addPressing(world: World, effect: typeof plain, due: string | number | null, bits: Bits, add: Add): void {
  if (due === null || due === "none") return;
  const at = instantOf(String(due), world.plans.after.course.timeZone);
  if (at >= world.t + day) return;
  add({ ...effect, kind: at < world.t ? "due passed" : "due near", to: due }, bits);
}

/** Who handed something in for an item, or was marked for it. */
function workers(world: World, item: Item): Bits {
  const { handIns, marks } = progressByItem(world.reach("before", world.t).progress);
  const rows = [...(handIns.get(item.id) ?? []), ...(marks.get(item.id) ?? [])];
  return bitsOfPeople(
    world,
    rows.map(({ personId }) => personId),
  );
}

function compareLeaks(world: World, item: Item, add: Add): void {
  const [was, is] = sides.map((side) => {
    const own = world.plans[side].items[item.id];
    const reach = world.reach(side, world.t);
    return own ? world.bits(reach, reach.leak(own)) : emptyBits(world.students.length);
  }) as [Bits, Bits];
  const effect = { ...plain, itemId: item.id };
  add({ ...effect, kind: "leak" }, andNot(is, was));
  add({ ...effect, kind: "leak ends" }, andNot(was, is));
}

/** Due passed or near of what comes to somebody. */
function pressGained(world: World, impact: Impact, item: Item, gained: Bits, add: Add): void {
  const own = world.plans.after.items[item.id];
  if (
    !own ||
    (own.dates.due === undefined && (lookup(world.plans.after).overridesOfItem.get(own.id) ?? []).length === 0)
  )
    return;
  for (const part of partsBy(gained, cutsOf(world, impact, item, world.t))) {
    const page = world.page("after", world.t, listBits(part)[0] as number);
    if (!page) continue;
    const { due } = resolveDates(world.plans.after, own, page.reach.memberships(page.index));
    addPressing(world, { ...plain, itemId: item.id }, due.value, part, add);
  }
}

/**
 * Everything of one item for everybody: who has it, and, where the draft may make that otherwise, what it says.
 * `among`: of whom it is asked whether what they may still do brings it to them, which is asked one by one.
 */
export function compareItem(world: World, impact: Impact, item: Item, among: Bits, add: Add): void {
  const hasDetails = impact.details.has(item.id);
  const every = world.momentsOf(item);
  const moments = every.filter(world.counts);
  const [before, after] = sides.map((side) => new ItemSight(world, side, item, every, among)) as [ItemSight, ItemSight];
  const nobody = emptyBits(world.students.length);
  let [gainsLater, losesLater, told, untold] = [nobody, nobody, nobody, nobody];
  /** Who was compared already, by how they have it on either side. */
  const compared = new Map<string, Bits>();
  const dated: Bits[] = [];
  const withDates: Add = (effect, bits) => {
    if (effect.kind === "date" && effect.field && isMomentField(effect.field)) dated.push(bits);
    add(effect, bits);
  };
  const [saw, sees] = [before.at(world.t).open, after.at(world.t).open];
  const [gains, loses] = [andNot(sees, saw), andNot(saw, sees)];
  for (const moment of moments) {
    const [was, is] = [before.at(moment), after.at(moment)];
    gainsLater = or(gainsLater, andNot(is.open, was.open));
    losesLater = or(losesLater, andNot(was.open, is.open));
    told = or(told, andNot(is.announced, or(was.announced, was.open)));
    untold = or(untold, andNot(was.announced, or(is.announced, is.open)));
    for (const [one, had] of Object.entries(was) as [keyof Sight, Bits][])
      for (const [other, has] of Object.entries(is) as [keyof Sight, Bits][]) {
        const both = and(had, has);
        const key = `${one} ${other}`;
        // Between changes of membership an item is the same to whoever has it.
        if (!hasDetails) continue;
        const isNew = world.membershipMoments.includes(moment);
        const anew = isNew ? both : andNot(both, compared.get(key) ?? nobody);
        compared.set(key, or(both, compared.get(key) ?? nobody));
        for (const part of partsBy(anew, isEmpty(anew) ? [] : cutsOf(world, impact, item, moment)))
          compareDetails(world, item, moment, part, one === other, withDates);
      }
  }
  const moved = dated.reduce(or, nobody);
  const effect = { ...plain, itemId: item.id };
  add({ ...effect, kind: "gains" }, gains);
  add({ ...effect, kind: "loses" }, loses);
  add({ ...effect, kind: "work" }, and(loses, workers(world, item)));
  const known = or(gains, loses);
  // Where a date moves, what opens or closes otherwise follows from it.
  add({ ...effect, kind: "gains later" }, andNot(andNot(gainsLater, known), moved));
  add({ ...effect, kind: "loses later" }, andNot(andNot(losesLater, known), moved));
  const said = or(or(known, moved), or(gainsLater, losesLater));
  add({ ...effect, kind: "announced" }, andNot(told, said));
  add({ ...effect, kind: "veiled" }, andNot(untold, said));
  pressGained(world, impact, item, gains, add);
  compareLeaks(world, item, add);
}
