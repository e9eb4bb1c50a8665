/** Calendars written are read by the standard's own reader to the same moments, and calendars of others are read right. */
import ICAL from "ical.js";
import { describe, expect, test } from "vitest";
import { instantOf } from "../../clock/local-time.ts";
import { addSection, coursePlan } from "../../tests/fixture.ts";
import { meetingsOf } from "../../timing/meetings.ts";
import { calendarCommands, changes, rowsOfCalendar } from "../../timing/typing/calendar-file.ts";
import { readCalendar } from "./read.ts";
import { writeCalendar } from "./write.ts";

const term = { timeZone: "Europe/Dublin", from: "2026-09-28", until: "2027-01-01" };
const file = (...lines: string[]) =>
  ["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//x//y//EN", ...lines, "END:VCALENDAR"].join("\r\n");
const event = (...lines: string[]) => ["BEGIN:VEVENT", "UID:u1", "DTSTAMP:20260901T000000Z", ...lines, "END:VEVENT"];
const read = (text: string, zone = term.timeZone) => {
  const found = readCalendar(text, { ...term, timeZone: zone });
  if ("wrong" in found) throw new Error(found.wrong);
  return found;
};

describe("written", () => {
  test.each(["Europe/Dublin", "America/St_Johns", "Australia/Lord_Howe"])(
    "to the same moments, over gaps and doubled hours, in %s",
    (zone) => {
      const walls = [
        "2026-10-04T02:15",
        "2026-10-25T01:30",
        "2026-11-01T01:30",
        "2027-03-14T02:30",
        "2027-03-28T01:30",
      ];
      const entries = walls.map((wall, at) => ({
        uid: `due-${at}@x`,
        sequence: at,
        changedAt: instantOf("2026-09-01T00:00", zone),
        start: instantOf(wall, zone),
        end: at % 2 === 0 ? instantOf(wall, zone) + 3600_000 : null,
        title: `Lab ${at}; "quoted", with a comma`,
        text: "Two\nlines that are long enough to be folded by the writer of the calendar file, as the standard wants it",
        place: "Weir hut",
        address: null,
      }));
      const text = writeCalendar("Dates", entries);
      expect(text.split("\r\n").every((line) => new TextEncoder().encode(line).length <= 75)).toBe(true);
      const events = new ICAL.Component(ICAL.parse(text))
        .getAllSubcomponents("vevent")
        .map((one) => new ICAL.Event(one));
      expect(
        events.map((one) => ({
          uid: one.uid,
          sequence: one.sequence,
          start: one.startDate.toUnixTime() * 1000,
          title: one.summary,
          text: one.description,
        })),
      ).toEqual(
        entries.map(({ uid, sequence, start, title, text: said }) => ({ uid, sequence, start, title, text: said })),
      );
      expect(events.map((one) => one.endDate.toUnixTime() * 1000 - one.startDate.toUnixTime() * 1000)).toEqual([
        3600_000, 0, 3600_000, 0, 3600_000,
      ]);
    },
  );
});

describe("read", () => {
  test("whole days, of which the last is not meant, and what lies outside the term", () => {
    const found = read(
      file(
        ...event("SUMMARY:Autumn break", "DTSTART;VALUE=DATE:20261026", "DTEND;VALUE=DATE:20261029"),
        ...event("SUMMARY:Summer", "DTSTART;VALUE=DATE:20260701"),
      ),
    );
    expect(found.entries.map((one) => one.kind === "day" && [one.day, one.title])).toEqual([
      ["2026-10-26", "Autumn break"],
      ["2026-10-27", "Autumn break"],
      ["2026-10-28", "Autumn break"],
    ]);
    expect(found.outside).toBe(1);
  });
  test("times in UTC, floating, and in a zone that is only named become the course's own", () => {
    const found = read(
      file(
        ...event("DTSTART:20261005T080000Z", "DTEND:20261005T090000Z"),
        ...event("DTSTART:20261006T090000", "DTEND:20261006T100000"),
        ...event("DTSTART;TZID=America/New_York:20261007T060000", "DTEND;TZID=America/New_York:20261007T070000"),
      ),
    );
    expect(found.entries.map((one) => one.kind === "timed" && [one.start, one.end])).toEqual([
      ["2026-10-05T09:00", "2026-10-05T10:00"],
      ["2026-10-06T09:00", "2026-10-06T10:00"],
      ["2026-10-07T11:00", "2026-10-07T12:00"],
    ]);
  });
  test("repeated entries as often as they occur in the term, without those taken out, with those moved", () => {
    const found = read(
      file(
        ...event(
          "DTSTART:20261005T090000",
          "DTEND:20261005T100000",
          "RRULE:FREQ=WEEKLY;BYDAY=MO,WE",
          "EXDATE:20261007T090000",
        ),
        ...event("RECURRENCE-ID:20261012T090000", "DTSTART:20261013T140000", "DTEND:20261013T150000"),
      ),
    );
    const starts = found.entries.map((one) => one.kind === "timed" && one.start);
    expect(starts.slice(0, 4)).toEqual([
      "2026-10-05T09:00",
      "2026-10-13T14:00",
      "2026-10-14T09:00",
      "2026-10-19T09:00",
    ]);
    expect(starts.at(-1)).toBe("2026-12-30T09:00");
  });
  test("what is no calendar, and entries without a date, are said", () => {
    expect(readCalendar("a,b\n1,2", term)).toHaveProperty("wrong");
    expect(readCalendar("", term)).toHaveProperty("wrong");
    expect(read(file(...event("SUMMARY:Sometime"))).unreadable).toEqual(["Sometime has no date that can be read."]);
  });
});

test("a file's days and meetings are known, added or missing; what is taken is drafted, and then all of it is known", () => {
  const { course, sections } = (() => {
    const plan = coursePlan();
    addSection(plan, "D1");
    Object.assign(plan.sections.D1 as object, {
      pattern: [{ weekday: 1, start: "09:00", end: "10:00", place: "" }],
    });
    plan.course.termEnd = "2026-10-20";
    return plan;
  })();
  const section = sections.D1 as NonNullable<(typeof sections)[string]>;
  const text = file(
    ...event("DTSTART:20260928T090000", "DTEND:20260928T100000"),
    ...event("DTSTART:20261007T140000", "DTEND:20261007T150000", "LOCATION:Weir hut"),
    ...event("DTSTART;VALUE=DATE:20261012", "SUMMARY:Holiday"),
  );
  const { entries } = read(text);
  const rows = rowsOfCalendar(course, section, entries);
  expect(rows.map((row) => [row.kind, row.kind === "no class" ? row.day : row.start, changes(row)])).toEqual([
    ["meeting", "2026-09-28T09:00", false],
    ["meeting", "2026-10-07T14:00", true],
    ["no class", "2026-10-12", true],
    ["missing", "2026-10-05T09:00", true],
    ["missing", "2026-10-19T09:00", true],
  ]);
  const [days, change] = calendarCommands(
    course,
    { kind: "section", id: "D1", name: "D1", days: section },
    rows,
    true,
  ) as [
    { kind: "course.noClassDays"; days: { day: string; title: string }[] },
    { kind: "section.change"; fields: Partial<typeof section> },
  ];
  const [after, next] = [
    { ...course, noClassDays: days.days },
    { ...section, ...change.fields },
  ];
  expect(meetingsOf(after, next).map(({ number, day, place }) => [number, day, place])).toEqual([
    [1, "2026-09-28", ""],
    [2, "2026-10-07", "Weir hut"],
  ]);
  expect(rowsOfCalendar(after, next, entries).some(changes)).toBe(false);
});
