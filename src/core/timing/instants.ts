/** The moments at which something of a course opens, closes or changes by the clock alone. Source: semantics.md section 5. */

import { addDays, dayAfter, instantOf } from "../clock/local-time.ts";
import { once } from "../memo.ts";
import { lookup } from "../plan/lookup.ts";
import type { Condition, Item, Moment, Plan } from "../plan/types.ts";
import { type Calendar, instantByCalendar, isAnchor, wallByCalendar } from "./anchors.ts";
import { allowancesFor } from "./resolving/resolve.ts";

/** The term as instants, [from, until): its first day's beginning, and the end of its last. */
export function termOf({ course }: Plan): { from: number; until: number } {
  return {
    from: instantOf(`${course.termStart}T00:00`, course.timeZone),
    until: instantOf(`${dayAfter(course.termEnd, 1)}T00:00`, course.timeZone),
  };
}

/** Every moment that a condition names. */
function momentsIn(condition: Condition | null): Moment[] {
  if (!condition) return [];
  if ("of" in condition) return condition.of.flatMap(momentsIn);
  return "moment" in condition ? [condition.moment] : [];
}

/** Every wall-clock time that a given value is for somebody. */
function wallsOf(given: Moment | "none" | undefined, calendars: Calendar[], timeZone: string): string[] {
  if (given === undefined || given === "none") return [];
  if (!isAnchor(given)) return [given];
  return calendars.map((one) => wallByCalendar(given, one, timeZone)).filter((wall) => wall !== null);
}

/** The dates of an item: its own, and those of its overrides. */
const datesOf = (plan: Plan, item: Item) => [
  item.dates,
  ...(lookup(plan).overridesOfItem.get(item.id) ?? []).map(({ dates }) => dates),
];

/** By how many days allowances may move a date of an item. */
const extensionsOf = (plan: Plan, item: Item): Set<number> =>
  new Set([0, ...allowancesFor(plan, item).map(({ extraDays }) => extraDays ?? 0)]);

/** When an item may close for somebody: each closes, with every extension. */
export function closingsOfItem(plan: Plan, item: Item, calendars: Calendar[]): number[] {
  const { timeZone } = plan.course;
  const walls = datesOf(plan, item).flatMap(({ closes }) => wallsOf(closes, calendars, timeZone));
  const extensions = [...extensionsOf(plan, item)];
  return walls.flatMap((wall) => extensions.map((days) => instantOf(addDays(wall, days), timeZone)));
}

/** The first instants at which what was not handed in may be missing: just after each due, and at each closes. */
export function deadlinesOfItem(plan: Plan, item: Item, calendars: Calendar[]): number[] {
  const { timeZone } = plan.course;
  const extensions = [...extensionsOf(plan, item)];
  const moved = (given: Moment | "none" | undefined) =>
    wallsOf(given, calendars, timeZone).flatMap((wall) =>
      extensions.map((days) => instantOf(addDays(wall, days), timeZone)),
    );
  const dues = datesOf(plan, item).flatMap(({ due }) => moved(due).map((at) => at + 1));
  return [...dues, ...closingsOfItem(plan, item, calendars)];
}

/** Instants at which an item may open or close for somebody: dates with every extension, and moments of conditions. */
export function instantsOfItem(plan: Plan, item: Item, calendars: Calendar[]): number[] {
  const { timeZone } = plan.course;
  const found = new Set<number>();
  for (const { opens } of datesOf(plan, item)) {
    for (const wall of wallsOf(opens, calendars, timeZone)) found.add(instantOf(wall, timeZone));
  }
  if (!item.readableAfterClose) for (const at of closingsOfItem(plan, item, calendars)) found.add(at);
  for (const moment of [item.condition, ...item.variants.map(({ condition }) => condition)].flatMap(momentsIn)) {
    for (const calendar of isAnchor(moment) ? calendars : [null]) {
      const at =
        calendar === null ? instantOf(moment as string, timeZone) : instantByCalendar(moment, calendar, timeZone);
      if (at !== null) found.add(at);
    }
  }
  return [...found];
}

const outlineInstants = once((_plan: Plan) => new Map<string, number[]>());

/** The same for the whole outline, ascending. Kept with the plan, for each list of calendars. */
export function instantsOf(plan: Plan, calendars: Calendar[]): number[] {
  const known = outlineInstants(plan);
  const key = calendars.map((one) => one.key).join();
  const ready = known.get(key);
  if (ready) return ready;
  const found = new Set(Object.values(plan.items).flatMap((item) => instantsOfItem(plan, item, calendars)));
  const made = [...found].sort((a, b) => a - b);
  known.set(key, made);
  return made;
}

const instantsOfPeople = once((_: ReturnType<typeof lookup>) => new Map<string, readonly number[]>());
/** When placements and enrolments of one person begin or end, ascending. */
export function instantsOfPerson(plan: Plan, personId: string): readonly number[] {
  const found = lookup(plan);
  // Every column of a gradebook asks it of everybody who handed in nothing.
  const known = instantsOfPeople(found);
  const ready = known.get(personId);
  if (ready) return ready;
  const moments = new Set<number>();
  for (const rows of [found.placementsOfPerson.get(personId), found.enrolmentsOfPerson.get(personId)])
    for (const { since, until } of rows ?? []) {
      moments.add(since);
      if (until !== null) moments.add(until);
    }
  const made = [...moments].sort((a, b) => a - b);
  known.set(personId, made);
  return made;
}
