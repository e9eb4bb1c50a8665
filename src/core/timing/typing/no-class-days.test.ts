import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { dayAfter } from "../../clock/local-time.ts";
import { readNoClassDays, writeNoClassDays } from "./no-class-days.ts";

const daysOf = (text: string) => {
  const read = readNoClassDays(text);
  return "days" in read ? read.days.map(({ day, title }) => `${day} ${title}`.trim()) : read.wrong;
};

describe("days without class as they are typed", () => {
  it("are a line each: a day, or a range, and a title", () => {
    expect(daysOf("2026-10-26 October break\n\n 2026-12-24 to 2026-12-26: Winter break \r\n2026-10-01")).toEqual([
      "2026-10-01",
      "2026-10-26 October break",
      "2026-12-24 Winter break",
      "2026-12-25 Winter break",
      "2026-12-26 Winter break",
    ]);
  });
  it("keep the first title where a day is named twice", () => {
    expect(daysOf("2026-10-26 Holiday\n2026-10-25 to 2026-10-27 Break")).toEqual([
      "2026-10-25 Break",
      "2026-10-26 Holiday",
      "2026-10-27 Break",
    ]);
  });
  it.each([
    ["26 October", 'Line 1, "26 October": write a day such as 2026-12-24, or 2026-12-24 to 2027-01-02.'],
    [
      "2026-10-01\n2026-02-30 x",
      'Line 2, "2026-02-30 x": write a day such as 2026-12-24, or 2026-12-24 to 2027-01-02.',
    ],
    ["2026-10-03 to 2026-10-01", 'Line 1, "2026-10-03 to 2026-10-01": the range ends before it begins.'],
    ["2026-01-01 to 2026-12-31", 'Line 1, "2026-01-01 to 2026-12-31": the range is longer than 60 days.'],
  ])("say which line cannot be read: %j", (text, wrong) => {
    expect(daysOf(text)).toBe(wrong);
  });
  it("written and read again are the same", () => {
    const days = fc
      .array(fc.record({ after: fc.nat(150), title: fc.constantFrom("", "Break", "Reading week") }), { maxLength: 40 })
      .map((list) => {
        const byDay = new Map(list.map(({ after, title }) => [dayAfter("2026-08-01", after), title]));
        return [...byDay].sort(([a], [b]) => (a < b ? -1 : 1)).map(([day, title]) => ({ day, title }));
      });
    fc.assert(
      fc.property(days, (list) => {
        expect(readNoClassDays(writeNoClassDays(list))).toEqual({ days: list });
      }),
    );
  });
});
