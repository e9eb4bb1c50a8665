/** iCalendar (RFC 5545) in: whole days and timed entries within some days, repeated ones as often as they occur. */
import ICAL from "ical.js";
import { dayAfter, daysBetween, wallOf } from "../../clock/local-time.ts";
import { collect } from "../../sets/collect.ts";
import { asUtc, repeatedBetween } from "./recurring.ts";
import { type Zone, type Zones, zoneNamed, zonesIn } from "./zones.ts";

export type ReadEntry = { title: string; place: string } & (
  | { kind: "day"; day: string }
  /** Wall-clock times in the course's zone. */
  | { kind: "timed"; start: string; end: string }
);
export interface CalendarRead {
  /** Ascending, within the days that were asked for. */
  entries: ReadEntry[];
  /** Days and entries that lie outside those days; something repeated counts once, where none of it lies within. */
  outside: number;
  /** What could not be read, a sentence each. */
  unreadable: string[];
  /** What is to be known of the file beside its entries: what was cancelled, tasks, zones that nobody knows. */
  notes: string[];
}
export interface CalendarDays {
  timeZone: string;
  /** The first and the last day. */
  from: string;
  until: string;
}

const noCalendar = {
  wrong: "This is no calendar file. It should begin with BEGIN:VCALENDAR; export it again as .ics.",
};

/** A moment of a file: a day, or a local time in a zone. */
interface Stamp {
  /** `2026-10-05` or `2026-10-05T09:00`. */
  wall: string;
  isDay: boolean;
  zone: Zone;
}
const instantOfStamp = ({ wall, isDay, zone }: Stamp): number => zone.instantOf(isDay ? `${wall}T00:00` : wall);

const utc = zoneNamed("UTC");
/** `zones` of the file; `value` one of those that a property lists. */
function stampOf(property: ICAL.Property, value: unknown, zones: Zones): Stamp {
  // Of a period only its beginning is asked.
  const time = value instanceof ICAL.Period ? value.start : value;
  if (!(time instanceof ICAL.Time)) throw new Error("no time");
  const text = time.toString();
  if (time.isDate) return { wall: text.slice(0, 10), isDay: true, zone: zones.of(null) };
  const isUtc = text.endsWith("Z");
  const tzid = property.getFirstParameter("tzid");
  return { wall: text.slice(0, 16), isDay: false, zone: isUtc ? utc : zones.of(tzid || null) };
}
const stampsOf = (component: ICAL.Component, name: string, zones: Zones): Stamp[] =>
  component
    .getAllProperties(name)
    .flatMap((property) => property.getValues().map((value) => stampOf(property, value, zones)));
const stampIn = (component: ICAL.Component, name: string, zones: Zones): Stamp | null =>
  stampsOf(component, name, zones)[0] ?? null;

const textOf = (component: ICAL.Component, name: string): string => {
  const value = component.getFirstPropertyValue(name);
  return typeof value === "string" ? value.trim() : "";
};

/** One VEVENT: an entry, or, with a recurrence id, what one occurrence of an entry is instead. */
interface Raw {
  component: ICAL.Component;
  uid: string;
  sequence: number;
  isCancelled: boolean;
  title: string;
}

const rawOf = (component: ICAL.Component, at: number, isCancelling: boolean): Raw => ({
  component,
  // An entry without an id is one of its own.
  uid: textOf(component, "uid") || `without an id ${at}`,
  sequence: Number(component.getFirstPropertyValue("sequence") ?? 0),
  isCancelled: isCancelling || textOf(component, "status").toUpperCase() === "CANCELLED",
  title: textOf(component, "summary"),
});

function parsed(text: string): ICAL.Component[] | null {
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
const eventsOf = ({ jCal }: ICAL.Component): ICAL.Component[] =>
  (jCal[2] as [string, ...unknown[]][])
    .filter(([name]) => name === "vevent")
    .map((one) => new ICAL.Component(one as ConstructorParameters<typeof ICAL.Component>[0]));

/** The entries of one id: what stands for all of it, and what single occurrences are instead. */
interface Told {
  mains: Raw[];
  changed: { raw: Raw; of: Stamp }[];
}

/** Of some that are about the same, those of the highest sequence; of equals at one time the last. */
function latest<Kind extends { raw: Raw }>(all: Kind[], key: (one: Kind) => string): Kind[] {
  const holding = new Map<string, Kind>();
  for (const one of all) {
    const before = holding.get(key(one));
    const isLater = !before || before.raw.sequence < one.raw.sequence;
    // What was cancelled stays so, unless a later word takes that back.
    if (isLater || (before.raw.sequence === one.raw.sequence && !before.raw.isCancelled)) holding.set(key(one), one);
  }
  return [...holding.values()];
}

function toldOf(raws: Raw[], zones: Zones): Told {
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

/** When one thing begins and ends, as instants, or as days of which the last is not meant any more. */
type Span = { kind: "days"; first: string; after: string } | { kind: "timed"; start: number; end: number };

/** How long an entry lasts: whole days of one, milliseconds of another. */
function lengthOf(component: ICAL.Component, start: Stamp, zones: Zones): number {
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
const spanOf = (start: Stamp, length: number): Span =>
  start.isDay
    ? { kind: "days", first: start.wall, after: dayAfter(start.wall, length) }
    : { kind: "timed", start: instantOfStamp(start), end: instantOfStamp(start) + length };

/** What is taken out of a repeated entry: moments, and days where the file names only those. */
function takenOut(stamps: Stamp[]): (one: Stamp) => boolean {
  const [instants, days] = [new Set<number>(), new Set<string>()];
  for (const stamp of stamps)
    if (stamp.isDay) days.add(stamp.wall);
    else instants.add(instantOfStamp(stamp));
  return (one) => days.has(one.wall.slice(0, 10)) || (!one.isDay && instants.has(instantOfStamp(one)));
}

const rulesOf = (component: ICAL.Component, name: string): ICAL.Recur[] =>
  component.getAllProperties(name).flatMap((property) => property.getValues() as ICAL.Recur[]);

/** Whether something is past the end of a rule: a moment, or the whole of a day where only that is named. */
function isPast(rule: ICAL.Recur, one: Stamp): boolean {
  const until = rule.until as ICAL.Time | null | undefined;
  if (!until) return false;
  const text = until.toString();
  if (until.isDate || one.isDay) return one.wall.slice(0, 10) > text.slice(0, 10);
  return instantOfStamp(one) > (text.endsWith("Z") ? utc : one.zone).instantOf(text.slice(0, 16));
}

/** The beginnings of a repeated entry around some days, in its own zone. */
function beginnings(component: ICAL.Component, start: Stamp, zones: Zones, window: [number, number]): Stamp[] {
  const by = (name: string): Stamp[] =>
    rulesOf(component, name).flatMap((rule) =>
      repeatedBetween({ start: start.wall, rules: [rule] }, ...window)
        .map((wall): Stamp => ({ ...start, wall: start.isDay ? wall.slice(0, 10) : wall }))
        .filter((one) => !isPast(rule, one)),
    );
  const isTakenOut = takenOut([...stampsOf(component, "exdate", zones), ...by("exrule")]);
  const found = new Map<number, Stamp>();
  for (const one of [start, ...by("rrule"), ...stampsOf(component, "rdate", zones)])
    if (!isTakenOut(one)) found.set(instantOfStamp(one), one);
  return [...found.values()];
}

/** Reads a file's calendars, and puts down what lies within the days and what is to be said. */
class Reading {
  readonly found: CalendarRead = { entries: [], outside: 0, unreadable: [], notes: [] };
  private cancelled = 0;
  private orphans: string[] = [];
  constructor(
    private readonly zones: Zones,
    private readonly days: CalendarDays,
  ) {}

  take({ mains, changed }: Told): void {
    const title = mains[0]?.title || changed[0]?.raw.title || "An entry without a title";
    const isCancelled = mains.some((main) => main.isCancelled);
    try {
      for (const main of mains) this.takeMain(main, changed);
      for (const { raw } of changed) {
        if (raw.isCancelled || isCancelled) continue;
        if (mains.length === 0) this.orphans.push(raw.title || "an entry without a title");
        if (raw.component.getFirstProperty("recurrence-id")?.getFirstParameter("range") === "THISANDFUTURE")
          this.found.unreadable.push(`${title} changes itself for all later times, of which only the first is taken.`);
        this.takeOnce(raw.component);
      }
    } catch {
      this.found.unreadable.push(`${title} has no date that can be read.`);
    }
  }

  private takeMain({ component, isCancelled }: Raw, changed: Told["changed"]): void {
    this.cancelled += isCancelled ? 1 : changed.filter(({ raw }) => raw.isCancelled).length;
    if (isCancelled) return;
    const isRepeated = ["rrule", "rdate"].some((name) => component.hasProperty(name));
    if (isRepeated || changed.length > 0) this.takeRepeated(component, changed);
    else this.takeOnce(component);
  }

  private takeRepeated(component: ICAL.Component, changed: Told["changed"]): void {
    const start = this.startOf(component);
    const length = lengthOf(component, start, this.zones);
    const isElsewhere = takenOut(changed.map(({ of }) => of));
    // Zones lie at most a day apart; what began earlier and lasts until the first day is within it too.
    const margin = 2 * 86_400_000 + (start.isDay ? length * 86_400_000 : 0);
    const window: [number, number] = [asUtc(this.days.from) - margin, asUtc(this.days.until) + 3 * 86_400_000];
    const before = this.found.entries.length;
    const outside = this.found.outside;
    for (const one of beginnings(component, start, this.zones, window))
      if (!isElsewhere(one)) this.put(component, spanOf(one, length));
    // Something repeated counts once where none of it lies within.
    this.found.outside = outside + (this.found.entries.length === before ? 1 : 0);
  }

  private startOf(component: ICAL.Component): Stamp {
    const start = stampIn(component, "dtstart", this.zones);
    if (!start) throw new Error("no start");
    return start;
  }

  private takeOnce(component: ICAL.Component): void {
    const start = this.startOf(component);
    const day = start.wall.slice(0, 10);
    const { from, until } = this.days;
    // Far from the term nothing has to be reckoned.
    if (!start.isDay && (day > dayAfter(until, 2) || day < dayAfter(from, -2))) this.found.outside++;
    else this.put(component, spanOf(start, lengthOf(component, start, this.zones)));
  }

  private put(component: ICAL.Component, span: Span): void {
    const { from, until, timeZone } = this.days;
    const words = { title: textOf(component, "summary"), place: textOf(component, "location").slice(0, 100) };
    if (span.kind === "timed") {
      const [start, end] = [wallOf(span.start, timeZone), wallOf(span.end, timeZone)];
      if (start.slice(0, 10) < from || start.slice(0, 10) > until) this.found.outside++;
      else this.found.entries.push({ kind: "timed", start, end, ...words });
      return;
    }
    const [first = from] = [span.first, from].sort().slice(-1);
    const [after = until] = [span.after, dayAfter(until, 1)].sort();
    for (let day = first; day < after; day = dayAfter(day, 1)) this.found.entries.push({ kind: "day", day, ...words });
    const within = Math.max(0, daysBetween(first, after));
    this.found.outside += daysBetween(span.first, span.after) - within;
  }

  /** What is left to say once all was read. `tasks`: entries of another kind. */
  done(tasks: number): CalendarRead {
    const { entries, notes } = this.found;
    const at = (entry: ReadEntry) => (entry.kind === "day" ? `${entry.day}T` : entry.start);
    entries.sort((a, b) => (at(a) < at(b) ? -1 : at(a) > at(b) ? 1 : 0));
    const counted = (count: number, one: string, many: string) => `${count} ${count === 1 ? one : many}`;
    if (this.cancelled > 0)
      notes.push(`${counted(this.cancelled, "entry is", "entries are")} cancelled, and left out.`);
    if (this.orphans.length > 0)
      notes.push(
        `${counted(this.orphans.length, "entry changes one occurrence", "entries change occurrences")} of something that is not in the file, and ${this.orphans.length === 1 ? "is" : "are"} taken alone: ${this.orphans.slice(0, 5).join(", ")}${this.orphans.length > 5 ? " and others" : ""}.`,
      );
    if (tasks > 0)
      notes.push(`${counted(tasks, "task or note is", "tasks or notes are")} not read: they are no meetings.`);
    for (const tzid of this.zones.unknown)
      notes.push(`The time zone "${tzid}" is not known; its times are read as the course's own.`);
    return this.found;
  }
}

/** Reads a calendar file. Never throws. */
export function readCalendar(text: string, days: CalendarDays): CalendarRead | { wrong: string } {
  const calendars = parsed(text);
  if (!calendars) return noCalendar;
  const zones = zonesIn(calendars, days.timeZone);
  const reading = new Reading(zones, days);
  const raws = calendars.flatMap((calendar, file) =>
    eventsOf(calendar).map((component, at) =>
      rawOf(component, file * 1e6 + at, textOf(calendar, "method").toUpperCase() === "CANCEL"),
    ),
  );
  for (const [, those] of collect(raws, ({ uid }) => uid)) {
    let told: Told;
    try {
      told = toldOf(those, zones);
    } catch {
      reading.found.unreadable.push(`${those[0]?.title || "An entry without a title"} has no date that can be read.`);
      continue;
    }
    reading.take(told);
  }
  const tasks = calendars.reduce(
    (sum, calendar) => sum + ["vtodo", "vjournal"].flatMap((name) => calendar.getAllSubcomponents(name)).length,
    0,
  );
  return reading.done(tasks);
}
