/** iCalendar (RFC 5545) in: whole days and timed entries within some days, repeated ones as often as they occur. */
import type ICAL from "ical.js";
import { dayAfter, daysBetween, daysFrom, wallOf } from "../../clock/local-time.ts";
import { collect } from "../../sets/collect.ts";
import { cut } from "../../text/shorten.ts";
import { eventsOf, parsed, type Raw, rawOf, type Stamp, stampIn, type Told, textOf, toldOf } from "./entries.ts";
import { beginnings, lengthOf, type Span, spanOf, takenOut } from "./occurrences.ts";
import { asUtc } from "./recurring.ts";
import { type Zones, zonesIn } from "./zones.ts";

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
    const words = { title: textOf(component, "summary"), place: cut(textOf(component, "location"), 100) };
    if (span.kind === "timed") {
      const [start, end] = [wallOf(span.start, timeZone), wallOf(span.end, timeZone)];
      if (start.slice(0, 10) < from || start.slice(0, 10) > until) this.found.outside++;
      else this.found.entries.push({ kind: "timed", start, end, ...words });
      return;
    }
    const [first = from] = [span.first, from].sort().slice(-1);
    const [after = until] = [span.after, dayAfter(until, 1)].sort();
    for (const day of daysFrom(first, dayAfter(after, -1))) this.found.entries.push({ kind: "day", day, ...words });
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
