/** A draft as its review sees it: both plans, and who has what in each at the moments that come. */
import { holdsAt, lookup, studentsAt } from "../plan/lookup.ts";
import type { Progress } from "../plan/progress.ts";
import type { Item, Plan, Target } from "../plan/types.ts";
import { and, andNot, type Bits, emptyBits, hasBit, isEmpty, setBit } from "../reach/bits.ts";
import { progressAt } from "../reach/changes.ts";
import { type Reach, reachAt } from "../reach/reach.ts";
import type { StudentPage } from "../reach/student-page.ts";
import { calendarsIn } from "../timing/anchors.ts";
import { deadlinesOfItem, instantsOfItem, termOf } from "../timing/instants.ts";

export type Side = "before" | "after";
export const sides: Side[] = ["before", "after"];

/** Students of either plan at some moment from t on; the place in `students` is the bit of every set here. */
export interface World {
  plans: Record<Side, Plan>;
  progress: Progress;
  t: number;
  students: readonly string[];
  indexOf: ReadonlyMap<string, number>;
  everyone: Bits;
  reach(side: Side, at: number): Reach;
  /** A set of a reach, as a set of the world. */
  bits(reach: Reach, own: Bits): Bits;
  /** A student's page on one side at a moment; null where they are no student then. */
  page(side: Side, at: number, index: number): StudentPage | null;
  /** Whose memberships or enrolments change after t, in either plan. */
  restless: Bits;
  /**
   * How often it may still be asked of single students what may come of what they do. A change of the whole course's
   * rules at thousands of students would ask for minutes; past this, what waits for somebody's doing counts by the clock.
   */
  questions: { left: number };
  /** Whether a moment is compared: t itself, and later ones of the term. */
  counts(at: number): boolean;
  /** The moments, t first, at which memberships or enrolments of either plan change. */
  membershipMoments: number[];
  /** The moments, t first, at which an item may be otherwise for somebody than the moment before; past the term too. */
  momentsOf(item: Item): number[];
}

const mostQuestions = 1500;

/** Every folder that an item lies in, or is entered through, and those by which these are entered. */
function foldersToward(plan: Plan, item: Item): Item[] {
  const { entrancesOfItem } = lookup(plan);
  const found = new Set<Item>();
  const add = (one: Item) => {
    for (const id of [one.parentId, ...(entrancesOfItem.get(one.id) ?? []).map(({ folderId }) => folderId)]) {
      const folder = id === null ? undefined : plan.items[id];
      if (folder) found.add(folder);
    }
  };
  add(item);
  for (const folder of found) add(folder);
  return [...found];
}

/** `given`: what people did; what came after t had not happened. */
export function worldOf(before: Plan, after: Plan, given: Progress, t: number): World {
  const progress = progressAt(given, t);
  const plans = { before, after };
  const { until } = termOf(after);
  const isAhead = (at: number) => at > t;
  const ordered = (moments: Iterable<number>) => [t, ...new Set([...moments].filter(isAhead))].sort((a, b) => a - b);
  const spells = sides.flatMap((side) => [
    ...Object.values(plans[side].placements),
    ...Object.values(plans[side].enrolments),
  ]);
  const membershipMoments = ordered(
    spells.flatMap(({ since, until: end }) => [
      ...(isAhead(since) ? [since] : []),
      ...(end !== null && isAhead(end) ? [end] : []),
    ]),
  );
  // In the order of the students of now, so that their sets need not be moved bit by bit.
  const present = new Set<string>(studentsAt(before, t));
  for (const side of sides)
    for (const row of Object.values(plans[side].enrolments))
      if (row.role === "student" && (holdsAt(row, t) || (isAhead(row.since) && row.until !== row.since)))
        present.add(row.personId);
  const students = [...present];
  const indexOf = new Map(students.map((personId, index) => [personId, index]));
  const everyone = emptyBits(students.length);
  for (let index = 0; index < students.length; index++) setBit(everyone, index);

  const restless = emptyBits(students.length);
  for (const { personId, since, until: end } of spells) {
    const index = isAhead(since) || (end !== null && isAhead(end)) ? indexOf.get(personId) : undefined;
    if (index !== undefined) setBit(restless, index);
  }

  const reaches = { before: new Map<number, Reach>(), after: new Map<number, Reach>() };
  const reach = (side: Side, at: number): Reach => {
    const made = reaches[side].get(at) ?? reachAt(plans[side], progress, at);
    reaches[side].set(at, made);
    return made;
  };
  const places = new Map<readonly string[], Int32Array | null>();
  const bits = (of: Reach, own: Bits): Bits => {
    let place = places.get(of.students);
    if (place === undefined) {
      const isSame = of.students.length === students.length && of.students.every((id, at) => students[at] === id);
      place = isSame ? null : Int32Array.from(of.students, (id) => indexOf.get(id) ?? -1);
      places.set(of.students, place);
    }
    if (place === null) return own;
    const moved = emptyBits(students.length);
    for (let at = 0; at < place.length; at++)
      if ((place[at] as number) >= 0 && hasBit(own, at)) setBit(moved, place[at] as number);
    return moved;
  };
  const calendars = { before: calendarsIn(before), after: calendarsIn(after) };
  const ofFolder = { before: new Map<string, number[]>(), after: new Map<string, number[]>() };
  const folderMoments = (side: Side, folder: Item): number[] => {
    const made = ofFolder[side].get(folder.id) ?? instantsOfItem(plans[side], folder, calendars[side]);
    ofFolder[side].set(folder.id, made);
    return made;
  };
  return {
    plans,
    progress,
    t,
    students,
    indexOf,
    everyone,
    restless,
    questions: { left: mostQuestions },
    counts: (at) => at === t || at < until,
    reach,
    bits,
    page(side, at, index) {
      const of = reach(side, at);
      const personId = students[index] as string;
      const place = of.indexOf.get(personId);
      return place === undefined ? null : { reach: of, index: place, personId };
    },
    membershipMoments,
    momentsOf: (item) =>
      ordered([
        ...membershipMoments,
        ...sides.flatMap((side) => {
          const own = plans[side].items[item.id];
          if (!own) return [];
          return [
            ...foldersToward(plans[side], own).flatMap((folder) => folderMoments(side, folder)),
            ...instantsOfItem(plans[side], own, calendars[side]),
            ...(own.points === null ? [] : deadlinesOfItem(plans[side], own, calendars[side])),
          ];
        }),
      ]),
  };
}

/** The students of a target on one side at a moment. */
export const membersAt = (world: World, side: Side, at: number, target: Target): Bits => {
  const reach = world.reach(side, at);
  return world.bits(reach, reach.members(target));
};

/** Who is a student on one side at a moment. */
export function presentAt(world: World, side: Side, at: number): Bits {
  const reach = world.reach(side, at);
  return world.bits(reach, reach.everyone);
}

/** A set cut by others into those who are alike: everybody of a part is in the same of them. */
export function partsBy(bits: Bits, cuts: Iterable<Bits>): Bits[] {
  let parts = isEmpty(bits) ? [] : [bits];
  for (const cut of cuts) {
    const next: Bits[] = [];
    for (const part of parts) {
      const inside = and(part, cut);
      if (isEmpty(inside)) next.push(part);
      else {
        next.push(inside);
        const outside = andNot(part, inside);
        if (!isEmpty(outside)) next.push(outside);
      }
    }
    parts = next;
  }
  return parts;
}
