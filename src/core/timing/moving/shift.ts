/**
 * A section, or a group that meets by itself, loses a meeting, or has it at another time: what is anchored to the meetings that change moves with them;
 * where one is lost, everything else is offered with a reasoned choice. Source: semantics.md section 6.
 */

import { instantOf, wallOf } from "../../clock/local-time.ts";
import type { NewCommand } from "../../commands.ts";
import { lookup, outlineOrder } from "../../plan/lookup.ts";
import type { DateFields, Item, Moment, Plan, Target } from "../../plan/types.ts";
import { and, eachBit, isEmpty, isSubset, listBits } from "../../sets/bits.ts";
import { type Calendar, isAnchor, wallByCalendar } from "../anchors.ts";
import { freeDays, type Meeting, type MeetingDays, meetingsOf } from "../meetings.ts";
import { changeDays, type MeetingOwner, meetingOwner } from "../owners.ts";
import type { StudentsAt } from "../resolving/memberships.ts";
import { instantOfValue, type MomentField, momentFields, resolveAmong } from "../resolving/resolve.ts";
import { movedBy } from "./moving.ts";

export interface Anchored {
  item: Item;
  field: MomentField;
  before: string;
  /** Null where the section then has no such meeting and no fallback. */
  after: string | null;
}
export interface Offer {
  item: Item;
  field: MomentField;
  /** Whom the date would be set for: the section, or the group within it that has one of its own. */
  target: Target;
  before: string;
  /** A meeting later, as far from it as it was from the one before; null where there is no such meeting. */
  after: string | null;
  /** Whether it is chosen unless somebody decides otherwise. */
  moves: boolean;
  why: string;
}
export interface Shift {
  owner: MeetingOwner;
  lost: Meeting;
  /** The section or group without the meeting. */
  change: NewCommand;
  anchored: Anchored[];
  offers: Offer[];
}

type Days = Pick<MeetingDays, "added" | "moved" | "noClassDays">;

/** Somebody's days with one meeting at another time. */
function daysMoved({ added, moved, noClassDays }: MeetingDays, meeting: Meeting, to: string, timeZone: string): Days {
  if (meeting.slot === null) {
    const [at, end] = [instantOf(to, timeZone), meeting.end - meeting.start];
    const until = wallOf(at + end, timeZone).slice(11);
    const next = added.map((one) =>
      instantOf(one.start, timeZone) === meeting.start ? { ...one, start: to, end: until } : one,
    );
    return { added: next, moved, noClassDays };
  }
  const { day, start } = meeting.slot;
  return {
    added,
    moved: [...moved.filter((one) => one.day !== day || one.start !== start), { day, start, to }],
    noClassDays,
  };
}

/** Somebody's days without one meeting: one that was added goes; otherwise there is no class on its day. */
function daysWithout({ added, moved, noClassDays }: MeetingDays, lost: Meeting, timeZone: string): Days {
  if (lost.slot === null)
    return { added: added.filter(({ start }) => instantOf(start, timeZone) !== lost.start), moved, noClassDays };
  const { day, start } = lost.slot;
  return {
    added,
    moved: moved.filter((one) => one.day !== day || one.start !== start),
    noClassDays: [...new Set([...noClassDays, day])].sort(),
  };
}

/** What students of a section or group have a field given as, before persons' own and allowances, and whom that is for. */
function givenIn(
  reach: StudentsAt,
  item: Item,
  index: number,
  field: MomentField,
): { moment: Moment; target: Target | null } | null {
  const overrides = (lookup(reach.plan).overridesOfItem.get(item.id) ?? []).filter(
    ({ target }) => target.kind !== "person",
  );
  const { origin, value } = resolveAmong(reach.plan, item, reach.memberships(index), field, overrides);
  if (value === null || value === "none") return null;
  const { target } = origin;
  const given = target
    ? overrides.find((one) => one.target.kind === target.kind && one.target.id === target.id)?.dates[field]
    : item.dates[field];
  return given === undefined || given === "none" ? null : { moment: given, target };
}

/** Whether a date given as it is moves by itself, and why. */
function choice(
  item: Item,
  opens: number | null,
  due: number | null,
  lost: Meeting,
  after: string | null,
  plan: Plan,
): Pick<Offer, "moves" | "why"> {
  const { termEnd } = plan.course;
  if (after === null) return { moves: false, why: "there is no later meeting to move it by" };
  if (after.slice(0, 10) > termEnd) return { moves: false, why: "it would fall after the end of term" };
  if (item.kind === "event") return { moves: false, why: "an event takes place when it takes place" };
  const until = due ?? Number.POSITIVE_INFINITY;
  if ((opens ?? Number.NEGATIVE_INFINITY) <= lost.start && lost.start < until)
    return { moves: true, why: `meeting ${lost.number} was part of its working time` };
  return {
    moves: false,
    why: "nothing of it is lost: it lies wholly after",
  };
}

/** Null where the section or group has no such meeting. `to`: when it takes place instead; null: it is lost. */
export function shiftOf(reach: StudentsAt, ownerId: string, number: number, to: string | null = null): Shift | null {
  const { plan } = reach;
  const { timeZone } = plan.course;
  const owner = meetingOwner(plan, ownerId);
  const meetings = owner ? meetingsOf(plan.course, owner.days) : [];
  const lost = meetings.find((one) => one.number === number);
  if (!owner || !lost) return null;
  const fields = to === null ? daysWithout(owner.days, lost, timeZone) : daysMoved(owner.days, lost, to, timeZone);
  const before: Calendar = { key: owner.id, meetings };
  const after: Calendar = { key: owner.id, meetings: meetingsOf(plan.course, { ...owner.days, ...fields }) };
  const free = freeDays(plan.course, fields);
  const members = reach.members({ kind: owner.kind, id: owner.id });
  /** Those who go by its meetings. */
  const goBy = reach.calendars().find(({ calendar }) => calendar.key === owner.id)?.bits ?? reach.sets.nobody;
  const anchored: Anchored[] = [];
  const offers: Offer[] = [];
  for (const { item } of outlineOrder(plan)) {
    const theirs = and(and(members, goBy), reach.meant(item));
    if (isEmpty(theirs)) continue;
    const [first] = listBits(theirs) as [number];
    const given = Object.fromEntries(
      momentFields.map((field) => [field, givenIn(reach, item, first, field)]),
    ) as Record<MomentField, ReturnType<typeof givenIn>>;
    const at = (field: MomentField) => {
      const one = given[field];
      return one === null ? null : instantOfValue(plan, wallByCalendar(one.moment, before, timeZone));
    };
    for (const field of momentFields) {
      const one = given[field];
      const was = one && wallByCalendar(one.moment, before, timeZone);
      if (one === null || was === null) continue;
      const { moment, target } = one;
      if (isAnchor(moment)) {
        const is = wallByCalendar(moment, after, timeZone);
        if (is !== was) anchored.push({ item, field, before: was, after: is });
        continue;
      }
      if (to !== null || instantOf(was, timeZone) < lost.start) continue;
      const moved = movedBy(moment, { unit: "meetings", count: 1 }, before, free, timeZone);
      const later = moved?.wall ?? null;
      // A group that lies within it keeps its override; whatever is for more than those who meet is left alone.
      const within = target?.kind === "group" && isSubset(reach.members(target), members);
      const whose: Target = within ? target : { kind: owner.kind, id: owner.id };
      offers.push({
        item,
        field,
        target: whose,
        before: was,
        after: later,
        ...choice(item, at("opens"), at("due"), lost, later, plan),
      });
    }
  }
  return { owner, lost, change: changeDays(owner, fields), anchored, offers };
}

/** The draft of a shift, with the offers that were taken. */
export function shiftCommands({ change, offers }: Shift, taken: ReadonlySet<Offer>): NewCommand[] {
  const overrides = new Map<string, { itemId: string; target: Target; dates: DateFields }>();
  for (const offer of offers) {
    const { item, field, target, after } = offer;
    if (!taken.has(offer) || after === null) continue;
    const key = `${item.id}/${target.id}`;
    const one = overrides.get(key) ?? { itemId: item.id, target, dates: {} };
    one.dates[field] = after;
    overrides.set(key, one);
  }
  return [
    change,
    ...[...overrides.values()].map(
      ({ itemId, target, dates }): NewCommand => ({ kind: "override.set", itemIds: [itemId], target, dates }),
    ),
  ];
}

/** How many students go by the meetings of a section or group. */
export function goingBy(reach: StudentsAt, ownerId: string): number {
  let count = 0;
  const bits = reach.calendars().find(({ calendar }) => calendar.key === ownerId)?.bits;
  if (bits) eachBit(bits, () => count++);
  return count;
}
