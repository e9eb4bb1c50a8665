/**
 * The term as a row of steps between which nobody's reach changes by the clock: at each, who is there and in which
 * group and section. What one student does is nothing to another, so the nth change of every student between two
 * moments of the clock is one step. Source: semantics.md section 4, stranded.
 */
import type { Plan } from "../../plan/types.ts";
import { type Bits, copyBits, emptyBits } from "../../sets/bits.ts";
import { calendarsIn } from "../../timing/anchors.ts";
import { closingsOfItem, instantsOf, termOf } from "../../timing/instants.ts";
import type { MembershipSets } from "../membership-sets.ts";
import { mentionsIn } from "../mentions.ts";

export interface Step {
  t: number;
  /** Whether groups, sections or presence differ from the step before. */
  moved: boolean;
  membershipSets: MembershipSets;
  /** Who has an open enrolment as a student. */
  present: Bits;
  /** The moment of a student within the step. */
  momentOf(index: number): number;
}

interface Happening {
  at: number;
  kind: "group" | "section" | "present";
  id: string;
  by: 1 | -1;
}

/** Everybody who is a student at some moment of the term; the place in the list is the bit. */
export function studentsOfTerm(plan: Plan): string[] {
  const { from, until } = termOf(plan);
  const found = new Set<string>();
  for (const row of Object.values(plan.enrolments))
    if (row.role === "student" && row.since < until && (row.until === null || row.until > from))
      found.add(row.personId);
  return [...found];
}

/** What happens to each student in the term, in order; what began before it is at its beginning. */
function happenings(plan: Plan, indexOf: Map<string, number>): Happening[][] {
  const { from, until } = termOf(plan);
  const found: Happening[][] = Array.from({ length: indexOf.size }, () => []);
  const add = (row: { since: number; until: number | null }, index: number, kind: Happening["kind"], id: string) => {
    if (row.since >= until || (row.until !== null && (row.until <= from || row.until <= row.since))) return;
    const theirs = found[index] as Happening[];
    theirs.push({ at: Math.max(row.since, from), kind, id, by: 1 });
    if (row.until !== null && row.until < until) theirs.push({ at: row.until, kind, id, by: -1 });
  };
  for (const row of Object.values(plan.placements)) {
    const index = indexOf.get(row.personId);
    if (index !== undefined) add(row, index, "group", row.groupId);
  }
  for (const row of Object.values(plan.enrolments)) {
    const index = indexOf.get(row.personId);
    if (index === undefined) continue;
    if (row.sectionId !== null) add(row, index, "section", row.sectionId);
    if (row.role === "student") add(row, index, "present", "");
  }
  for (const theirs of found) theirs.sort((a, b) => a.at - b.at);
  return found;
}

/**
 * The moments of the clock within the term, ascending, its beginning first. What can be read after it closed is seen
 * as before, but is no longer taken: where a condition asks for a hand-in, that moment counts too.
 */
function clockOf(plan: Plan): number[] {
  const { from, until } = termOf(plan);
  const calendars = calendarsIn(plan);
  const asked = [...mentionsIn(plan).askedHandIns].flatMap((id) => plan.items[id] ?? []);
  const closings = asked.flatMap((item) => closingsOfItem(plan, item, calendars));
  const inTerm = [...instantsOf(plan, calendars), ...closings].filter((at) => at > from && at < until);
  return [from, ...[...new Set(inTerm)].sort((a, b) => a - b)];
}

/** The steps of the term in order. Rosters of steps are not changed afterwards. */
export function* stepsOf(plan: Plan, students: readonly string[]): Generator<Step> {
  const { until } = termOf(plan);
  const clock = clockOf(plan);
  const indexOf = new Map(students.map((personId, index) => [personId, index]));
  const left = happenings(plan, indexOf);
  const next = new Int32Array(students.length);
  const counts = new Map<string, number>();
  const sets = { group: new Map<string, Bits>(), section: new Map<string, Bits>(), present: new Map<string, Bits>() };
  let copied = new Set<Bits>();

  const apply = (index: number, { kind, id, by }: Happening) => {
    let bits = sets[kind].get(id);
    if (!bits || !copied.has(bits)) {
      bits = bits ? copyBits(bits) : emptyBits(students.length);
      copied.add(bits);
      sets[kind].set(id, bits);
    }
    const word = index >>> 5;
    const mask = 1 << (index & 31);
    const isIn = ((bits[word] as number) & mask) !== 0;
    // Most are in a group once: a count is kept only of those that are in it several times at once, or out of it
    // before they came in, as at a moment at which one placement ends and another begins.
    if (isIn === by < 0 && counts.size === 0)
      bits[word] = by > 0 ? (bits[word] as number) | mask : (bits[word] as number) & ~mask;
    else {
      const key = `${kind}/${id}/${index}`;
      const has = (counts.get(key) ?? (isIn ? 1 : 0)) + by;
      if (has > 1 || has < 0) counts.set(key, has);
      else counts.delete(key);
      bits[word] = has > 0 ? (bits[word] as number) | mask : (bits[word] as number) & ~mask;
    }
  };
  const step = (t: number, moved: boolean, momentOf: Step["momentOf"]): Step => {
    copied = new Set();
    return {
      t,
      moved,
      membershipSets: {
        students,
        indexOf,
        groups: new Map(sets.group),
        sections: new Map(sets.section),
        doubled: new Map(),
      },
      present: sets.present.get("") ?? emptyBits(students.length),
      momentOf,
    };
  };
  /** Applies what comes next to each student before `limit`; gives the moments at which it came. */
  const advance = (limit: number): Map<number, number> => {
    const came = new Map<number, number>();
    for (let index = 0; index < students.length; index++) {
      const theirs = left[index] as Happening[];
      let at = next[index] as number;
      const moment = theirs[at]?.at;
      if (moment === undefined || moment >= limit) continue;
      for (; theirs[at]?.at === moment; at++) apply(index, theirs[at] as Happening);
      next[index] = at;
      came.set(index, moment);
    }
    return came;
  };

  for (const [place, t] of clock.entries()) {
    const end = clock[place + 1] ?? until;
    const atOnce = advance(t + 1);
    yield step(t, place === 0 || atOnce.size > 0, () => t);
    for (let came = advance(end); came.size > 0; came = advance(end)) {
      const moments = came;
      yield step(t, true, (index) => moments.get(index) ?? t);
    }
  }
}
