import fc from "fast-check";
import { describe, expect, test } from "vitest";
import type { Anchor } from "../../plan/types.ts";
import { readMoment, type TypedContext, typedContext, writeMoment } from "./typed.ts";

const context: TypedContext = {
  course: { termStart: "2026-09-28", termEnd: "2027-01-01" },
  today: "2026-10-07",
  from: "2026-10-05T17:30",
  usualTime: "09:00",
};
const read = (text: string, more: Partial<TypedContext> = {}) => {
  const typed = readMoment(text, { ...context, ...more });
  return "wrong" in typed ? typed.wrong : typed.value;
};

test.each([
  ["fri 5pm", "2026-10-09T17:00"],
  ["Wed", "2026-10-07T17:30"],
  ["tuesday 9.15", "2026-10-13T09:15"],
  ["mon 5 oct, 9:00", "2026-10-05T09:00"],
  ["5th October at noon", "2026-10-05T12:00"],
  ["1 jan 12 am", "2027-01-01T00:00"],
  ["2026-11-02T08:05", "2026-11-02T08:05"],
  ["2026-11-02", "2026-11-02T17:30"],
  ["w3 tue end of day", "2026-10-13T23:59"],
  ["+1w", "2026-10-12T17:30"],
  ["-2 days 8:00", "2026-10-03T08:00"],
  ["tomorrow", "2026-10-08T17:30"],
  ["18:00", "2026-10-05T18:00"],
  ["none", "none"],
  ["  ", null],
])("%j is %j", (text, value) => {
  expect(read(text)).toBe(value);
});

test("without a date before, times are the usual one and steps begin today", () => {
  expect(read("fri", { from: null })).toBe("2026-10-09T09:00");
  expect(read("+1d", { from: null })).toBe("2026-10-08T09:00");
});

const plain: Anchor = { meeting: 6, edge: "start", days: 0, time: null, fallback: null };
test.each<[string, Anchor]>([
  ["m6 start", plain],
  ["start of meeting 6", plain],
  ["two days after meeting 4, 23:59", { ...plain, meeting: 4, days: 2, time: "23:59" }],
  ["1 week before the end of m12", { ...plain, meeting: 12, edge: "end", days: -7 }],
  ["last meeting before 1 Dec", { ...plain, meeting: { lastBefore: "2026-12-01" } }],
  ["m30 end else 4 dec 12:00", { ...plain, meeting: 30, edge: "end", fallback: "2026-12-04T12:00" }],
])("%j is a class meeting", (text, anchor) => {
  expect(read(text)).toEqual(anchor);
});

test.each([
  ["tue 5 oct", "5 Oct is a Monday, not a Tuesday."],
  ["xyz 5 oct", '"xyz" is no weekday.'],
  ["31 nov", "There is no 31 November."],
  ["fri 25:00", "No clock shows that time."],
  ["soon", '"soon" is not understood.'],
  ["m6 perhaps", '"perhaps" is not understood.'],
  ["m0 start", "Which meeting?"],
  ["m6 else none", "What holds without such a meeting is a plain date."],
  ["13pm", "No clock shows that time."],
])("%j says what is wrong", (text, says) => {
  expect(read(text)).toContain(says);
});

test("what is written reads back the same", () => {
  const wall = fc
    .record({ day: fc.integer({ min: 0, max: 400 }), minute: fc.integer({ min: 0, max: 1439 }) })
    .map(({ day, minute }) => new Date(Date.UTC(2026, 8, 1 + day, 0, minute)).toISOString().slice(0, 16));
  const anchor: fc.Arbitrary<Anchor> = fc.record({
    meeting: fc.oneof(
      fc.integer({ min: 1, max: 1000 }),
      wall.map((one) => ({ lastBefore: one.slice(0, 10) })),
    ),
    edge: fc.constantFrom("start" as const, "end" as const),
    days: fc.integer({ min: -365, max: 365 }),
    time: fc.oneof(
      fc.constant(null),
      wall.map((one) => one.slice(11)),
    ),
    fallback: fc.oneof(fc.constant(null), wall),
  });
  fc.assert(
    fc.property(fc.oneof(wall, anchor, fc.constant("none" as const), fc.constant(null)), (moment) => {
      expect(read(writeMoment(moment))).toEqual(moment);
    }),
  );
});

describe("where a date is typed", () => {
  const course = { termStart: "2026-09-28", termEnd: "2027-01-15" };
  const read = (text: string, more: Partial<Parameters<typeof typedContext>[0]> = {}) =>
    readMoment(text, typedContext({ course, day: "2026-11-25", field: "due", ...more }));
  test("what is due ends with the day, what opens begins with it, an event does neither", () => {
    expect(read("fri")).toEqual({ value: "2026-11-27T23:59" });
    expect(read("fri", { field: "opens" })).toEqual({ value: "2026-11-27T09:00" });
    expect(read("fri", { kind: "event" })).toEqual({ value: "2026-11-27T10:00" });
  });
  test("a time that holds stays, and what is counted is counted from it; an anchor or none is no such time", () => {
    expect(read("+1d", { from: "2026-12-01T12:30" })).toEqual({ value: "2026-12-02T12:30" });
    expect(read("fri", { from: "none" })).toEqual({ value: "2026-11-27T23:59" });
  });
  test("outside the term its first day is counted from", () => {
    expect(read("mon", { day: "2026-08-01" })).toEqual({ value: "2026-09-28T23:59" });
  });
});
