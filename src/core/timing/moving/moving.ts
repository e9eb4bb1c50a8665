/**
 * Moving dates of groups by days or by meetings: what each date is before and after, as overrides of the group.
 * Days on which the group has no class are skipped: they are not counted, and nothing lands on one. Nothing is
 * clamped: what would need a meeting that there is not is listed and stays. Source: semantics.md section 6.
 */

import { addDays, dayAfter, daysBetween, instantOf } from "../../clock/local-time.ts";
import type { NewCommand } from "../../commands.ts";
import { lookup } from "../../plan/lookup.ts";
import type { DateFields, Group, Item, Moment } from "../../plan/types.ts";
import { type Bits, isEmpty, listBits } from "../../sets/bits.ts";
import { type Calendar, isAnchor, wallByCalendar } from "../anchors.ts";
import { freeDays, type Meeting } from "../meetings.ts";
import type { StudentsAt } from "../resolving/memberships.ts";
import { type MomentField, momentFields, resolveAmong } from "../resolving/resolve.ts";
import { groupCalendar } from "../resolving/usual.ts";

export type Step = { unit: "days" | "meetings"; count: number };

export interface Move {
  item: Item;
  group: Group;
  field: MomentField;
  /** As it is set now, and by the group's calendar. */
  given: Moment;
  before: string;
  /** What it becomes; null where it stays. */
  after: { given: Moment; wall: string } | null;
  /** Why it stays. */
  stays: string | null;
}

/** A day some class days on: days without class are not counted. */
function classDaysOn(day: string, count: number, free: ReadonlySet<string>): string {
  const by = Math.sign(count);
  let at = day;
  for (let left = Math.abs(count); left > 0; ) {
    at = dayAfter(at, by);
    if (!free.has(at)) left--;
  }
  return at;
}

/** The meeting that a date belongs to: that of its own day, otherwise the last one before; before them all the first. */
function meetingBy(wall: string, { meetings }: Calendar, timeZone: string): Meeting | undefined {
  const [day, at] = [wall.slice(0, 10), instantOf(wall, timeZone)];
  const sameDay = meetings.filter((one) => one.day === day);
  return (
    sameDay.filter(({ start }) => start <= at).at(-1) ??
    sameDay[0] ??
    meetings.filter(({ start }) => start <= at).at(-1) ??
    meetings[0]
  );
}

/** A wall-clock time as far from the meeting `count` on as it is from its own; null where there is none. */
export function meetingsOn(wall: string, count: number, calendar: Calendar, timeZone: string): string | null {
  const last = meetingBy(wall, calendar, timeZone);
  const to = last && calendar.meetings.find(({ number }) => number === last.number + count);
  return last && to ? addDays(wall, daysBetween(last.day, to.day)) : null;
}

/** What a date that somebody has was given as, before allowances; null where it is unset, "none", or their own. */
function givenFor({ plan, memberships }: StudentsAt, item: Item, index: number, field: MomentField): Moment | null {
  const all = lookup(plan).overridesOfItem.get(item.id) ?? [];
  const shared = all.filter(({ target }) => target.kind !== "person");
  const { origin, value } = resolveAmong(plan, item, memberships(index), field, shared);
  const given = origin.anchor ?? (origin.target ? overrideValue(all, origin.target, field) : item.dates[field]);
  return value === null || given === undefined || given === "none" ? null : given;
}

const overrideValue = (
  all: { target: { kind: string; id: string }; dates: DateFields }[],
  { kind, id }: { kind: string; id: string },
  field: MomentField,
) => all.find(({ target }) => target.kind === kind && target.id === id)?.dates[field];

/** What most members of a group have it given as; of an empty group its own override or the base. */
export function givenInGroup(reach: StudentsAt, item: Item, group: Group, field: MomentField): Moment | null {
  const members: Bits = reach.members({ kind: "group", id: group.id });
  if (isEmpty(members)) {
    const all = lookup(reach.plan).overridesOfItem.get(item.id) ?? [];
    const given = overrideValue(all, { kind: "group", id: group.id }, field) ?? item.dates[field];
    return given === undefined || given === "none" ? null : given;
  }
  const counts = new Map<string, { given: Moment | null; count: number }>();
  for (const index of listBits(members)) {
    const given = givenFor(reach, item, index, field);
    const key = JSON.stringify(given);
    const one = counts.get(key) ?? { given, count: 0 };
    one.count++;
    counts.set(key, one);
  }
  return [...counts.values()].sort((a, b) => b.count - a.count)[0]?.given ?? null;
}

/** The days on which a group has no class: the course's, and those of the section whose meetings it goes by. */
export const freeDaysOf = (reach: StudentsAt, calendar: Calendar): Set<string> =>
  freeDays(reach.plan.course, reach.plan.sections[calendar.key]);

/** By so many meetings: an anchor names another one; what is a plain time goes on by as many. */
function movedByMeetings(
  given: Moment,
  before: string,
  count: number,
  { calendar, free, timeZone }: { calendar: Calendar; free: ReadonlySet<string>; timeZone: string },
) {
  if (isAnchor(given) && typeof given.meeting === "number") {
    const next = { ...given, meeting: given.meeting + count };
    const there = calendar.meetings.some(({ number }) => number === next.meeting);
    const wall = there ? wallByCalendar(next, calendar, timeZone) : null;
    return wall === null ? null : { given: next as Moment, wall };
  }
  const moved = meetingsOn(before, count, calendar, timeZone);
  if (moved === null) return null;
  const day = moved.slice(0, 10);
  // What lands on a day without class goes on to the next one with.
  const wall = free.has(day) ? `${classDaysOn(day, Math.sign(count), free)}T${moved.slice(11)}` : moved;
  return { given: wall as Moment, wall };
}

/** A given moment moved; null where there is no meeting to move it to. */
export function movedBy(given: Moment, step: Step, calendar: Calendar, free: ReadonlySet<string>, timeZone: string) {
  const before = wallByCalendar(given, calendar, timeZone);
  if (before === null || step.count === 0) return null;
  if (step.unit === "meetings") return movedByMeetings(given, before, step.count, { calendar, free, timeZone });
  const day = classDaysOn(before.slice(0, 10), step.count, free);
  const wall = `${day}T${before.slice(11)}`;
  if (!isAnchor(given)) return { given: wall as Moment, wall };
  return { given: { ...given, days: given.days + daysBetween(before.slice(0, 10), day) } as Moment, wall };
}

/** Every date of some items in some groups, before and after. */
export function movesOf(
  reach: StudentsAt,
  bars: { item: Item; group: Group }[],
  step: Step,
  fields: readonly MomentField[] = momentFields,
): Move[] {
  const { timeZone } = reach.plan.course;
  const calendars = new Map<string, { calendar: Calendar; free: Set<string> }>();
  const of = (group: Group) => {
    const ready = calendars.get(group.id);
    if (ready) return ready;
    const calendar = groupCalendar(reach, group);
    const made = { calendar, free: freeDaysOf(reach, calendar) };
    calendars.set(group.id, made);
    return made;
  };
  return bars.flatMap(({ item, group }) =>
    fields.flatMap((field): Move[] => {
      const given = givenInGroup(reach, item, group, field);
      const { calendar, free } = of(group);
      const before = given && wallByCalendar(given, calendar, timeZone);
      if (given === null || before === null) return [];
      const after = movedBy(given, step, calendar, free, timeZone);
      return [{ item, group, field, given, before, after, stays: after ? null : staysBecause(step, calendar) }];
    }),
  );
}

const staysBecause = ({ count }: Step, { meetings }: Calendar): string =>
  count === 0
    ? "it is not moved"
    : meetings.length === 0
      ? "the group has no meetings"
      : `there is no meeting ${count > 0 ? "after the last" : "before the first"}`;

/** The commands that draft some moves: one override an item and group, with the fields that move. */
export function moveCommands(moves: Move[]): NewCommand[] {
  const found = new Map<string, { item: Item; group: Group; dates: DateFields }>();
  for (const { item, group, field, after } of moves) {
    if (!after) continue;
    const key = `${item.id}/${group.id}`;
    const one = found.get(key) ?? { item, group, dates: {} };
    one.dates[field] = after.given;
    found.set(key, one);
  }
  return [...found.values()].map(({ item, group, dates }) => ({
    kind: "override.set",
    itemIds: [item.id],
    target: { kind: "group", id: group.id },
    dates,
  }));
}
