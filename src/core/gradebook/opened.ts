/**
 * To whom an item was open at some moment before another: what `missing` asks. Memberships, enrolments, folders and
 * progress are those of each moment. Source: semantics.md section 7.
 */

import { progressByItem } from "../plan/progress.ts";
import { itemsAskedBy } from "../plan/references.ts";
import type { Item, Plan } from "../plan/types.ts";
import { momentsOf } from "../reach/changes.ts";
import { foldersOf } from "../reach/folders.ts";
import { membershipSetsThen, placesOf } from "../reach/membership-sets.ts";
import { isPublished, noAnswers, type Reach, reachAt, reachOf } from "../reach/reach.ts";
import { and, andNot, type Bits, eachBit, emptyBits, hasBit, isEmpty, or, setBit } from "../sets/bits.ts";
import { calendarsIn } from "../timing/anchors.ts";
import { instantsOfItem, instantsOfPerson } from "../timing/instants.ts";

/** Reach of moments that have passed: of all students of a reach at their places, or of one of them. */
export interface Past {
  reach: Reach;
  /** Who saw an item at a moment, of the students of now. */
  saw(item: Item, moment: number): Bits;
  sawAlone(item: Item, moment: number, index: number): boolean;
}

export function pastOf(reach: Reach): Past {
  const { plan, rawProgress: given, students } = reach;
  const all = new Map<number, { reach: Reach; then: Bits }>();
  const alone = new Map<string, Reach>();
  return {
    reach,
    saw(item, moment) {
      let past = all.get(moment);
      if (!past) {
        const { membershipSets, then } = membershipSetsThen(plan, reach.membershipSets, moment);
        past = { reach: reachOf(plan, given, moment, membershipSets, noAnswers()), then };
        all.set(moment, past);
      }
      return and(past.reach.sees(item), past.then);
    },
    sawAlone(item, moment, index) {
      const key = `${moment}/${index}`;
      const past = alone.get(key) ?? reachAt(plan, given, moment, [students[index] as string]);
      alone.set(key, past);
      return past.students.length === 1 && hasBit(past.sees(item), 0);
    },
  };
}

/** The items whose progress may open an item: those that its condition or one of a folder asks about. */
const askedFor = (plan: Plan, item: Item): Set<string> =>
  new Set([item, ...foldersOf(plan.items)].flatMap(itemsAskedBy));

/** When some students, at their places in the reach, did something in one of some items, or were given a mark. */
function progressMoments(reach: Reach, itemIds: Iterable<string>, each: (index: number, at: number) => void) {
  const { marks, handIns, openings } = progressByItem(reach.progress);
  const walk = <Row extends { personId: string; at: number }>(
    rows: Row[] | undefined,
    more?: (row: Row, index: number) => void,
  ) => {
    if (!rows) return;
    const places = placesOf(rows, reach.membershipSets);
    for (let at = 0; at < rows.length; at++) {
      const [index, row] = [places[at] as number, rows[at] as Row];
      if (index < 0) continue;
      each(index, row.at);
      more?.(row, index);
    }
  };
  for (const itemId of itemIds) {
    walk(marks.get(itemId));
    walk(handIns.get(itemId));
    walk(openings.get(itemId), ({ readAt }, index) => {
      if (readAt !== null) each(index, readAt);
    });
  }
}

/** Past so many students who have a moment in common all are asked about at once. */
const together = 16;

/** Of some students, at their places in the reach, those to whom an item was open at some moment before `limit`. */
export function openedBefore(past: Past, item: Item, limit: number, asked: Bits): Bits {
  const { reach } = past;
  const { plan, students } = reach;
  let found = emptyBits(students.length);
  if (!isPublished(plan, item)) return found;
  let left = asked;
  const settle = (bits: Bits) => {
    found = or(found, bits);
    left = andNot(left, bits);
  };
  // The clock alone: between two of these moments nothing changes but for whoever changes themselves.
  const calendars = calendarsIn(plan);
  const clock = new Set([item, ...foldersOf(plan.items)].flatMap((one) => instantsOfItem(plan, one, calendars)));
  const passed = [...clock].filter((at) => at < limit).sort((a, b) => b - a);
  const before = passed.slice(-1).map((first) => first - 1);
  for (const moment of [limit - 1, ...passed, ...before]) {
    settle(and(left, past.saw(item, moment)));
    if (isEmpty(left)) return found;
  }
  const own = new Map<number, Set<number>>();
  const add = (index: number, moment: number) => {
    if (moment >= limit) return;
    const those = own.get(moment) ?? new Set();
    own.set(moment, those.add(index));
  };
  eachBit(left, (index) => {
    for (const moment of instantsOfPerson(plan, students[index] as string)) add(index, moment);
  });
  progressMoments(reach, askedFor(plan, item), (index, at) => {
    if (hasBit(left, index)) add(index, at);
  });
  for (const [moment, indexes] of own) {
    if (indexes.size > together) {
      settle(and(left, past.saw(item, moment)));
      continue;
    }
    for (const index of indexes) {
      if (!hasBit(left, index) || !past.sawAlone(item, moment, index)) continue;
      const one = emptyBits(students.length);
      setBit(one, index);
      settle(one);
    }
  }
  return found;
}

/** The same of one student: every moment at which their reach may change is looked at. */
export function wasOpenBefore(reach: Reach, item: Item, personId: string, limit: number): boolean {
  const { plan, rawProgress: given } = reach;
  const own = reach.indexOf.get(personId);
  const moments = new Set([limit - 1, ...momentsOf(plan, personId)]);
  progressMoments(reach, askedFor(plan, item), (index, at) => {
    if (index === own) moments.add(at);
  });
  return [...moments].some((moment) => {
    if (moment >= limit) return false;
    const then = reachAt(plan, given, moment, [personId]);
    return then.students.length === 1 && hasBit(then.sees(item), 0);
  });
}
