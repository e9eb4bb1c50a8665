/** When an entry of a calendar file takes place: how long it lasts, and, of a repeated one, each time around some days. */
import ICAL from "ical.js";
import { dayAfter, daysBetween } from "../../clock/local-time.ts";
import { instantOfStamp, type Stamp, stampIn, stampsOf, utc } from "./entries.ts";
import { repeatedBetween } from "./recurring.ts";
import type { Zones } from "./zones.ts";

/** When one thing begins and ends, as instants, or as days of which the last is not meant any more. */
export type Span = { kind: "days"; first: string; after: string } | { kind: "timed"; start: number; end: number };

/** How long an entry lasts: whole days of one, milliseconds of another. */
export function lengthOf(component: ICAL.Component, start: Stamp, zones: Zones): number {
  const end = stampIn(component, "dtend", zones);
  const duration = component.getFirstPropertyValue("duration");
  const seconds = duration instanceof ICAL.Duration ? duration.toSeconds() : null;
  if (start.isDay) {
    const days = end
      ? daysBetween(start.wall, end.wall.slice(0, 10))
      : seconds === null
        ? 1
        : Math.ceil(seconds / 86_400);
    return Math.max(1, days);
  }
  return Math.max(0, end ? instantOfStamp(end) - instantOfStamp(start) : (seconds ?? 0) * 1000);
}
export const spanOf = (start: Stamp, length: number): Span =>
  start.isDay
    ? { kind: "days", first: start.wall, after: dayAfter(start.wall, length) }
    : { kind: "timed", start: instantOfStamp(start), end: instantOfStamp(start) + length };

/** What is taken out of a repeated entry: moments, and days where the file names only those. */
export function takenOut(stamps: Stamp[]): (one: Stamp) => boolean {
  const [instants, days] = [new Set<number>(), new Set<string>()];
  for (const stamp of stamps)
    if (stamp.isDay) days.add(stamp.wall);
    else instants.add(instantOfStamp(stamp));
  return (one) => days.has(one.wall.slice(0, 10)) || (!one.isDay && instants.has(instantOfStamp(one)));
}

const rulesOf = (component: ICAL.Component, name: string): ICAL.Recur[] =>
  component.getAllProperties(name).flatMap((property) => property.getValues() as ICAL.Recur[]);

/** Whether something is past the end of a rule: a moment, or the whole of a day where only that is named. */
export function isPast(rule: ICAL.Recur, one: Stamp): boolean {
  const until = rule.until as ICAL.Time | null | undefined;
  if (!until) return false;
  const text = until.toString();
  if (until.isDate || one.isDay) return one.wall.slice(0, 10) > text.slice(0, 10);
  return instantOfStamp(one) > (text.endsWith("Z") ? utc : one.zone).instantOf(text.slice(0, 16));
}

/** The beginnings of a repeated entry around some days, in its own zone. */
export function beginnings(component: ICAL.Component, start: Stamp, zones: Zones, window: [number, number]): Stamp[] {
  const by = (name: string): Stamp[] =>
    rulesOf(component, name).flatMap((rule) =>
      repeatedBetween(start.wall, rule, ...window)
        .map((wall): Stamp => ({ ...start, wall: start.isDay ? wall.slice(0, 10) : wall }))
        .filter((one) => !isPast(rule, one)),
    );
  const isTakenOut = takenOut([...stampsOf(component, "exdate", zones), ...by("exrule")]);
  const found = new Map<number, Stamp>();
  for (const one of [start, ...by("rrule"), ...stampsOf(component, "rdate", zones)])
    if (!isTakenOut(one)) found.set(instantOfStamp(one), one);
  return [...found.values()];
}
