import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { addDays, instantOf, isDay, sayInstant, wallOf, weekdayOf } from "../clock/local-time.ts";
import type { DateField, DateFields, Plan, Target } from "../plan/types.ts";
import {
  addItem,
  addLayer,
  addSection,
  addStudent,
  coursePlan,
  group,
  instant,
  patternOnly,
  person,
  section,
  t0,
} from "../tests/fixture.ts";
import { meetingsOf, readPattern, sayPattern, writePattern } from "./meetings.ts";
import {
  membershipsAt,
  orderFault,
  type ResolvedDates,
  resolveDates,
  resolvedInstant,
  timesFactor,
  toldOrigin,
} from "./resolving/resolve.ts";

describe("wall-clock times", () => {
  test("times that a clock change skips move forward by the gap, doubled ones mean the earlier", () => {
    expect(instantOf("2026-03-29T01:30", "Europe/Dublin")).toBe(instant("2026-03-29T01:30:00Z"));
    expect(wallOf(instantOf("2026-03-29T01:30", "Europe/Dublin"), "Europe/Dublin")).toBe("2026-03-29T02:30");
    expect(instantOf("2026-10-25T01:30", "Europe/Dublin")).toBe(instant("2026-10-25T00:30:00Z"));
    expect(instantOf("2026-11-01T01:30", "America/St_Johns")).toBe(instant("2026-11-01T04:00:00Z"));
    // Lord Howe moves by half an hour: 02:00 becomes 02:30.
    expect(wallOf(instantOf("2026-10-04T02:10", "Australia/Lord_Howe"), "Australia/Lord_Howe")).toBe(
      "2026-10-04T02:40",
    );
  });
  test("days are calendar days on the wall clock, over a clock change too", () => {
    expect(addDays("2026-10-24T17:00", 2)).toBe("2026-10-26T17:00");
    expect(instantOf("2026-10-26T17:00", "Europe/Dublin") - instantOf("2026-10-24T17:00", "Europe/Dublin")).toBe(
      49 * 3600_000,
    );
  });
  test("an instant and its wall clock agree away from clock changes", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 300 * 1440 }),
        fc.constantFrom("Europe/Dublin", "Asia/Kolkata", "America/St_Johns"),
        (minutes, zone) => {
          const at = instant("2026-01-01T00:00:00Z") + minutes * 60_000;
          const back = instantOf(wallOf(at, zone), zone);
          expect([at, at - 3600_000]).toContain(back);
        },
      ),
    );
  });
  test("days and weekdays", () => {
    expect([isDay("2026-02-28"), isDay("2026-02-30"), isDay("soon")]).toEqual([true, false, false]);
    expect([weekdayOf("2026-11-23"), weekdayOf("2026-11-29")]).toEqual([1, 7]);
    expect(sayInstant(t0, "Europe/Dublin")).toBe("Wed 25 Nov, 10:00");
  });
});

describe("meetings", () => {
  const course = { ...coursePlan().course, noClassDays: [{ day: "2026-10-05", title: "Holiday" }] };
  const pattern = [1, 3, 5].map((weekday) => ({
    weekday,
    start: "09:00",
    end: "10:15",
    place: "",
  }));
  test("are counted from the pattern within the term, without no-class days", () => {
    const meetings = meetingsOf(course, { ...patternOnly(pattern), noClassDays: ["2026-10-02"] });
    expect(meetings.slice(0, 3).map(({ number, day }) => [number, day])).toEqual([
      [1, "2026-09-28"],
      [2, "2026-09-30"],
      [3, "2026-10-07"],
    ]);
  });
  test("one moved by hand takes place, even on a no-class day, and keeps its number", () => {
    const moved = [
      { day: "2026-09-30", start: "09:00", to: "2026-10-05T14:00" },
      { day: "2026-10-05", start: "09:00", to: "2026-10-06T09:00" },
    ];
    const meetings = meetingsOf(course, { ...patternOnly(pattern), moved });
    expect(meetings.slice(0, 5).map(({ number, day }) => [number, day])).toEqual([
      [1, "2026-09-28"],
      [2, "2026-10-05"],
      [3, "2026-10-02"],
      [4, "2026-10-06"],
      [5, "2026-10-07"],
    ]);
    expect([meetings[1]?.start, meetings[1]?.end].map((at) => new Date(at ?? 0).toISOString())).toEqual([
      "2026-10-05T13:00:00.000Z",
      "2026-10-05T14:15:00.000Z",
    ]);
  });
  test("a pattern of several times and places is read as it is written, and nothing is guessed", () => {
    const text = "Mon Wed 09:00-10:15 Weir hut; Fri 14:00-15:30";
    expect(writePattern(readPattern(text) ?? [])).toBe(text);
    expect(readPattern(`${text}; sometime`)).toBeNull();
    expect(readPattern("Mon 09:00-25:00")).toBeNull();
  });
  test("keep their wall-clock time over the clock change", () => {
    const around = meetingsOf(course, patternOnly(pattern)).filter(
      ({ day }) => day === "2026-10-23" || day === "2026-10-26",
    );
    expect(around.map(({ start }) => new Date(start).toISOString())).toEqual([
      "2026-10-23T08:00:00.000Z",
      "2026-10-26T09:00:00.000Z",
    ]);
  });
  test.each([
    ["Mon Wed Fri 09:00-10:15", "Mon Wed Fri 09:00"],
    ["TTh 13:30", "Tue Thu 13:30"],
    ["MWF 8.00", "Mon Wed Fri 08:00"],
    ["Wednesday 18:00", "Wed 18:00"],
  ])("the registrar's %s is read as %s", (text, said) => {
    expect(sayPattern(readPattern(text) ?? [])).toBe(said);
  });
  test("what names no day or time is not a pattern", () => {
    expect([readPattern("by arrangement"), readPattern("09:00"), readPattern("Mon 31:00")]).toEqual([null, null, null]);
  });
});

/** One student in section D1, groups North (first layer) and Quick (second). */
function course(): Plan {
  const plan = coursePlan();
  addSection(plan, "D1");
  addLayer(plan, "Banks", ["North", "South"]);
  addLayer(plan, "Pace", ["Quick"], { private: true });
  addStudent(plan, "ada", ["D1"], ["North", "Quick"]);
  addItem(plan, "lab", {
    kind: "assignment",
    dates: { opens: "2026-11-01T09:00", due: "2026-11-20T17:00", attempts: 2, minutes: 45 },
  });
  return plan;
}
function resolve(overrides: [Target, DateFields][], change: (plan: Plan) => void = () => undefined) {
  const plan = course();
  overrides.forEach(([target, dates], index) => {
    plan.overrides[index] = { id: String(index), itemId: "lab", target, dates };
  });
  change(plan);
  const dates = resolveDates(plan, plan.items.lab as never, membershipsAt(plan, "ada", t0));
  return { plan, dates, value: (field: DateField) => dates[field].value };
}
const allow = (plan: Plan, id: string, fields: object) => {
  plan.allowances[id] = {
    id,
    target: group("Quick"),
    minutesFactor: null,
    extraDays: null,
    extraAttempts: null,
    ...fields,
  };
};

describe("resolving dates, a field at a time", () => {
  test("the base value holds where nothing else is set; a field that is unset stays unset", () => {
    const { value } = resolve([]);
    expect([value("due"), value("attempts"), value("closes")]).toEqual(["2026-11-20T17:00", 2, null]);
  });
  test("an override for the person is final, also against allowances, and only for the fields it sets", () => {
    const { value } = resolve(
      [
        [person("ada"), { due: "2026-11-10T09:00" }],
        [group("North"), { due: "2026-12-01T09:00", attempts: 9 }],
      ],
      (plan) => allow(plan, "days", { extraDays: 7 }),
    );
    expect([value("due"), value("attempts")]).toEqual(["2026-11-10T09:00", 9]);
  });
  test("most generous: earliest opens, latest due, most attempts; none beats all", () => {
    const { value } = resolve([
      [group("North"), { opens: "2026-10-20T09:00", due: "2026-11-25T17:00", attempts: 3, minutes: 30 }],
      [section("D1"), { opens: "2026-10-25T09:00", due: "2026-11-22T17:00", attempts: 5, minutes: "none" }],
      [group("South"), { due: "2027-01-01T00:00" }],
    ]);
    expect([value("opens"), value("due"), value("attempts"), value("minutes")]).toEqual([
      "2026-10-20T09:00",
      "2026-11-25T17:00",
      5,
      "none",
    ]);
  });
  test("an override may also be less generous than the base", () => {
    expect(resolve([[group("North"), { due: "2026-11-15T17:00" }]]).value("due")).toBe("2026-11-15T17:00");
  });
  test("layer order: the first layer that has one, sections last unless the order places them", () => {
    const both: [Target, DateFields][] = [
      [section("D1"), { due: "2026-11-30T17:00" }],
      [group("North"), { due: "2026-11-21T17:00" }],
    ];
    const ordered = (layerOrder: string[]) =>
      resolve(both, (plan) => Object.assign(plan.course, { datePolicy: "layer order", layerOrder })).value("due");
    expect([ordered([]), ordered(["sections", "Banks"])]).toEqual(["2026-11-21T17:00", "2026-11-30T17:00"]);
  });
  test("two passwords: the one of the layer that comes first", () => {
    expect(
      resolve([
        [group("Quick"), { accessWord: "heron" }],
        [group("North"), { accessWord: "otter" }],
      ]).value("accessWord"),
    ).toBe("otter");
  });
  test("allowances: minutes times the largest factor, rounded up; days; attempts; none stays none", () => {
    const { value } = resolve([[group("North"), { closes: "none" }]], (plan) => {
      allow(plan, "a", { minutesFactor: "1.25", extraDays: 1, extraAttempts: 1 });
      allow(plan, "b", { minutesFactor: "1.5", extraDays: 2 });
    });
    expect([value("minutes"), value("due"), value("attempts"), value("closes")]).toEqual([
      68,
      "2026-11-22T17:00",
      3,
      "none",
    ]);
  });
  test("factors are exact decimals", () => {
    expect([
      timesFactor(100, "1.1"),
      timesFactor(30, "1.5"),
      timesFactor(31, "1.5"),
      timesFactor(10, "1.0001"),
    ]).toEqual([110, 45, 47, 11]);
  });
  test("a student is told where a date came from for named layers and sections only", () => {
    const told = (target: Target) => {
      const { plan, dates } = resolve([[target, { due: "2026-12-01T17:00" }]]);
      return toldOrigin(plan, dates.due.origin);
    };
    expect([told(group("North")), told(section("D1")), told(group("Quick")), told(person("ada"))]).toEqual([
      "for North",
      "for your section",
      null,
      null,
    ]);
  });
  test("opens, due and closes out of order are reported", () => {
    const { plan, dates } = resolve([[group("North"), { opens: "2026-11-21T09:00" }]]);
    const at = (resolved: ResolvedDates) =>
      (["opens", "due", "closes"] as const).map((field) => resolvedInstant(plan, resolved, field));
    expect(orderFault(...(at(dates) as [number, number, number]))).toBe("due before it opens");
    // Two at the same moment are in order.
    expect(orderFault(5, 5, 5)).toBeNull();
    expect([orderFault(5, 4, null), orderFault(null, 5, 4), orderFault(5, null, 4)]).toEqual([
      "due before it opens",
      "closes before it is due",
      "closes before it opens",
    ]);
    expect(orderFault(...(at(resolve([]).dates) as [number, number, number]))).toBeNull();
  });
});
