/**
 * The students of a moment and who of them is in which group and section, as bits. Kept with the tables it was read
 * from; a placement that changes moves one bit. Source: semantics.md sections 3 and 4.
 */
import { holdsAt, lookup, studentsAt } from "../plan/lookup.ts";
import type { Enrolment, Placement, Plan, Target } from "../plan/types.ts";
import { type Calendar, calendarOf, meetingGroups } from "../timing/anchors.ts";
import { type Memberships, membershipsIn } from "../timing/resolving/resolve.ts";
import { type Bits, copyBits, emptyBits, hasBit, or, setBit } from "./bits.ts";

export interface Roster {
  /** Person ids, by name; the place in this list is the bit. */
  students: string[];
  indexOf: Map<string, number>;
  groups: Map<string, Bits>;
  sections: Map<string, Bits>;
  /** How many placements at once put a student in a group, where more than one does: `group/index`. */
  doubled: Map<string, number>;
}

function indexesOf(students: string[]): Map<string, number> {
  const indexOf = new Map<string, number>();
  for (let index = 0; index < students.length; index++) indexOf.set(students[index] as string, index);
  return indexOf;
}

function rosterOf(
  students: string[],
  placements: Placement[],
  enrolments: Enrolment[],
  t: number,
  indexOf = indexesOf(students),
): Roster {
  const [groups, sections, doubled] = [new Map<string, Bits>(), new Map<string, Bits>(), new Map<string, number>()];
  for (const placement of placements) {
    if (placement.since > t || (placement.until !== null && t >= placement.until)) continue;
    const index = indexOf.get(placement.personId);
    if (index === undefined) continue;
    let bits = groups.get(placement.groupId);
    if (!bits) {
      bits = emptyBits(students.length);
      groups.set(placement.groupId, bits);
    }
    const [word, mask] = [index >>> 5, 1 << (index & 31)];
    if (((bits[word] as number) & mask) !== 0) {
      const key = `${placement.groupId}/${index}`;
      doubled.set(key, (doubled.get(key) ?? 1) + 1);
    }
    bits[word] = (bits[word] as number) | mask;
  }
  for (const enrolment of enrolments) {
    const index = indexOf.get(enrolment.personId);
    if (index === undefined || enrolment.sectionId === null || !holdsAt(enrolment, t)) continue;
    let bits = sections.get(enrolment.sectionId);
    if (!bits) {
      bits = emptyBits(students.length);
      sections.set(enrolment.sectionId, bits);
    }
    setBit(bits, index);
  }
  return { students, indexOf, groups, sections, doubled };
}

// A review asks of two plans at two moments, most often with the same placements: the last few rosters are kept.
const rosters = new WeakMap<
  Plan["placements"],
  { enrolments: Plan["enrolments"]; people: Plan["people"]; t: number; steadyUntil: number; roster: Roster }[]
>();

/** The first moment after t at which somebody is placed, enrolled or leaves: until then the roster is the same. */
function steadyFrom(t: number, ...tables: { since: number; until: number | null }[][]): number {
  let first = Number.POSITIVE_INFINITY;
  for (const rows of tables)
    for (const { since, until } of rows) {
      if (since > t && since < first) first = since;
      if (until !== null && until > t && until < first) first = until;
    }
  return first;
}

/** Every student at t. */
export function rosterAt(plan: Plan, t: number): Roster {
  const { placements, enrolments, people } = plan;
  const kept = rosters.get(placements) ?? [];
  rosters.set(placements, kept);
  const found = kept.find(
    (one) => one.t <= t && t < one.steadyUntil && one.enrolments === enrolments && one.people === people,
  );
  if (found) return found.roster;
  const [placed, enrolled] = [Object.values(placements), Object.values(enrolments)];
  const roster = rosterOf(studentsAt(plan, t), placed, enrolled, t);
  kept.unshift({ enrolments, people, t, steadyUntil: steadyFrom(t, placed, enrolled), roster });
  kept.length = Math.min(kept.length, 4);
  return roster;
}

const places = new WeakMap<object, { students: Map<string, number>; of: Int32Array }>();
/** Who came after whom in the rows that were read last: the rows of items most often name people in one order. */
const followers = new WeakMap<Map<string, number>, Int32Array>();
/** Places of the persons of some rows, in a roster; -1 for whoever is not in it. Put together once a list of rows. */
export function placesOf(rows: { personId: string }[], { indexOf, students }: Roster): Int32Array {
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
      index = indexOf.get(personId) ?? -1;
      if (index >= 0) after[last] = index;
    }
    of[at] = index;
    if (index >= 0) last = index;
  }
  places.set(rows, { students: indexOf, of });
  return of;
}

/** When a placement or an enrolment begins or ends, in order: in between everybody is in what they are in. */
const changes = new WeakMap<Plan["placements"], { enrolments: Plan["enrolments"]; moments: Float64Array }>();
function changesOf({ placements, enrolments }: Plan): Float64Array {
  const ready = changes.get(placements);
  if (ready?.enrolments === enrolments) return ready.moments;
  const found = new Set<number>();
  for (const table of [placements, enrolments])
    for (const { since, until } of Object.values(table)) {
      found.add(since);
      if (until !== null) found.add(until);
    }
  const moments = Float64Array.from(found).sort();
  changes.set(placements, { enrolments, moments });
  return moments;
}

const pasts = new WeakMap<Roster, Map<number, { roster: Roster; then: Bits }>>();

/** What the students of a roster were in at another moment, at the same places; `then`: who was a student then. */
export function rosterOfThese(plan: Plan, roster: Roster, t: number): { roster: Roster; then: Bits } {
  const moments = changesOf(plan);
  // The last change up to then: whatever came between makes no difference.
  let [low, high] = [0, moments.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((moments[middle] as number) <= t) low = middle + 1;
    else high = middle;
  }
  const known = pasts.get(roster) ?? new Map<number, { roster: Roster; then: Bits }>();
  pasts.set(roster, known);
  const ready = known.get(low);
  if (ready) return ready;
  const enrolments = Object.values(plan.enrolments);
  const then = emptyBits(roster.students.length);
  for (const row of enrolments) {
    const index = row.role === "student" && holdsAt(row, t) ? roster.indexOf.get(row.personId) : undefined;
    if (index !== undefined) setBit(then, index);
  }
  const placements = Object.values(plan.placements);
  const made = { roster: rosterOf(roster.students, placements, enrolments, t, roster.indexOf), then };
  if (known.size > 200) known.clear();
  known.set(low, made);
  return made;
}

/** A few students alone: only their own rows are read. */
export function rosterOfFew(plan: Plan, personIds: string[], t: number): Roster {
  const { placementsOfPerson, enrolmentsOfPerson } = lookup(plan);
  const theirs = <Row>(rows: Map<string, Row[]>) => personIds.flatMap((personId) => rows.get(personId) ?? []);
  const enrolments = theirs(enrolmentsOfPerson);
  const students = new Set(
    enrolments.filter((row) => row.role === "student" && holdsAt(row, t)).map((row) => row.personId),
  );
  return rosterOf(
    personIds.filter((id) => students.has(id)),
    theirs(placementsOfPerson),
    enrolments,
    t,
  );
}

/** The roster after some placements changed: the sets of their groups are new, every other is shared. */
export function rosterAfter(
  roster: Roster,
  changes: { before: Placement | null; after: Placement | null }[],
  t: number,
): Roster {
  const next = { ...roster, groups: new Map(roster.groups), doubled: new Map(roster.doubled) };
  const copied = new Map<string, Bits>();
  const bitsOf = (groupId: string): Bits => {
    const bits = copied.get(groupId) ?? copyBits(next.groups.get(groupId) ?? emptyBits(roster.students.length));
    copied.set(groupId, bits);
    next.groups.set(groupId, bits);
    return bits;
  };
  const step = (placement: Placement | null, comes: boolean) => {
    const index = placement && holdsAt(placement, t) ? roster.indexOf.get(placement.personId) : undefined;
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
export function membersOf(plan: Plan, roster: Roster, { kind, id }: Target): Bits {
  if (kind === "group") return roster.groups.get(id) ?? emptyBits(roster.students.length);
  if (kind === "section") return roster.sections.get(id) ?? emptyBits(roster.students.length);
  if (kind === "set") {
    const none = emptyBits(roster.students.length);
    return (plan.sets[id]?.groupIds ?? []).reduce(
      (bits, groupId) => or(bits, roster.groups.get(groupId) ?? none),
      none,
    );
  }
  const alone = emptyBits(roster.students.length);
  const index = roster.indexOf.get(id);
  if (index !== undefined) setBit(alone, index);
  return alone;
}

/** What one student is in, read from the sets: nothing of the plan's rows is put in order for it. */
export function membershipsOf(plan: Plan, roster: Roster, index: number, t: number): Memberships {
  const [groupIds, sectionIds] = [new Set<string>(), new Set<string>()];
  for (const [id, bits] of roster.groups) if (hasBit(bits, index)) groupIds.add(id);
  for (const [id, bits] of roster.sections) if (hasBit(bits, index)) sectionIds.add(id);
  return membershipsIn(plan, roster.students[index] as string, groupIds, sectionIds, t);
}

/** Students by whose meetings they go by; students alike share one calendar. */
export function calendarsOf(
  plan: Plan,
  roster: Roster,
  momentOf: (index: number) => number,
): { calendar: Calendar; bits: Bits }[] {
  const found = new Map<string, { calendar: Calendar; bits: Bits }>();
  const groups = meetingGroups(plan);
  roster.students.forEach((personId, index) => {
    const theirs = groups.filter(({ id }) => {
      const bits = roster.groups.get(id);
      return bits !== undefined && hasBit(bits, index);
    });
    const calendar = calendarOf(plan, personId, new Set(theirs.map(({ id }) => id)), momentOf(index));
    const one = found.get(calendar.key) ?? { calendar, bits: emptyBits(roster.students.length) };
    setBit(one.bits, index);
    found.set(calendar.key, one);
  });
  return [...found.values()];
}
