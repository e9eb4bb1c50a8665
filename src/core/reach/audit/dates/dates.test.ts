/** Looks over a plan of dates. Source: semantics.md section 6. */
import { describe, expect, test } from "vitest";
import { noProgress } from "../../../plan/progress.ts";
import type { Plan } from "../../../plan/types.ts";
import { mendsOf } from "../../../review/mends/mends.ts";
import {
  addItem,
  addLayer,
  addSection,
  addStudent,
  coursePlan,
  forOnly,
  group,
  meetingAnchor,
  person,
  section,
  t0,
} from "../../../tests/fixture.ts";
import { audit } from "../audit.ts";
import { type FindingKind, isTiming, timingKinds } from "../finding.ts";

/** D1 meets Mon Wed Fri 09:00; EV has no meetings. Day follows D1, Evening EV. */
function course(): Plan {
  const plan = coursePlan();
  addSection(plan, "D1");
  addSection(plan, "EV");
  const pattern = [1, 3, 5].map((weekday) => ({ weekday, start: "09:00", end: "10:00", place: "" }));
  Object.assign(plan.sections.D1 as object, { pattern, noClassDays: ["2026-11-06"] });
  plan.course.noClassDays = [{ day: "2026-10-26", title: "Holiday" }];
  addLayer(plan, "Times", ["Day", "Evening"]);
  addStudent(plan, "ada", ["D1"], ["Day"]);
  addStudent(plan, "ben", ["EV"], ["Evening"]);
  addStudent(plan, "cas", ["EV"], ["Evening"]);
  return plan;
}
const found = (plan: Plan, kind: FindingKind, published: Plan | null = null) =>
  audit(plan, noProgress, t0, "Times", published).findings.filter((one) => one.kind === kind);
const says = (plan: Plan, kind: FindingKind, published: Plan | null = null) =>
  found(plan, kind, published).map((one) => [one.says, one.personIds]);
/** Every offered mend removes its finding. */
const mends = (plan: Plan, kind: FindingKind) =>
  found(plan, kind).flatMap((finding) => mendsOf(plan, noProgress, t0, finding, "Times").map((one) => one.says));

describe("dates that cannot be meant", () => {
  test("an anchor without a meeting or fallback leaves a student without a date; the mend gives the latest of the others", () => {
    const plan = course();
    addItem(plan, "lab", { dates: { due: meetingAnchor(4) } });
    addItem(plan, "log", { dates: { due: meetingAnchor(4, { fallback: "2026-12-01T17:00" }) } });
    expect(says(plan, "no date")).toEqual([["lab: no date for due, for 2 students.", ["ben", "cas"]]]);
    expect(mends(plan, "no date")).toEqual(["Where there is no such meeting, Mon 5 Oct, 09:00"]);
  });
  test("minutes that do not fit between opens and closes are told, extra time among them; what fits exactly is not", () => {
    const plan = course();
    const dates = { opens: "2026-11-10T09:00", closes: "2026-11-10T09:30", minutes: 30 };
    addItem(plan, "quiz", { kind: "quiz", dates });
    addItem(plan, "event", { kind: "event", dates: { ...dates, minutes: 60 } });
    expect(says(plan, "too little time")).toEqual([]);
    plan.allowances.more = {
      id: "more",
      target: group("Evening"),
      minutesFactor: "1.5",
      extraDays: null,
      extraAttempts: null,
    };
    const extra = { ...plan, allowances: { ...plan.allowances } };
    expect(says(extra, "too little time")).toEqual([
      ["quiz: 45 minutes are theirs, and it is open for 30, for 2 students.", ["ben", "cas"]],
    ]);
    // Days more to close in are room enough; what never closes is, too.
    const days = { ...plan.allowances.more, extraDays: 1 };
    expect(says({ ...plan, allowances: { more: days } }, "too little time")).toEqual([]);
    const open = { ...plan.items.quiz, dates: { ...dates, closes: "none" as const } };
    expect(says({ ...extra, items: { quiz: open } as Plan["items"] }, "too little time")).toEqual([]);
  });
  test("a date that an override alone sets, by a meeting that is not there, is none either", () => {
    const plan = course();
    addItem(plan, "lab");
    plan.overrides.e = { id: "e", itemId: "lab", target: group("Evening"), dates: { due: meetingAnchor(4) } };
    expect(says(plan, "no date")).toEqual([["lab: no date for due, for 2 students.", ["ben", "cas"]]]);
    // Where the base holds instead, they have a date.
    Object.assign(plan.items.lab as object, { dates: { due: "2026-12-01T17:00" } });
    expect(says(plan, "no date")).toEqual([]);
  });
  test("a group with meetings of its own has its own days without class", () => {
    const plan = course();
    const pattern = [{ weekday: 2, start: "18:00", end: "20:00", place: "" }];
    Object.assign(plan.groups.Evening as object, { pattern, noClassDays: ["2026-11-10"] });
    plan.course.meetingLayerId = "Times";
    addItem(plan, "lab", { dates: { due: "2026-11-10T17:00" } });
    expect(says(plan, "no-class day")).toEqual([
      ["lab: due on Tue 10 Nov, a day without class, for 2 students.", ["ben", "cas"]],
    ]);
  });
  test("a due on a no-class day of the course touches everyone, one of a section its students; the mend goes on to class", () => {
    const plan = course();
    addItem(plan, "lab", { dates: { due: "2026-10-26T17:00" } });
    expect(says(plan, "no-class day")).toEqual([
      ["lab: due on Mon 26 Oct, a day without class, for 3 students.", ["ada", "ben", "cas"]],
    ]);
    expect(mends(plan, "no-class day")).toEqual(["Due on the next day with class, Tue 27 Oct, 17:00"]);
    const own = course();
    addItem(own, "lab", { dates: { due: "2026-11-06T17:00" } });
    expect(says(own, "no-class day")).toEqual([
      ["lab: due on Fri 6 Nov, a day without class, for 1 student.", ["ada"]],
    ]);
  });
  test("due by meeting n but before meeting n − 1 begins is asked about, for those whose date it is", () => {
    const plan = course();
    addItem(plan, "lab", { dates: { due: meetingAnchor(5, { days: -3 }) } });
    addItem(plan, "log", { dates: { due: meetingAnchor(5, { days: -2 }) } });
    expect(says(plan, "before meeting")).toEqual([
      ["lab: due by meeting 5, but before meeting 4 begins, for 1 student.", ["ada"]],
    ]);
    // Three days more, and it is due after the meeting before.
    const allowance = { id: "a", target: person("ada"), minutesFactor: null, extraDays: 3, extraAttempts: null };
    plan.allowances = { a: allowance };
    expect(says(plan, "before meeting")).toEqual([]);
  });
});

describe("groups beside each other", () => {
  test("two dues of one group on a calendar day", () => {
    const plan = course();
    addItem(plan, "lab", { dates: { due: "2026-11-10T00:00" } });
    addItem(plan, "log", { dates: { due: "2026-11-10T23:59" } });
    addItem(plan, "map", { dates: { due: "2026-11-11T00:00" } });
    expect(says(plan, "same day")).toEqual([
      ["Tue 10 Nov: lab and log are due, for 3 students of Day, Evening.", ["ada", "ben", "cas"]],
    ]);
    plan.overrides = {
      e: { id: "e", itemId: "log", target: group("Evening"), dates: { due: "2026-11-12T23:59" } },
    };
    expect(says(plan, "same day")).toEqual([["Tue 10 Nov: lab and log are due, for 1 student of Day.", ["ada"]]]);
  });
  test("working time that differs by more than the share, and none that differs by less", () => {
    const plan = course();
    addItem(plan, "lab", { dates: { opens: "2026-11-01T09:00", due: "2026-11-11T09:00" } });
    plan.overrides.e = { id: "e", itemId: "lab", target: group("Evening"), dates: { due: "2026-11-08T17:00" } };
    expect(says(plan, "unequal time")).toEqual([["lab: Evening has 7 days for it, Day 10.", ["ben", "cas"]]]);
    plan.course.unequalShare = 30;
    expect(says(plan, "unequal time")).toEqual([]);
  });
});

describe("overrides and drafts", () => {
  test("an override for somebody whom the item is not meant for changes nothing; the mend removes it", () => {
    const plan = course();
    addItem(plan, "lab", { audience: forOnly(section("D1")), dates: { due: "2026-11-10T17:00" } });
    const override = { itemId: "lab", dates: { due: "2026-11-12T17:00" } };
    plan.overrides.b = { id: "b", target: person("ben"), ...override };
    plan.overrides.d = { id: "d", target: group("Day"), ...override };
    expect(says(plan, "vain override")).toEqual([["lab: dates for Test, ben, but it is meant for nobody there.", []]]);
    expect(mends(plan, "vain override")).toEqual(["Remove the override"]);
  });
  test("dues that the draft moves earlier are told with whom they touch; later ones, and what is published, are not", () => {
    const published = course();
    addItem(published, "lab", { dates: { due: "2026-11-10T17:00" } });
    addItem(published, "log", { dates: { due: "2026-11-10T17:00" } });
    const drafted = structuredClone(published);
    Object.assign(drafted.items.log as object, { dates: { due: "2026-11-12T17:00" } });
    drafted.overrides.e = { id: "e", itemId: "lab", target: section("EV"), dates: { due: "2026-11-08T17:00" } };
    drafted.course.datePolicy = "layer order";
    expect(says(drafted, "moved earlier", published)).toEqual([
      ["lab: due moves earlier, from Tue 10 Nov, 17:00 to Sun 8 Nov, 17:00, for 2 students.", ["ben", "cas"]],
    ]);
    expect(says(drafted, "moved earlier")).toEqual([]);
  });
  test("findings about dates are left to put right in Timing, and nowhere else", () => {
    expect(timingKinds.every(isTiming)).toBe(true);
    expect(isTiming("leak")).toBe(false);
  });
});
