/**
 * The students of a moment and who of them is in which group and section, as bits. Kept with the tables it was read
 * from; a placement that changes moves one bit. Source: semantics.md sections 3 and 4.
 */

import { once, onceOfTwo, onceWith } from "../memo.ts";
import {
  enrolmentRows,
  holdsAt,
  lookup,
  openEnrolments,
  rowsValidAt,
  rowsValidUntil,
  studentsAt,
} from "../plan/lookup.ts";
import { sourceOf } from "../plan/tables.ts";
import type { Enrolment, Placement, Plan, Target } from "../plan/types.ts";
import { type Bits, copyBits, emptyBits, hasBit, or, setBit } from "../sets/bits.ts";
import { collect } from "../sets/collect.ts";
import { type Calendar, calendarOf, meetingGroups } from "../timing/anchors.ts";
import { type Memberships, membershipsIn } from "../timing/resolving/resolve.ts";

export interface MembershipSets {
  /** Person ids, by name; the place in this list is the bit. */
  students: readonly string[];
  indexOf: Map<string, number>;
  groups: Map<string, Bits>;
  sections: Map<string, Bits>;
  /** How many placements at once put a student in a group, where more than one does: `group/index`. */
  doubled: Map<string, number>;
}

const indexesOf = once((students: readonly string[]): Map<string, number> => {
  const indexOf = new Map<string, number>();
  for (let index = 0; index < students.length; index++) indexOf.set(students[index] as string, index);
  return indexOf;
});

interface Named {
  bits: Bits;
  isEmpty: boolean;
  /** How many rows at once name a student, where more than one does, by place. */
  doubled: Map<number, number>;
}
function namesIn(rows: readonly { personId: string }[], indexOf: Map<string, number>): Named {
  const made: Named = { bits: emptyBits(indexOf.size), isEmpty: true, doubled: new Map() };
  for (const { personId } of rows) {
    const index = indexOf.get(personId);
    if (index === undefined) continue;
    made.isEmpty = false;
    if (hasBit(made.bits, index)) made.doubled.set(index, (made.doubled.get(index) ?? 1) + 1);
    setBit(made.bits, index);
  }
  return made;
}
/** Whom some rows name, as bits. Put together once a list of rows: a placement that changes is read with its group's. */
const namedIn = onceWith(namesIn);

const bySection = once((open: readonly Enrolment[]) => collect(open, ({ sectionId }) => sectionId));

/** Students at places that are given, with whom each group and each section names. */
function rosterOf(
  students: readonly string[],
  indexOf: Map<string, number>,
  byGroup: Iterable<[string, Named]>,
  bySection: Iterable<[string | null, Named]>,
): MembershipSets {
  const [groups, sections, doubled] = [new Map<string, Bits>(), new Map<string, Bits>(), new Map<string, number>()];
  for (const [groupId, found] of byGroup) {
    if (!found.isEmpty) groups.set(groupId, found.bits);
    for (const [index, count] of found.doubled) doubled.set(`${groupId}/${index}`, count);
  }
  for (const [sectionId, found] of bySection)
    if (sectionId !== null && !found.isEmpty) sections.set(sectionId, found.bits);
  return { students, indexOf, groups, sections, doubled };
}

/** Students at places that are given, with the placements and enrolments that are open at t; what was read is kept. */
function rosterAt(
  students: readonly string[],
  indexOf: Map<string, number>,
  placements: Map<string, Placement[]>,
  enrolments: readonly Enrolment[],
  t: number,
): MembershipSets {
  function* groups(): Iterable<[string, Named]> {
    for (const [id, rows] of placements) yield [id, namedIn(rowsValidAt(rows, t), indexOf)];
  }
  function* sections(): Iterable<[string | null, Named]> {
    for (const [id, rows] of bySection(enrolments)) yield [id, namedIn(rows, indexOf)];
  }
  return rosterOf(students, indexOf, groups(), sections());
}

// A review asks of two plans at two moments, most often with the same placements: the last few rosters are kept.
const rosters = new WeakMap<
  object,
  {
    students: readonly string[];
    enrolments: readonly Enrolment[];
    t: number;
    steadyUntil: number;
    membershipSets: MembershipSets;
  }[]
>();

/** Every student at t. */
export function membershipSetsAt(plan: Plan, t: number): MembershipSets {
  const [students, enrolments] = [studentsAt(plan, t), openEnrolments(plan, t)];
  const source = sourceOf(plan, "placements");
  const kept = rosters.get(source) ?? [];
  const found = kept.find(
    (one) => one.t <= t && t < one.steadyUntil && one.students === students && one.enrolments === enrolments,
  );
  if (found) return found.membershipSets;
  const { placementsOfGroup } = lookup(plan);
  const membershipSets = rosterAt(students, indexesOf(students), placementsOfGroup, enrolments, t);
  let steadyUntil = Number.POSITIVE_INFINITY;
  for (const rows of placementsOfGroup.values()) steadyUntil = Math.min(steadyUntil, rowsValidUntil(rows, t));
  rosters.set(source, [{ students, enrolments, t, steadyUntil, membershipSets }, ...kept].slice(0, 4));
  return membershipSets;
}

const places = new WeakMap<object, { students: Map<string, number>; of: Int32Array }>();
/** Who came after whom in the rows that were read last: the rows of items most often name people in one order. */
const followers = new WeakMap<Map<string, number>, Int32Array>();
/** Places of the persons of some rows, in a membershipSets; -1 for whoever is not in it. Put together once a list of rows. */
export function placesOf(rows: { personId: string }[], { indexOf, students }: MembershipSets): Int32Array {
  const ready = places.get(rows);
  if (ready?.students === indexOf) return ready.of;
  let after = followers.get(indexOf);
  if (!after) {
    // The last place is of whoever comes first.
    after = new Int32Array(students.length + 1).map((_, at) => (at + 1) % (students.length + 1));
    followers.set(indexOf, after);
  }
  const of = new Int32Array(rows.length);
  let last = students.length;
  for (let at = 0; at < rows.length; at++) {
    const { personId } = rows[at] as { personId: string };
    let index = after[last] as number;
    if (students[index] !== personId) {
      // Whoever comes next may have no row here; the order stays as it was.
      const second = after[index] as number;
      if (students[second] === personId) index = second;
      else {
        index = indexOf.get(personId) ?? -1;
        if (index >= 0) after[last] = index;
      }
    }
    of[at] = index;
    if (index >= 0) last = index;
  }
  places.set(rows, { students: indexOf, of });
  return of;
}

const beginningsOf = once((rows: readonly (Placement | Enrolment)[]) => {
  const found = new Set<number>();
  for (const { since, until } of rows) {
    found.add(since);
    if (until !== null) found.add(until);
  }
  return found;
});

/** When a placement or an enrolment begins or ends, in order: in between everybody is in what they are in. */
const changesOf = onceOfTwo((placements: Map<string, Placement[]>, enrolments: Plan["enrolments"]): Float64Array => {
  const found = new Set(beginningsOf(enrolmentRows(enrolments)));
  for (const rows of placements.values()) for (const moment of beginningsOf(rows)) found.add(moment);
  return Float64Array.from(found).sort();
});

/** By the last change up to a moment. */
const pastsOf = once((_: MembershipSets) => new Map<number, { membershipSets: MembershipSets; then: Bits }>());

/** What the students of a membershipSets were in at another moment, at the same places; `then`: who was a student then. */
export function membershipSetsThen(
  plan: Plan,
  membershipSets: MembershipSets,
  t: number,
): { membershipSets: MembershipSets; then: Bits } {
  const moments = changesOf(lookup(plan).placementsOfGroup, plan.enrolments);
  // The last change up to then: whatever came between makes no difference.
  let [low, high] = [0, moments.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((moments[middle] as number) <= t) low = middle + 1;
    else high = middle;
  }
  const known = pastsOf(membershipSets);
  const ready = known.get(low);
  if (ready) return ready;
  const { students, indexOf } = membershipSets;
  const enrolments = openEnrolments(plan, t);
  const then = emptyBits(students.length);
  for (const { role, personId } of enrolments) {
    const index = role === "student" ? indexOf.get(personId) : undefined;
    if (index !== undefined) setBit(then, index);
  }
  const made = { membershipSets: rosterAt(students, indexOf, lookup(plan).placementsOfGroup, enrolments, t), then };
  if (known.size > 200) known.clear();
  known.set(low, made);
  return made;
}

/** A few students alone: only their own rows are read, and nothing of it is kept, since it is asked for once. */
export function membershipSetsOfFew(plan: Plan, personIds: string[], t: number): MembershipSets {
  const { placementsOfPerson, enrolmentsOfPerson } = lookup(plan);
  const openOf = <Row extends Placement | Enrolment>(rows: Map<string, Row[]>) =>
    personIds.flatMap((personId) => (rows.get(personId) ?? []).filter((row) => holdsAt(row, t)));
  const open = openOf(enrolmentsOfPerson);
  const enrolled = new Set(open.filter(({ role }) => role === "student").map(({ personId }) => personId));
  const students = personIds.filter((id) => enrolled.has(id));
  const indexOf = new Map(students.map((id, index) => [id, index]));
  const named = <Key>(rows: Map<Key, { personId: string }[]>) =>
    [...rows].map(([key, of]): [Key, Named] => [key, namesIn(of, indexOf)]);
  return rosterOf(
    students,
    indexOf,
    named(collect(openOf(placementsOfPerson), ({ groupId }) => groupId)),
    named(collect(open, ({ sectionId }) => sectionId)),
  );
}

/** The membershipSets after some placements changed: the sets of their groups are new, every other is shared. */
export function membershipSetsAfter(
  membershipSets: MembershipSets,
  changes: { before: Placement | null; after: Placement | null }[],
  t: number,
): MembershipSets {
  const next = { ...membershipSets, groups: new Map(membershipSets.groups), doubled: new Map(membershipSets.doubled) };
  const copied = new Map<string, Bits>();
  const bitsOf = (groupId: string): Bits => {
    const bits = copied.get(groupId) ?? copyBits(next.groups.get(groupId) ?? emptyBits(membershipSets.students.length));
    copied.set(groupId, bits);
    next.groups.set(groupId, bits);
    return bits;
  };
  const step = (placement: Placement | null, comes: boolean) => {
    const index = placement && holdsAt(placement, t) ? membershipSets.indexOf.get(placement.personId) : undefined;
    if (!placement || index === undefined) return;
    const bits = bitsOf(placement.groupId);
    const key = `${placement.groupId}/${index}`;
    const [word, mask] = [index >>> 5, 1 << (index & 31)];
    const had = ((bits[word] as number) & mask) === 0 ? 0 : (next.doubled.get(key) ?? 1);
    const has = had + (comes ? 1 : -1);
    if (has > 1) next.doubled.set(key, has);
    else next.doubled.delete(key);
    bits[word] = has > 0 ? (bits[word] as number) | mask : (bits[word] as number) & ~mask;
  };
  for (const { before } of changes) step(before, false);
  for (const { after } of changes) step(after, true);
  return next;
}

/** The students whom a target names. */
export function membersOf(plan: Plan, membershipSets: MembershipSets, { kind, id }: Target): Bits {
  if (kind === "group") return membershipSets.groups.get(id) ?? emptyBits(membershipSets.students.length);
  if (kind === "section") return membershipSets.sections.get(id) ?? emptyBits(membershipSets.students.length);
  if (kind === "set") {
    const none = emptyBits(membershipSets.students.length);
    return (plan.sets[id]?.groupIds ?? []).reduce(
      (bits, groupId) => or(bits, membershipSets.groups.get(groupId) ?? none),
      none,
    );
  }
  const alone = emptyBits(membershipSets.students.length);
  const index = membershipSets.indexOf.get(id);
  if (index !== undefined) setBit(alone, index);
  return alone;
}

/** What one student is in, read from the sets: nothing of the plan's rows is put in order for it. */
export function membershipsOf(plan: Plan, membershipSets: MembershipSets, index: number, t: number): Memberships {
  const [groupIds, sectionIds] = [new Set<string>(), new Set<string>()];
  for (const [id, bits] of membershipSets.groups) if (hasBit(bits, index)) groupIds.add(id);
  for (const [id, bits] of membershipSets.sections) if (hasBit(bits, index)) sectionIds.add(id);
  return membershipsIn(plan, membershipSets.students[index] as string, groupIds, sectionIds, t);
}

/** Students by whose meetings they go by; students alike share one calendar. */
export function calendarsOf(
  plan: Plan,
  membershipSets: MembershipSets,
  momentOf: (index: number) => number,
): { calendar: Calendar; bits: Bits }[] {
  const found = new Map<string, { calendar: Calendar; bits: Bits }>();
  const groups = meetingGroups(plan);
  membershipSets.students.forEach((personId, index) => {
    const theirs = groups.filter(({ id }) => {
      const bits = membershipSets.groups.get(id);
      return bits !== undefined && hasBit(bits, index);
    });
    const calendar = calendarOf(plan, personId, new Set(theirs.map(({ id }) => id)), momentOf(index));
    const one = found.get(calendar.key) ?? { calendar, bits: emptyBits(membershipSets.students.length) };
    setBit(one.bits, index);
    found.set(calendar.key, one);
  });
  return [...found.values()];
}
