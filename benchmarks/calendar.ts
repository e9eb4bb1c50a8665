/** A calendar file of 10,000 entries, a tenth of them repeated for ever since years ago, beside parsing its lines alone. */
import ICAL from "ical.js";
import { type CalendarRead, readCalendar } from "../src/core/formats/icalendar/read.ts";
import { fastest, keep, type Row, sized } from "./measure.ts";

const rules = ["FREQ=WEEKLY;BYDAY=MO,WE", "FREQ=DAILY;INTERVAL=2", "FREQ=MONTHLY"];

function largeCalendar(entries: number): string {
  const two = (number: number) => String(number).padStart(2, "0");
  const events = Array.from({ length: entries }, (_, at) => {
    const day = `${2015 + (at % 12)}${two(1 + (at % 12))}${two(1 + (at % 28))}`;
    const zone = at % 2 === 0 ? "Europe/Dublin" : "GMT Standard Time";
    return [
      "BEGIN:VEVENT",
      `UID:${at}@x.example`,
      "DTSTAMP:20260901T000000Z",
      `SUMMARY:Lecture ${at}`,
      `DTSTART;TZID=${zone}:${day}T${two(9 + (at % 8))}0000`,
      "DURATION:PT1H",
      ...(at % 10 === 0 ? [`RRULE:${rules[(at / 10) % 3]}`, `EXDATE;TZID=${zone}:20261007T090000`] : []),
      "END:VEVENT",
    ].join("\r\n");
  });
  return ["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//x//EN", ...events, "END:VCALENDAR", ""].join("\r\n");
}

export async function calendarRows(): Promise<Row[]> {
  const text = largeCalendar(sized(10_000, 200));
  const days = { timeZone: "Europe/Dublin", from: "2026-09-28", until: "2027-01-01" };
  const best = await fastest({
    ours: () => keep((readCalendar(text, days) as CalendarRead).entries.length),
    floor: () => keep(ICAL.parse(text).length),
  });
  return [
    {
      name: "Calendar: a file read",
      ours: best.ours,
      against: [{ name: "ical.js parsing its lines", milliseconds: best.floor, kind: "floor" }],
      note: "10,000 entries, 1,000 of them repeated for years; target under 2 s",
    },
  ];
}
