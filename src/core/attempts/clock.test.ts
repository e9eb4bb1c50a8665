/**
 * The clock of an attempt, held to the rule as it is written: at each moment it is over if at no moment since its beginning
 * the limits as they stood then reached beyond it. Source: semantics.md section 7, attempts.
 */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { instantOf } from "../clock/local-time.ts";
import type { Item, Plan } from "../plan/types.ts";
import {
  addItem,
  addLayer,
  addSection,
  addStudent,
  coursePlan,
  group,
  person,
  section,
  zone,
} from "../tests/fixture.ts";
import { membershipsAt, resolveDates, resolvedInstant } from "../timing/resolving/resolve.ts";
import { endBy, isOver, laterEnd, limitsOf } from "./clock.ts";

const minute = 60_000;
const at = (wall: string) => instantOf(wall, zone);

function course(): Plan {
  const plan = coursePlan();
  addSection(plan, "D1");
  addLayer(plan, "Banks", ["North", "South"]);
  addStudent(plan, "ada", ["D1"], ["North"]);
  addStudent(plan, "ben", ["D1"], ["South"]);
  return plan;
}
const quizOf = (plan: Plan, dates: Item["dates"]): Item => addItem(plan, "quiz", { kind: "quiz", dates });
/** The plan with an override more: what was asked of the plan before is remembered with it. */
const overridden = (
  plan: Plan,
  id: string,
  target: Plan["overrides"][string]["target"],
  dates: Item["dates"],
): Plan => ({
  ...plan,
  overrides: { ...plan.overrides, [id]: { id, itemId: "quiz", target, dates } },
});
const allowance = (
  plan: Plan,
  id: string,
  target: Plan["allowances"][string]["target"],
  minutesFactor: string | null,
  extraDays = 0,
) => {
  plan.allowances[id] = { id, target, minutesFactor, extraDays: extraDays || null, extraAttempts: null };
};

describe("ends at the earliest of begin + minutes and closes", () => {
  const begin = at("2026-11-25T10:00");
  test("by what is set; without either never", () => {
    expect(endBy(begin, { minutes: 30, closes: null })).toBe(begin + 30 * minute);
    expect(endBy(begin, { minutes: 30, closes: begin + 10 * minute })).toBe(begin + 10 * minute);
    expect(endBy(begin, { minutes: null, closes: begin + 10 * minute })).toBe(begin + 10 * minute);
    expect(endBy(begin, { minutes: null, closes: null })).toBeNull();
  });
  test("minutes that staff give are beyond both, and beyond a closing that was before the beginning", () => {
    expect(endBy(begin, { minutes: 30, closes: begin + 10 * minute }, 5)).toBe(begin + 15 * minute);
    expect(endBy(begin, { minutes: 30, closes: begin - minute }, 5)).toBe(begin + 5 * minute);
    expect(endBy(begin, { minutes: null, closes: null }, 5)).toBeNull();
  });
  test("its end is not part of it, and no end never comes", () => {
    expect([isOver(begin, begin - 1), isOver(begin, begin), isOver(null, begin)]).toEqual([false, true, false]);
  });
  test("what is no limit is later than any", () => {
    expect([laterEnd(5, 7), laterEnd(7, 5), laterEnd(null, 5), laterEnd(5, null)]).toEqual([7, 7, null, null]);
  });
});

describe("limits are the student's own as they stand", () => {
  const t = at("2026-11-25T10:00");
  test("with the factor of an allowance, and one's own override final", () => {
    const plan = course();
    const quiz = quizOf(plan, { minutes: 25, closes: "2026-11-25T12:00", attempts: 2, accessWord: "weir" });
    allowance(plan, "more", group("North"), "1.5");
    expect(limitsOf(plan, quiz, ["ada"], t)).toEqual({
      minutes: 38,
      closes: at("2026-11-25T12:00"),
      attempts: 2,
      accessWord: "weir",
    });
    expect(limitsOf(plan, quiz, ["ben"], t).minutes).toBe(25);
    const own = overridden(plan, "own", person("ada"), { minutes: 60, accessWord: "none", attempts: "none" });
    expect(limitsOf(own, quiz, ["ada"], t)).toMatchObject({ minutes: 60, accessWord: null, attempts: null });
  });
  test("a group has the most generous of its members' limits, and needs no word where one of them needs none", () => {
    const plan = course();
    const quiz = quizOf(plan, { minutes: 25, closes: "2026-11-25T12:00", attempts: 2, accessWord: "weir" });
    allowance(plan, "more", group("North"), "2");
    const days = overridden(plan, "days", person("ben"), { closes: "2026-11-26T12:00", accessWord: "none" });
    expect(limitsOf(days, quiz, ["ada", "ben"], t)).toEqual({
      minutes: 50,
      closes: at("2026-11-26T12:00"),
      attempts: 2,
      accessWord: null,
    });
    const free = overridden(plan, "free", person("ada"), { minutes: "none" });
    expect(limitsOf(free, quiz, ["ada", "ben"], t).minutes).toBeNull();
    expect(limitsOf(plan, quiz, [], t)).toEqual({ minutes: null, closes: null, attempts: null, accessWord: null });
  });
  test("minutes are minutes through a change of clocks; closes is a time on the wall", () => {
    const plan = course();
    // On 25 October 2026 clocks go back at 02:00 in Dublin.
    const quiz = quizOf(plan, { minutes: 120, closes: "2026-10-25T03:00" });
    const begin = at("2026-10-25T00:30");
    expect(endBy(begin, limitsOf(plan, quiz, ["ada"], begin))).toBe(begin + 120 * minute);
    expect(at("2026-10-25T03:00") - begin).toBe(210 * minute);
  });
});

/** What somebody does to the plan meanwhile; minutes after the beginning. */
interface Change {
  after: number;
  change: (plan: Plan) => void;
}
const change: fc.Arbitrary<Change> = fc.record({
  after: fc.integer({ min: 1, max: 200 }),
  change: fc.oneof(
    fc.integer({ min: 1, max: 120 }).map((minutes) => (plan: Plan) => {
      plan.overrides.minutes = { id: "minutes", itemId: "quiz", target: section("D1"), dates: { minutes } };
    }),
    fc.integer({ min: 0, max: 300 }).map((more) => (plan: Plan) => {
      const closes = new Date(at("2026-10-24T23:00") + more * minute).toISOString().slice(0, 16);
      plan.overrides.closes = { id: "closes", itemId: "quiz", target: person("ada"), dates: { closes } };
    }),
    fc
      .constantFrom("1.5", "2", "1.25", null)
      .map((factor) => (plan: Plan) => allowance(plan, "factor", group("North"), factor)),
    fc.constant((plan: Plan) => {
      plan.overrides = {};
    }),
  ),
});

/**
 * The rule said minute by minute: at each, how far the limits of then reach; it is over once none of those so far reaches
 * beyond it. What is over stays over.
 */
function overByTheRule(plans: (minutes: number) => Plan, begin: number, after: number): boolean {
  let furthest = Number.NEGATIVE_INFINITY;
  for (let past = 0; past <= after; past++) {
    const t = begin + past * minute;
    const plan = plans(past);
    const dates = resolveDates(plan, plan.items.quiz as Item, membershipsAt(plan, "ada", t));
    const closes = resolvedInstant(plan, dates, "closes");
    const ends = [
      ...(typeof dates.minutes.value === "number" ? [begin + dates.minutes.value * minute] : []),
      ...(closes === null ? [] : [closes]),
    ];
    furthest = Math.max(furthest, ends.length === 0 ? Number.POSITIVE_INFINITY : Math.max(begin, Math.min(...ends)));
    if (furthest <= t) return true;
  }
  return false;
}

test("asked at each change and at the end alone, it ends when the rule says, whatever changes and wherever it restarts", () => {
  fc.assert(
    fc.property(
      fc.array(change, { maxLength: 5 }),
      fc.integer({ min: 1, max: 60 }),
      fc.option(fc.integer({ min: 0, max: 180 }), { nil: null }),
      fc.uniqueArray(fc.integer({ min: 1, max: 240 }), { maxLength: 4 }),
      (changes, minutes, closesAfter, asked) => {
        const begin = at("2026-10-24T23:30");
        const closes =
          closesAfter === null
            ? {}
            : { closes: new Date(begin + closesAfter * minute + 60 * minute).toISOString().slice(0, 16) };
        const inOrder = [...changes].sort((a, b) => a.after - b.after);
        const versions = [{ from: 0, plan: course() }];
        quizOf(versions[0]?.plan as Plan, { minutes, ...closes });
        for (const { after, change: apply } of inOrder) {
          const before = versions.at(-1)?.plan as Plan;
          const plan = { ...before, overrides: { ...before.overrides }, allowances: { ...before.allowances } };
          apply(plan);
          versions.push({ from: after, plan });
        }
        const plans = (past: number) => versions.filter(({ from }) => from <= past).at(-1)?.plan as Plan;
        // The server looks when a plan is published, when a page asks, and when the clock comes to the end that it knows.
        let known = endBy(begin, limitsOf(plans(0), plans(0).items.quiz as Item, ["ada"], begin));
        let ended: number | null = null;
        const look = (past: number) => {
          const t = begin + past * minute;
          if (ended !== null) return;
          const plan = plans(past);
          const next = laterEnd(known, endBy(begin, limitsOf(plan, plan.items.quiz as Item, ["ada"], t)));
          known = next;
          if (isOver(known, t)) ended = known;
        };
        for (let past = 0; past <= 240; past++) {
          const t = begin + past * minute;
          const isDue = known !== null && known <= t;
          if (isDue || asked.includes(past) || versions.some(({ from }) => from === past && past > 0)) look(past);
          const isEnded: boolean = ended !== null && (ended as number) <= t;
          if (past % 20 === 0) expect([past, isEnded]).toEqual([past, overByTheRule(plans, begin, past)]);
        }
      },
    ),
    { numRuns: 60 },
  );
});
