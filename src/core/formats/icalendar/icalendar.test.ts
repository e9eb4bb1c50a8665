/** Calendars written are read by the standard's own reader to the same moments, and calendars of others are read right. */
import fc from "fast-check";
import { strFromU8 } from "fflate";
import ICAL from "ical.js";
import { describe, expect, test } from "vitest";
import { fileOf } from "../../../tests/format-files.ts";
import { dayAfter, instantOf } from "../../clock/local-time.ts";
import { addSection, coursePlan } from "../../tests/fixture.ts";
import { meetingsOf } from "../../timing/meetings.ts";
import { calendarCommands, changes, rowsOfCalendar } from "../../timing/typing/calendar-file.ts";
import { type CalendarRead, readCalendar } from "./read.ts";
import { type CalendarEntry, writeCalendar } from "./write.ts";

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
        category: "assignment",
        // What is a meeting keeps its local time; the standard's reader finds the same moment by the zone in the file.
        isLocal: at % 2 === 0,
        isWithdrawn: false,
      }));
      const text = writeCalendar("Dates", entries, { timeZone: zone, alarmMinutes: null });
      expect(text.split("\r\n").every((line) => new TextEncoder().encode(line).length <= 75)).toBe(true);
      const calendar = new ICAL.Component(ICAL.parse(text));
      const timezone = new ICAL.Timezone(calendar.getFirstSubcomponent("vtimezone") as ICAL.Component);
      expect(timezone.tzid).toBe(zone);
      const events = calendar.getAllSubcomponents("vevent").map((one) => new ICAL.Event(one));
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
        3600_000, 60_000, 3600_000, 60_000, 3600_000,
      ]);
    },
  );
});

const entry: CalendarEntry = {
  uid: "due-1@x",
  sequence: 3,
  changedAt: instantOf("2026-09-01T00:00", term.timeZone),
  start: instantOf("2026-11-02T17:00", term.timeZone),
  end: null,
  title: "Lab 1\nSTATUS:CANCELLED due",
  text: "20 points",
  place: "",
  address: "https://x.example/item/1",
  category: "assignment",
  isLocal: false,
  isWithdrawn: false,
};
test("a name is escaped, a title is one line, and what is withdrawn says so; reminders come where they are asked for", () => {
  const options = { timeZone: term.timeZone, alarmMinutes: 60 };
  const gone = { ...entry, uid: "due-2@x", title: "Withdrawn", isWithdrawn: true };
  const text = writeCalendar("Rivers; weirs, and\nmore \\ less", [entry, gone], options);
  const calendar = new ICAL.Component(ICAL.parse(text));
  // The reader does not know the two names as texts, and gives them as they stand.
  for (const name of ["name", "x-wr-calname"])
    expect(calendar.getFirstPropertyValue(name)).toBe("Rivers\\; weirs\\, and more \\\\ less");
  expect(String(calendar.getFirstPropertyValue("refresh-interval"))).toBe("PT1H");
  const [one, other] = calendar.getAllSubcomponents("vevent") as [ICAL.Component, ICAL.Component];
  const value = (of: ICAL.Component, name: string) => String(of.getFirstPropertyValue(name));
  expect(["summary", "status", "categories", "description"].map((name) => value(one, name))).toEqual([
    "Lab 1 STATUS:CANCELLED due",
    "CONFIRMED",
    "assignment",
    "20 points",
  ]);
  expect(value(other, "status")).toBe("CANCELLED");
  expect([one, other].map((of) => of.getAllSubcomponents("valarm").length)).toEqual([1, 0]);
  expect(value(one.getFirstSubcomponent("valarm") as ICAL.Component, "trigger")).toBe("-PT1H");
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
  const timed = ({ entries }: CalendarRead) =>
    entries.flatMap((one) => (one.kind === "timed" ? [`${one.start} ${one.title}`] : []));
  test("a timetable of another program: a rule that began years ago and ends with a day, what is taken out in another zone, added, moved", () => {
    const found = read(strFromU8(fileOf("timetable-icalendar.ics")));
    expect(timed(found)).toEqual([
      "2026-09-28T09:00 Field lecture",
      "2026-10-01T10:00 Clinic",
      "2026-10-08T10:00 Clinic",
      "2026-10-13T14:00 Field lecture, moved",
      "2026-10-15T10:00 Clinic",
      "2026-10-19T09:00 Field lecture",
      "2026-10-26T09:00 Field lecture",
      "2026-11-02T09:00 Field lecture",
      "2026-11-04T09:00 Guest talk",
    ]);
    // Five days of the long entry lie in the term, 119 before it.
    expect(found.entries.filter(({ kind }) => kind === "day")).toHaveLength(5);
    expect(found.outside).toBe(119);
    expect(found.notes).toEqual([
      "1 entry is cancelled, and left out.",
      "1 entry changes one occurrence of something that is not in the file, and is taken alone: Guest talk.",
      "1 task or note is not read: they are no meetings.",
    ]);
  });
  test("zones as Windows names them, behind a prefix, defined in the file, and one that nobody knows; several calendars in a file", () => {
    const found = read(strFromU8(fileOf("zones-by-hand.ics")));
    expect(timed(found)).toEqual([
      "2026-10-05T09:00 Windows name",
      "2026-10-06T11:00 Prefixed",
      "2026-10-07T10:00 Defined in the file",
      "2026-10-08T12:00 Nobody knows",
      "2026-10-13T11:00 Last word",
    ]);
    expect(found.notes).toEqual([
      "1 entry is cancelled, and left out.",
      'The time zone "Mars/Base" is not known; its times are read as the course\'s own.',
    ]);
  });
  /** What the standard's own reader gives, a beginning that its rule does not meet among it. */
  const byTheirReader = (text: string, start: string): string[] => {
    const component = new ICAL.Component(ICAL.parse(text)).getFirstSubcomponent("vevent") as ICAL.Component;
    const iterator = new ICAL.Event(component).iterator();
    const found = new Set(start >= "2026-09-28" ? [`${start}T09:00`] : []);
    for (let next = iterator.next(); next && next.toString() < "2027-01-02"; next = iterator.next())
      if (next.toString() >= "2026-09-28") found.add(next.toString().slice(0, 16));
    return [...found].sort();
  };
  const drawnRule = fc.oneof(
    fc.tuple(fc.constantFrom("DAILY", "WEEKLY", "MONTHLY", "YEARLY"), fc.constant("")),
    fc.tuple(fc.constantFrom("DAILY", "WEEKLY"), fc.constant(";BYDAY=MO,TH")),
    fc.tuple(
      fc.constant("MONTHLY"),
      fc.constantFrom(";BYMONTHDAY=1,15", ";BYDAY=2TU", ";BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-1"),
    ),
  );
  test("rules give what the standard's own reader gives, wherever they began", () => {
    fc.assert(
      fc.property(
        drawnRule,
        fc.integer({ min: 1, max: 5 }),
        fc.integer({ min: 0, max: 800 }),
        ([freq, by], step, back) => {
          const start = dayAfter("2026-09-28", -back);
          const rule = `RRULE:FREQ=${freq};INTERVAL=${step}${by}`;
          const text = file(...event(`DTSTART:${start.replaceAll("-", "")}T090000`, "DURATION:PT1H", rule));
          expect(read(text).entries.map((one) => (one.kind === "timed" ? one.start : ""))).toEqual(
            byTheirReader(text, start),
          );
        },
      ),
      { numRuns: 150 },
    );
  });
  test("a rule that is counted is counted from its first", () => {
    const rule = (count: number) =>
      read(file(...event("DTSTART:20260914T090000", "DURATION:PT1H", `RRULE:FREQ=WEEKLY;COUNT=${count}`))).entries
        .length;
    expect([2, 3, 4].map(rule)).toEqual([0, 1, 2]);
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
