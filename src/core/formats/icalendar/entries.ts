/** The entries of a calendar file (RFC 5545) as they are told: by id, the latest word of each, with what single occurrences are instead. */
import ICAL from "ical.js";
import { type Zone, type Zones, zoneNamed } from "./zones.ts";

/** A moment of a file: a day, or a local time in a zone. */
export interface Stamp {
  /** `2026-10-05` or `2026-10-05T09:00`. */
  wall: string;
  isDay: boolean;
  zone: Zone;
}
export const instantOfStamp = ({ wall, isDay, zone }: Stamp): number => zone.instantOf(isDay ? `${wall}T00:00` : wall);

export const utc = zoneNamed("UTC");
/** `zones` of the file; `value` one of those that a property lists. */
export function stampOf(property: ICAL.Property, value: unknown, zones: Zones): Stamp {
  // Of a period only its beginning is asked.
  const time = value instanceof ICAL.Period ? value.start : value;
  if (!(time instanceof ICAL.Time)) throw new Error("no time");
  const text = time.toString();
  if (time.isDate) return { wall: text.slice(0, 10), isDay: true, zone: zones.of(null) };
  const isUtc = text.endsWith("Z");
  const tzid = property.getFirstParameter("tzid");
  return { wall: text.slice(0, 16), isDay: false, zone: isUtc ? utc : zones.of(tzid || null) };
}
export const stampsOf = (component: ICAL.Component, name: string, zones: Zones): Stamp[] =>
  component
    .getAllProperties(name)
    .flatMap((property) => property.getValues().map((value) => stampOf(property, value, zones)));
export const stampIn = (component: ICAL.Component, name: string, zones: Zones): Stamp | null =>
  stampsOf(component, name, zones)[0] ?? null;

export const textOf = (component: ICAL.Component, name: string): string => {
  const value = component.getFirstPropertyValue(name);
  return typeof value === "string" ? value.trim() : "";
};

/** One VEVENT: an entry, or, with a recurrence id, what one occurrence of an entry is instead. */
export interface Raw {
  component: ICAL.Component;
  uid: string;
  sequence: number;
  isCancelled: boolean;
  title: string;
}

export const rawOf = (component: ICAL.Component, at: number, isCancelling: boolean): Raw => ({
  component,
  // An entry without an id is one of its own.
  uid: textOf(component, "uid") || `without an id ${at}`,
  sequence: Number(component.getFirstPropertyValue("sequence") ?? 0),
  isCancelled: isCancelling || textOf(component, "status").toUpperCase() === "CANCELLED",
  title: textOf(component, "summary"),
});

export function parsed(text: string): ICAL.Component[] | null {
  try {
    const roots = ICAL.parse(text) as unknown[];
    // Several calendars in one file are a list of them.
    const all = (typeof roots[0] === "string" ? [roots] : roots) as ConstructorParameters<typeof ICAL.Component>[0][];
    const calendars = all.map((root) => new ICAL.Component(root));
    return calendars.length > 0 && calendars.every(({ name }) => name === "vcalendar") ? calendars : null;
  } catch {
    return null;
  }
}

/**
 * The entries of a calendar, each apart from it: within one the library looks for a time's zone among all that the
 * calendar holds, once a time.
 */
export const eventsOf = ({ jCal }: ICAL.Component): ICAL.Component[] =>
  (jCal[2] as [string, ...unknown[]][])
    .filter(([name]) => name === "vevent")
    .map((one) => new ICAL.Component(one as ConstructorParameters<typeof ICAL.Component>[0]));

/** The entries of one id: what stands for all of it, and what single occurrences are instead. */
export interface Told {
  mains: Raw[];
  changed: { raw: Raw; of: Stamp }[];
}

/** Of some that are about the same, those of the highest sequence; of equals at one time the last. */
export function latest<Kind extends { raw: Raw }>(all: Kind[], key: (one: Kind) => string): Kind[] {
  const newest = new Map<string, Kind>();
  for (const one of all) {
    const before = newest.get(key(one));
    const isLater = !before || before.raw.sequence < one.raw.sequence;
    // What was cancelled stays so, unless a later word takes that back.
    if (isLater || (before.raw.sequence === one.raw.sequence && !before.raw.isCancelled)) newest.set(key(one), one);
  }
  return [...newest.values()];
}

export function toldOf(raws: Raw[], zones: Zones): Told {
  const all = raws.map((raw) => ({ raw, of: stampIn(raw.component, "recurrence-id", zones) }));
  const mains = all.filter(({ of }) => of === null);
  // Some programs give one id to several entries: those of one sequence that begin at different times are all meant.
  const highest = Math.max(...mains.map(({ raw }) => raw.sequence));
  const starts = ({ raw }: { raw: Raw }) => String(raw.component.getFirstPropertyValue("dtstart"));
  const changed = all.flatMap(({ raw, of }) => (of === null ? [] : [{ raw, of }]));
  return {
    mains: latest(
      mains.filter(({ raw }) => raw.sequence === highest),
      starts,
    ).map(({ raw }) => raw),
    changed: latest(changed, ({ of }) => String(instantOfStamp(of))),
  };
}
