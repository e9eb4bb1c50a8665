/** iCalendar (RFC 5545, 7986) out: moments in UTC, class meetings in local time, with stable UIDs and sequence numbers. */
import { TZDate } from "@date-fns/tz";
import ical, { ICalAlarmType, ICalCalendarMethod, type ICalEventData, ICalEventStatus } from "ical-generator";
import { tzlib_get_ical_block as zoneBlock } from "timezones-ical-library";
import { wallOf } from "../../clock/local-time.ts";

/** One entry of a calendar, ready to be written. */
export interface CalendarEntry {
  /** The same for as long as it is about the same thing. */
  uid: string;
  /** Counts the times that it changed. */
  sequence: number;
  /** When it last changed, epoch milliseconds. */
  changedAt: number;
  /** Epoch milliseconds; an entry without an end is a moment. */
  start: number;
  end: number | null;
  title: string;
  text: string;
  place: string;
  address: string | null;
  /** What kind of thing it is: "assignment", "class". */
  category: string | null;
  /** Written in local time, so that it keeps its hour when a zone's rules change. */
  isLocal: boolean;
  /** It was in the calendar, and is not any more. */
  isWithdrawn: boolean;
}
export interface CalendarOptions {
  timeZone: string;
  /** How long before each entry a reminder comes; null: none does. */
  alarmMinutes: number | null;
}

/** How often a program may look for changes, in seconds. */
const refreshSeconds = 3600;
/** A moment ends a minute later: the standard wants an end after its beginning, and some give an hour to what has none. */
const momentMs = 60_000;

/** The library escapes texts of entries, and not the calendar's name. */
const escaped = (text: string): string => text.replace(/[\\;,]/g, "\\$&").replace(/\r?\n/g, "\\n");
const oneLine = (text: string): string => text.replace(/\s*[\r\n]+\s*/g, " ");

const hour = 3_600_000;
/** Whether a moment's local time is no other moment's: an hour that a clock change doubles is written in UTC. */
const isClear = (at: number, timeZone: string): boolean =>
  [-hour, -hour / 2, hour / 2, hour].every((step) => wallOf(at + step, timeZone) !== wallOf(at, timeZone));

function eventOf(entry: CalendarEntry, timeZone: string): ICalEventData {
  const { uid, sequence, changedAt, title, text, place, address, category, start } = entry;
  const end = entry.end ?? start + momentMs;
  const isLocal = entry.isLocal && isClear(start, timeZone) && isClear(end, timeZone);
  const moment = (at: number) => (isLocal ? new TZDate(at, timeZone) : new Date(at));
  return {
    id: uid,
    sequence,
    stamp: new Date(changedAt),
    start: moment(start),
    end: moment(end),
    ...(isLocal ? { timezone: timeZone } : {}),
    summary: oneLine(title),
    ...(text ? { description: text } : {}),
    ...(place ? { location: oneLine(place) } : {}),
    ...(address ? { url: address } : {}),
    ...(category ? { categories: [{ name: category }] } : {}),
    status: entry.isWithdrawn ? ICalEventStatus.CANCELLED : ICalEventStatus.CONFIRMED,
  };
}

/** A calendar file. Lines end in CRLF and are folded, as the standard wants. */
export function writeCalendar(
  name: string,
  entries: CalendarEntry[],
  { timeZone, alarmMinutes }: CalendarOptions,
): string {
  const calendar = ical({
    name: escaped(oneLine(name)),
    prodId: { company: "Amber Weave", product: "course dates", language: "EN" },
    method: ICalCalendarMethod.PUBLISH,
    ttl: refreshSeconds,
  });
  // No zone of the calendar's own: entries without one are in UTC.
  calendar.timezone({ name: null, generator: (zone) => [zoneBlock(zone, false)].flat()[0] ?? null });
  for (const entry of entries) {
    const event = calendar.createEvent(eventOf(entry, timeZone));
    if (alarmMinutes === null || entry.isWithdrawn) continue;
    event.createAlarm({ type: ICalAlarmType.display, trigger: alarmMinutes * 60, description: oneLine(entry.title) });
  }
  return calendar.toString();
}
