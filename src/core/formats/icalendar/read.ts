/** iCalendar (RFC 5545) in: whole days and timed entries within some days, repeated ones as often as they occur. */
import ICAL from "ical.js";
import { dayAfter, instantOf, wallOf } from "../../clock/local-time.ts";

export type ReadEntry = { title: string; place: string } & (
  | { kind: "day"; day: string }
  /** Wall-clock times in the course's zone. */
  | { kind: "timed"; start: string; end: string }
);
export interface CalendarRead {
  /** Ascending, within the days that were asked for. */
  entries: ReadEntry[];
  /** Entries that lie outside those days. */
  outside: number;
  /** What could not be read, a sentence each. */
  unreadable: string[];
}

/** However often something repeats, no more of it is read: a file may repeat for ever. */
const most = 2000;

const longestDays = 60;

/** Reads a calendar. `from` and `until` are the first and the last day. Never throws. */
export function readCalendar(
  text: string,
  { timeZone, from, until }: { timeZone: string; from: string; until: string },
): CalendarRead | { wrong: string } {
  let root: ICAL.Component;
  try {
    root = new ICAL.Component(ICAL.parse(text));
  } catch {
    return { wrong: "This is no calendar file. It should begin with BEGIN:VCALENDAR; export it again as .ics." };
  }
  if (root.name !== "vcalendar")
    return { wrong: "This is no calendar file. It should begin with BEGIN:VCALENDAR; export it again as .ics." };
  const zones = new Map<string, ICAL.Timezone>();
  for (const zone of root.getAllSubcomponents("vtimezone")) {
    const made = new ICAL.Timezone(zone);
    zones.set(made.tzid, made);
  }
  const found: CalendarRead = { entries: [], outside: 0, unreadable: [] };
  const all = root.getAllSubcomponents("vevent").map((component) => new ICAL.Event(component));
  const mains = all.filter((event) => !event.isRecurrenceException());
  for (const event of mains) {
    for (const exception of all)
      if (exception.isRecurrenceException() && exception.uid === event.uid) event.relateException(exception);
    try {
      for (const [start, end, one] of occurrences(event, until)) add(found, one, start, end);
    } catch {
      found.unreadable.push(`${event.summary || "An entry without a title"} has no date that can be read.`);
    }
  }
  const at = (entry: ReadEntry) => (entry.kind === "day" ? `${entry.day}T` : entry.start);
  found.entries.sort((a, b) => (at(a) < at(b) ? -1 : at(a) > at(b) ? 1 : 0));
  return found;

  /** A wall-clock time in the course's zone: a floating time is one already, others go through their instant. */
  function wall(time: ICAL.Time): string {
    const plain = time.toString().slice(0, 16);
    const { tzid } = time.zone ?? {};
    if (!tzid || tzid === "floating") {
      // A zone that the file only names is known by its name.
      const named = (time as unknown as { timezone?: string }).timezone;
      if (!named || named === "floating" || named === "Z") return plain;
      try {
        return wallOf(instantOf(plain, named), timeZone);
      } catch {
        return plain;
      }
    }
    return wallOf(time.toUnixTime() * 1000, timeZone);
  }

  function add(read: CalendarRead, event: ICAL.Event, start: ICAL.Time, end: ICAL.Time): void {
    const words = { title: (event.summary ?? "").trim(), place: (event.location ?? "").trim().slice(0, 100) };
    if (start.isDate) {
      const last = end.toString().slice(0, 10);
      let day = start.toString().slice(0, 10);
      for (let count = 0; count < longestDays && (count === 0 || day < last); count++) {
        if (day < from || day > until) read.outside++;
        else read.entries.push({ kind: "day", day, ...words });
        day = dayAfter(day, 1);
      }
      return;
    }
    const [begins, ends] = [wall(start), wall(end)];
    if (begins.slice(0, 10) < from || begins.slice(0, 10) > until) read.outside++;
    else read.entries.push({ kind: "timed", start: begins, end: ends, ...words });
  }
}

/** Every occurrence up to a day, with the entry that says what it is (a single one may be another). */
function* occurrences(event: ICAL.Event, until: string): Generator<[ICAL.Time, ICAL.Time, ICAL.Event]> {
  if (!event.startDate) throw new Error("no start");
  if (!event.isRecurring()) {
    yield [event.startDate, event.endDate, event];
    return;
  }
  const iterator = event.iterator();
  for (let count = 0; count < most; count++) {
    const next = iterator.next();
    if (!next || next.toString().slice(0, 10) > until) return;
    const { startDate, endDate, item } = event.getOccurrenceDetails(next);
    yield [startDate, endDate, item];
  }
}
