/** The moments at which something of a course opens, closes or changes by the clock alone. Source: semantics.md section 5. */
import { lookup } from "../plan/lookup.ts";
import type { Condition, Item, Moment, Plan } from "../plan/types.ts";
import { type Calendar, instantByCalendar, isAnchor, wallByCalendar } from "./anchors.ts";
import { addDays, dayAfter, instantOf } from "./wall.ts";

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

/** Instants at which an item may open or close for somebody: dates with every extension, and moments of conditions. */
export function instantsOfItem(plan: Plan, item: Item, calendars: Calendar[]): number[] {
  const { overridesOfItem, allowances } = lookup(plan);
  const { timeZone } = plan.course;
  const found = new Set<number>();
  /** Every wall-clock time that a given value is for somebody. */
  const wallsOf = (given: Moment | "none" | undefined): string[] => {
    if (given === undefined || given === "none") return [];
    if (!isAnchor(given)) return [given];
    return calendars.map((one) => wallByCalendar(given, one, timeZone)).filter((wall) => wall !== null);
  };
  const extensions = new Set([0, ...allowances.map(({ extraDays }) => extraDays ?? 0)]);
  for (const { opens, closes } of [item.dates, ...(overridesOfItem.get(item.id) ?? []).map(({ dates }) => dates)]) {
    for (const wall of wallsOf(opens)) found.add(instantOf(wall, timeZone));
    if (item.readableAfterClose) continue;
    for (const wall of wallsOf(closes))
      for (const days of extensions) found.add(instantOf(addDays(wall, days), timeZone));
  }
  for (const moment of [item.condition, ...item.variants.map(({ condition }) => condition)].flatMap(momentsIn)) {
    for (const calendar of isAnchor(moment) ? calendars : [null]) {
      const at =
        calendar === null ? instantOf(moment as string, timeZone) : instantByCalendar(moment, calendar, timeZone);
      if (at !== null) found.add(at);
    }
  }
  return [...found];
}

/** The same for the whole outline, ascending. */
export function instantsOf(plan: Plan, calendars: Calendar[]): number[] {
  const found = new Set(Object.values(plan.items).flatMap((item) => instantsOfItem(plan, item, calendars)));
  return [...found].sort((a, b) => a - b);
}

/** When placements and enrolments of one person begin or end, ascending. */
export function instantsOfPerson(plan: Plan, personId: string): number[] {
  const { placementsOfPerson, enrolmentsOfPerson } = lookup(plan);
  const rows = [...(placementsOfPerson.get(personId) ?? []), ...(enrolmentsOfPerson.get(personId) ?? [])];
  const found = new Set(rows.flatMap(({ since, until }) => (until === null ? [since] : [since, until])));
  return [...found].sort((a, b) => a - b);
}
