/** iCalendar (RFC 5545) out: events at absolute moments, with stable UIDs and sequence numbers. */
import ical, { ICalCalendarMethod } from "ical-generator";

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
}

/** A calendar file. Lines end in CRLF and are folded, as the standard wants. */
export function writeCalendar(name: string, entries: CalendarEntry[]): string {
  const calendar = ical({
    name,
    prodId: { company: "Amber Weave", product: "course dates", language: "EN" },
    method: ICalCalendarMethod.PUBLISH,
  });
  for (const { uid, sequence, changedAt, start, end, title, text, place, address } of entries)
    calendar.createEvent({
      id: uid,
      sequence,
      stamp: new Date(changedAt),
      start: new Date(start),
      end: end === null ? null : new Date(end),
      summary: title,
      ...(text ? { description: text } : {}),
      ...(place ? { location: place } : {}),
      ...(address ? { url: address } : {}),
    });
  return calendar.toString();
}
