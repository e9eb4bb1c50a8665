/** Why a date is what it is: every step with what beat it, held to what holds. Source: semantics.md section 6. */
import { describe, expect, test } from "vitest";
import type { Allowance, DateField, DateFields, Item, Plan, Target } from "../../plan/types.ts";
import {
  addItem,
  addLayer,
  addSection,
  addStudent,
  coursePlan,
  group,
  meetingAnchor,
  person,
  section,
  t0,
} from "../../tests/fixture.ts";
import { chainOf, isSetAnywhere } from "./chain.ts";
import { membershipsAt } from "./resolve.ts";

const m = (meeting: number, fallback: string | null = null) => meetingAnchor(meeting, { fallback });

/** Ada is in section D1 (no meetings), group North of Banks, group Quick of Pace, and the private group Hidden. */
function course(dates: DateFields, overrides: [Target, DateFields][] = []): Plan {
  const plan = coursePlan();
  addSection(plan, "D1");
  addLayer(plan, "Banks", ["North", "South"]);
  addLayer(plan, "Pace", ["Quick", "Slow"]);
  addStudent(plan, "ada", ["D1"], ["North", "Quick"]);
  addItem(plan, "lab", { kind: "quiz", dates });
  overrides.forEach(([target, fields], at) => {
    plan.overrides[at] = { id: String(at), itemId: "lab", target, dates: fields };
  });
  return plan;
}
const allowance = (target: Target, more: Partial<Allowance>): Allowance => ({
  id: `${target.id} allowance`,
  target,
  minutesFactor: null,
  extraDays: null,
  extraAttempts: null,
  ...more,
});
const chain = (plan: Plan, field: DateField) => {
  const { value, steps } = chainOf(plan, plan.items.lab as Item, membershipsAt(plan, "ada", t0), field);
  return [value, ...steps.map(({ kind, target, value: comes, holds, why }) => [target?.id ?? kind, comes, holds, why])];
};

describe("the chain", () => {
  test("a base alone holds; what nobody set has no chain", () => {
    const plan = course({ due: "2026-12-01T17:00" });
    expect(chain(plan, "due")).toEqual([
      "2026-12-01T17:00",
      ["base", "2026-12-01T17:00", true, "nothing else sets it"],
    ]);
    expect(chain(plan, "opens")).toEqual([null]);
    expect([
      isSetAnywhere(plan, plan.items.lab as Item, "due"),
      isSetAnywhere(plan, plan.items.lab as Item, "opens"),
    ]).toEqual([true, false]);
  });
  test("by the most generous, those that are less so lose to it; others' overrides are not in it", () => {
    const plan = course({ due: "2026-12-01T17:00" }, [
      [group("North"), { due: "2026-12-02T17:00" }],
      [section("D1"), { due: "2026-12-05T17:00" }],
      [group("South"), { due: "2026-12-24T17:00" }],
    ]);
    expect(chain(plan, "due")).toEqual([
      "2026-12-05T17:00",
      ["base", "2026-12-01T17:00", false, "an override sets it"],
      ["North", "2026-12-02T17:00", false, "not more generous than for D1"],
      ["D1", "2026-12-05T17:00", true, "it is the most generous"],
    ]);
  });
  test("by the order of layers the first holds, whatever it gives; a student's own is final, without allowances", () => {
    const plan = course({ due: "2026-12-01T17:00" }, [
      [group("Quick"), { due: "2026-12-20T17:00" }],
      [group("North"), { due: "2026-12-02T17:00" }],
    ]);
    plan.course.datePolicy = "layer order";
    plan.allowances.n = allowance(group("North"), { extraDays: 2 });
    expect(chain(plan, "due")).toEqual([
      "2026-12-04T17:00",
      ["base", "2026-12-01T17:00", false, "an override sets it"],
      ["Quick", "2026-12-20T17:00", false, "North comes first in the order of layers"],
      ["North", "2026-12-02T17:00", true, "it comes first in the order of layers"],
      ["North", "2026-12-04T17:00", true, "added at the end"],
    ]);
    plan.overrides.own = { id: "own", itemId: "lab", target: person("ada"), dates: { due: "2026-11-30T09:00" } };
    expect(chain({ ...plan, overrides: { ...plan.overrides } }, "due")).toEqual([
      "2026-11-30T09:00",
      ["base", "2026-12-01T17:00", false, "an override sets it"],
      ["Quick", "2026-12-20T17:00", false, "the student's own is final"],
      ["North", "2026-12-02T17:00", false, "the student's own is final"],
      ["ada", "2026-11-30T09:00", true, "the student's own is final"],
      ["North", null, false, "the student's own is final"],
    ]);
  });
  test("of two allowances the larger holds; none stays none, and there is nothing to add to what is unset", () => {
    const plan = course({ minutes: 30, attempts: "none" });
    plan.allowances.n = allowance(group("North"), { minutesFactor: "1.25", extraAttempts: 2, extraDays: 1 });
    plan.allowances.q = allowance(group("Quick"), { minutesFactor: "1.5" });
    expect(chain(plan, "minutes")).toEqual([
      45,
      ["base", 30, true, "nothing else sets it"],
      ["North", null, false, "a larger one holds"],
      ["Quick", 45, true, "added at the end"],
    ]);
    expect(chain(plan, "attempts")).toEqual([
      "none",
      ["base", "none", true, "nothing else sets it"],
      ["North", null, false, "none stays none"],
    ]);
    expect(chain(plan, "due")).toEqual([null]);
  });
  test("an anchor without a meeting sets nothing: as an override it loses, as a base nobody has a date", () => {
    const plan = course({ due: m(4) }, [[group("North"), { due: m(5) }]]);
    plan.allowances.n = allowance(group("North"), { extraDays: 1 });
    expect(chain(plan, "due")).toEqual([
      null,
      ["base", null, false, "there is no such meeting"],
      ["North", null, false, "there is no such meeting, so it sets nothing"],
      ["North", null, false, "there is no date to add to"],
    ]);
    const held = course({ due: m(4, "2026-12-01T17:00") });
    expect(chain(held, "due")).toEqual([
      "2026-12-01T17:00",
      ["base", "2026-12-01T17:00", true, "nothing else sets it"],
    ]);
  });
  test("of two passwords that of the first layer holds, whichever policy", () => {
    const plan = course({}, [
      [group("Quick"), { accessWord: "heron" }],
      [group("North"), { accessWord: "otter" }],
    ]);
    expect(chain(plan, "accessWord")).toEqual([
      "otter",
      ["Quick", "heron", false, "North comes first in the order of layers"],
      ["North", "otter", true, "it comes first in the order of layers"],
    ]);
  });
});
