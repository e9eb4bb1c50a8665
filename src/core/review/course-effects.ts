/** What a draft does beyond single items: order, groups and their pages, class list, calendar, self-placement. Section 8. */

import { instantOf } from "../clock/local-time.ts";
import { selfPlacementOf } from "../placement/self-placement.ts";
import { same } from "../plan/difference.ts";
import { fullName, lookup } from "../plan/lookup.ts";
import type { Person, Plan } from "../plan/types.ts";
import { studentMeetings } from "../reach/calendars.ts";
import { groupView, itemsOfGroup } from "../reach/group-page.ts";
import { type StudentPage, studentClassList, studentGroups } from "../reach/student-page.ts";
import { and, andNot, type Bits, eachBit, emptyBits, hasBit, listBits, or, setBit } from "../sets/bits.ts";
import { type Add, type EffectKind, plain } from "./effect.ts";
import type { Impact } from "./impact.ts";
import { sightOf } from "./item-sight.ts";
import { eachAlone, membersAt, partsBy, presentAt, type Side, sides, type World } from "./world.ts";

const first = (bits: Bits): number => listBits(bits)[0] as number;

/** Students of both sides at a moment. */
const presentBoth = (world: World, moment: number): Bits =>
  and(presentAt(world, "before", moment), presentAt(world, "after", moment));

/** Who of some has something otherwise, asked once of those who are alike. */
function differing(parts: Bits[], ask: (index: number, side: Side) => unknown, count: number): Bits {
  return parts.reduce((bits, part) => {
    const [was, is] = sides.map((side) => ask(first(part), side));
    return same(was, is) ? bits : or(bits, part);
  }, emptyBits(count));
}

/** The groups of some layers on either side. */
const groupsOf = (world: World, layerIds: Iterable<string>): string[] => {
  const found = new Set<string>();
  for (const layerId of layerIds)
    for (const side of sides)
      for (const { id } of lookup(world.plans[side]).allGroupsOfLayer.get(layerId) ?? []) found.add(id);
  return [...found];
};
/** Who is in which of some groups on either side. */
const byGroups = (world: World, moment: number, groupIds: string[]): Bits[] =>
  groupIds.flatMap((id) => sides.map((side) => membersAt(world, side, moment, { kind: "group", id })));

function comparePresence(world: World, impact: Impact, moments: number[], add: Add): void {
  if (impact.course) add({ ...plain, kind: "course" }, world.everyone);
  if (!impact.enrolment) return;
  for (const moment of moments) {
    const [was, is] = sides.map((side) => presentAt(world, side, moment)) as [Bits, Bits];
    add({ ...plain, kind: "enters" }, andNot(is, was));
    add({ ...plain, kind: "exits" }, andNot(was, is));
  }
}

/** A folder's contents as they stand in the outline: home and extra entrances, by position. */
function contentsOf(plan: Plan, folderId: string | null): string[] {
  const { children, entrancesInFolder } = lookup(plan);
  const linked = (entrancesInFolder.get(folderId) ?? []).map(({ itemId, position }) => ({ id: itemId, position }));
  const own = (children.get(folderId) ?? []).map(({ id, position }) => ({ id, position }));
  return [...own, ...linked].sort((a, b) => a.position - b.position).map(({ id }) => id);
}

/** Where what somebody sees stands in another order, or in another folder. */
function compareOrder(world: World, impact: Impact, among: Bits, add: Add): void {
  for (const folderId of impact.folders) {
    const lists = { before: contentsOf(world.plans.before, folderId), after: contentsOf(world.plans.after, folderId) };
    if (same(lists.before, lists.after)) continue;
    const sights = new Map<string, Record<Side, (moment: number) => Bits>>();
    const moments = new Set<number>();
    for (const id of [...lists.before, ...lists.after, ...(folderId === null ? [] : [folderId])]) {
      const item = world.plans.after.items[id] ?? world.plans.before.items[id];
      if (!item || sights.has(id)) continue;
      sights.set(id, {
        before: sightOf(world, "before", item, among),
        after: sightOf(world, "after", item, among),
      });
      for (const moment of world.momentsOf(item)) if (world.counts(moment)) moments.add(moment);
    }
    const open = (side: Side, moment: number): Bits => {
      const folder = folderId === null ? undefined : world.plans[side].items[folderId];
      if (folderId !== null && !folder) return emptyBits(world.students.length);
      const reach = world.reach(side, moment);
      return folder ? world.bits(reach, reach.sees(folder)) : presentAt(world, side, moment);
    };
    for (const moment of moments) {
      const both = and(open("before", moment), open("after", moment));
      const cuts = [...sights.values()].flatMap((sight) => sides.map((side) => sight[side](moment)));
      // What comes into sight, or goes out of it, is said of the item.
      const inSight = new Map([...sights].map(([id, sight]) => [id, and(sight.before(moment), sight.after(moment))]));
      const shown = (index: number, side: Side) =>
        lists[side].filter((id) => {
          const bits = inSight.get(id);
          return bits !== undefined && hasBit(bits, index);
        });
      const moved = differing(partsBy(both, cuts), shown, world.students.length);
      add({ ...plain, kind: "order", itemId: folderId }, moved);
    }
  }
}

/** The student's own groups: their labels, marks, and whether they have a page. */
function compareGroups(world: World, impact: Impact, moments: number[], movers: Bits, add: Add): void {
  const groupIds = groupsOf(world, impact.layers);
  if (groupIds.length === 0) return;
  for (const moment of moments) {
    const cuts = byGroups(world, moment, groupIds);
    const inThem = and(cuts.reduce(or, emptyBits(world.students.length)), presentBoth(world, moment));
    const ask = (index: number, side: Side) => {
      const page = world.page(side, moment, index);
      return page && studentGroups(page);
    };
    // Who joins or leaves is said by the group.
    const changed = differing(partsBy(andNot(inThem, movers), cuts), ask, world.students.length);
    add({ ...plain, kind: "group" }, changed);
  }
}

/** The pages of groups: who is on them, what they list, and what members may do there. */
function comparePages(world: World, impact: Impact, moments: number[], add: Add): void {
  const { before, after } = world.plans;
  const withPage = new Set(
    [...Object.values(before.groups), ...Object.values(after.groups)].flatMap(({ id, page }) => (page ? [id] : [])),
  );
  for (const groupId of withPage) {
    const layerId = (after.groups[groupId] ?? before.groups[groupId])?.layerId ?? "";
    const isNear = impact.groups.has(groupId) || impact.layers.has(layerId) || impact.enrolment;
    const [listed, lists] = sides.map((side) => itemsOfGroup(world.plans[side], groupId).map(({ id }) => id)) as [
      string[],
      string[],
    ];
    if (!isNear && same(listed, lists)) continue;
    for (const moment of moments) {
      const members = and(
        membersAt(world, "before", moment, { kind: "group", id: groupId }),
        membersAt(world, "after", moment, { kind: "group", id: groupId }),
      );
      const changed = emptyBits(world.students.length);
      eachBit(members, (index) => {
        const [was, is] = sides.map((side) => {
          const page = world.page(side, moment, index);
          const view = page && groupView(page, groupId);
          return view && { ...view, items: view.items?.map(({ id }) => id) ?? null };
        });
        if (!same(was, is)) setBit(changed, index);
      });
      add({ ...plain, kind: "group page", groupId }, changed);
    }
  }
}

/** The names of a class list as they are read; null where there is none. */
export const shownClassList = (page: StudentPage): string[] | null =>
  studentClassList(page)?.map((id) => fullName(page.reach.plan.people[id] as Person)) ?? null;

function compareClassList(world: World, impact: Impact, moments: number[], add: Add): void {
  const layerIds = sides.flatMap((side) => {
    const { classList } = world.plans[side].course;
    return classList.to === "layer" ? [classList.layerId] : [];
  });
  if (!impact.classList && !impact.enrolment && !layerIds.some((id) => impact.layers.has(id))) return;
  for (const moment of moments) {
    const cuts = byGroups(world, moment, groupsOf(world, layerIds));
    // Whoever is in none of its groups finds themselves alone on it.
    const nowhere = andNot(presentBoth(world, moment), cuts.reduce(or, emptyBits(world.students.length)));
    const parts = [
      ...partsBy(andNot(presentBoth(world, moment), nowhere), cuts),
      ...(layerIds.length > 0 ? eachAlone(world, nowhere) : partsBy(nowhere, [])),
    ];
    const ask = (index: number, side: Side) => {
      const page = world.page(side, moment, index);
      return page && shownClassList(page);
    };
    add({ ...plain, kind: "class list" }, differing(parts, ask, world.students.length));
  }
}

/** Class meetings in the calendar; what is due stands there with the items. */
function compareCalendar(world: World, impact: Impact, moments: number[], add: Add): void {
  if (!impact.meetings) return;
  for (const moment of moments) {
    const cuts = sides.flatMap((side) => {
      const reach = world.reach(side, moment);
      return reach.calendars().map(({ bits }) => world.bits(reach, bits));
    });
    const ask = (index: number, side: Side) => {
      const page = world.page(side, moment, index);
      return page && studentMeetings(page);
    };
    add(
      { ...plain, kind: "calendar" },
      differing(partsBy(presentBoth(world, moment), cuts), ask, world.students.length),
    );
  }
}

function compareSelfPlacement(world: World, impact: Impact, membershipMoments: number[], add: Add): void {
  const layers = sides.flatMap((side) =>
    Object.values(world.plans[side].layers).filter(({ selfPlacement }) => selfPlacement !== null),
  );
  const layerIds = [...new Set(layers.map(({ id }) => id))].filter((id) => impact.enrolment || impact.layers.has(id));
  if (layerIds.length === 0) return;
  const zone = world.plans.after.course.timeZone;
  const windows = layers.flatMap(({ selfPlacement }) =>
    [selfPlacement?.opens, selfPlacement?.closes].flatMap((wall) => (wall ? [instantOf(wall, zone)] : [])),
  );
  const moments = [...new Set([...membershipMoments, ...windows.filter((at) => at > world.t && world.counts(at))])];
  for (const moment of moments) {
    const parts = partsBy(presentBoth(world, moment), byGroups(world, moment, groupsOf(world, layerIds)));
    const ask = (index: number, side: Side) =>
      selfPlacementOf(world.plans[side], world.students[index] as string, moment).filter(({ id }) =>
        layerIds.includes(id),
      );
    add({ ...plain, kind: "self-placement" satisfies EffectKind }, differing(parts, ask, world.students.length));
  }
}

/** `movers`: who joins or leaves a group that they see; `among`: whom nothing touches so far. */
export function compareCourse(world: World, impact: Impact, movers: Bits, among: Bits, add: Add): void {
  const moments = world.membershipMoments.filter(world.counts);
  comparePresence(world, impact, moments, add);
  compareOrder(world, impact, among, add);
  compareGroups(world, impact, moments, movers, add);
  comparePages(world, impact, moments, add);
  compareClassList(world, impact, moments, add);
  compareCalendar(world, impact, moments, add);
  compareSelfPlacement(world, impact, moments, add);
}
