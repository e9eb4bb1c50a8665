/** A draft as its review sees it: both plans, and who has what in each at the moments that come. */
import { sameList } from "../plan/difference.ts";
import { holdsAt, lookup, studentsAt } from "../plan/lookup.ts";
import type { Progress } from "../plan/progress.ts";
import type { Item, Plan, Target } from "../plan/types.ts";
import { progressAt } from "../reach/changes.ts";
import { type Reach, reachAt } from "../reach/reach.ts";
import type { StudentPage } from "../reach/student-page.ts";
import { and, andNot, type Bits, emptyBits, hasBit, isEmpty, listBits, setBit } from "../sets/bits.ts";
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

const isAhead = (at: number, t: number): boolean => at > t;
/** t, and of some moments those after it, ascending. */
const ordered = (t: number, moments: Iterable<number>): number[] =>
  [t, ...new Set([...moments].filter((at) => isAhead(at, t)))].sort((a, b) => a - b);

/** Whoever is a student of either plan at some moment from t on. */
function studentsFrom(plans: World["plans"], t: number): string[] {
  // In the order of the students of now, so that their sets need not be moved bit by bit.
  const present = new Set<string>(studentsAt(plans.before, t));
  for (const side of sides)
    for (const row of Object.values(plans[side].enrolments))
      if (row.role === "student" && (holdsAt(row, t) || (isAhead(row.since, t) && row.until !== row.since)))
        present.add(row.personId);
  return [...present];
}

/** Sets of any reach as sets of the world: each student's bit at the place that they have among `students`. */
function bitsMover(students: readonly string[], indexOf: ReadonlyMap<string, number>): World["bits"] {
  const places = new Map<readonly string[], Int32Array | null>();
  const placesOf = (own: readonly string[]): Int32Array | null => {
    const known = places.get(own);
    if (known !== undefined) return known;
    const place = sameList(own, students) ? null : Int32Array.from(own, (id) => indexOf.get(id) ?? -1);
    places.set(own, place);
    return place;
  };
  return (of, own) => {
    const place = placesOf(of.students);
    if (place === null) return own;
    const moved = emptyBits(students.length);
    for (let at = 0; at < place.length; at++)
      if ((place[at] as number) >= 0 && hasBit(own, at)) setBit(moved, place[at] as number);
    return moved;
  };
}

/** The moments at which an item of either plan may be otherwise for somebody; those of a folder are found once. */
function momentsFinder(plans: World["plans"], membershipMoments: number[], t: number): World["momentsOf"] {
  const calendars = { before: calendarsIn(plans.before), after: calendarsIn(plans.after) };
  const ofFolder = { before: new Map<string, number[]>(), after: new Map<string, number[]>() };
  const folderMoments = (side: Side, folder: Item): number[] => {
    const made = ofFolder[side].get(folder.id) ?? instantsOfItem(plans[side], folder, calendars[side]);
    ofFolder[side].set(folder.id, made);
    return made;
  };
  const ofSide = (side: Side, item: Item): number[] => {
    const own = plans[side].items[item.id];
    if (!own) return [];
    return [
      ...foldersToward(plans[side], own).flatMap((folder) => folderMoments(side, folder)),
      ...instantsOfItem(plans[side], own, calendars[side]),
      ...(own.points === null ? [] : deadlinesOfItem(plans[side], own, calendars[side])),
    ];
  };
  return (item) => ordered(t, [...membershipMoments, ...sides.flatMap((side) => ofSide(side, item))]);
}

/** `given`: what people did; what came after t had not happened. */
export function worldOf(before: Plan, after: Plan, given: Progress, t: number): World {
  const progress = progressAt(given, t);
  const plans = { before, after };
  const { until } = termOf(after);
  const spells = sides.flatMap((side) => [
    ...Object.values(plans[side].placements),
    ...Object.values(plans[side].enrolments),
  ]);
  const changesOf = ({ since, until: end }: { since: number; until: number | null }): number[] =>
    [since, end ?? t].filter((at) => isAhead(at, t));
  const membershipMoments = ordered(t, spells.flatMap(changesOf));
  const students = studentsFrom(plans, t);
  const indexOf = new Map(students.map((personId, index) => [personId, index]));
  const restless = spells.filter((spell) => changesOf(spell).length > 0).map(({ personId }) => personId);
  const reaches = { before: new Map<number, Reach>(), after: new Map<number, Reach>() };
  const reach = (side: Side, at: number): Reach => {
    const made = reaches[side].get(at) ?? reachAt(plans[side], progress, at);
    reaches[side].set(at, made);
    return made;
  };
  return {
    plans,
    progress,
    t,
    students,
    indexOf,
    everyone: bitsOfPeople({ students, indexOf }, students),
    restless: bitsOfPeople({ students, indexOf }, restless),
    questions: { left: mostQuestions },
    counts: (at) => at === t || at < until,
    reach,
    bits: bitsMover(students, indexOf),
    page(side, at, index) {
      const of = reach(side, at);
      const personId = students[index] as string;
      const place = of.indexOf.get(personId);
      return place === undefined ? null : { reach: of, index: place, personId };
    },
    membershipMoments,
    momentsOf: momentsFinder(plans, membershipMoments, t),
  };
}

/** Some people as a set of the world; whoever is no student of it is left out. */
export function bitsOfPeople(
  { students, indexOf }: Pick<World, "students" | "indexOf">,
  people: Iterable<string>,
): Bits {
  const bits = emptyBits(students.length);
  for (const personId of people) {
    const index = indexOf.get(personId);
    if (index !== undefined) setBit(bits, index);
  }
  return bits;
}

/** Each of some students alone. */
export const eachAlone = (world: World, bits: Bits): Bits[] =>
  listBits(bits).map((index) => {
    const alone = emptyBits(world.students.length);
    setBit(alone, index);
    return alone;
  });

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
