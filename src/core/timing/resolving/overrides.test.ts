import { describe, expect, test } from "vitest";
import { apply, Command, type NewCommand } from "../../commands.ts";
import { isRefusal } from "../../plan/command.ts";
import { noProgress } from "../../plan/progress.ts";
import type { DateFields, Plan, Target } from "../../plan/types.ts";
import { reachAt } from "../../reach/reach.ts";
import {
  addItem,
  addLayer,
  addSection,
  addStudent,
  coursePlan,
  group,
  person,
  section,
  t0,
} from "../../tests/fixture.ts";
import { overrideEffects } from "./overrides.ts";

/** Ada and Eli in North, Ben in South; all in D1. */
function course(): Plan {
  const plan = coursePlan();
  addSection(plan, "D1");
  addLayer(plan, "Banks", ["North", "South", "West"]);
  addStudent(plan, "ada", ["D1"], ["North"]);
  addStudent(plan, "eli", ["D1"], ["North"]);
  addStudent(plan, "ben", ["D1"], ["South"]);
  addItem(plan, "lab", { kind: "assignment", dates: { due: "2026-12-01T09:00", attempts: 2 } });
  return plan;
}
const set = (plan: Plan, id: string, target: Target, dates: DateFields) => {
  plan.overrides[id] = { id, itemId: "lab", target, dates };
};
const effects = (plan: Plan, without?: Set<string>) =>
  Object.fromEntries(
    overrideEffects(reachAt(plan, noProgress, t0), without).map(({ override, fields, touches }) => [
      override.id,
      [touches, ...fields.map(({ field, changes, idle, moves }) => [field, changes, idle, moves])],
    ]),
  );

describe("what each override changes", () => {
  test("for how many, and what would hold without it", () => {
    const plan = course();
    set(plan, "n", group("North"), { due: "2026-12-08T09:00" });
    set(plan, "ada", person("ada"), { due: "2026-12-20T09:00" });
    expect(effects(plan)).toEqual({
      // Ada's own is final: North's changes nothing for her.
      n: [1, ["due", 1, null, [{ from: "2026-12-01T09:00", to: "2026-12-08T09:00", students: 1 }]]],
      ada: [1, ["due", 1, null, [{ from: "2026-12-08T09:00", to: "2026-12-20T09:00", students: 1 }]]],
    });
    // Both away at once, Ada falls to the base.
    expect(effects(plan, new Set(["n"])).ada).toEqual([
      1,
      ["due", 1, null, [{ from: "2026-12-01T09:00", to: "2026-12-20T09:00", students: 1 }]],
    ]);
  });
  test("from and to are what each really has, extra days and all", () => {
    const plan = course();
    set(plan, "n", group("North"), { due: "2026-12-08T09:00" });
    plan.allowances.more = {
      id: "more",
      target: person("eli"),
      minutesFactor: null,
      extraDays: 2,
      extraAttempts: null,
    };
    expect(effects(plan).n).toEqual([
      2,
      [
        "due",
        2,
        null,
        [
          { from: "2026-12-01T09:00", to: "2026-12-08T09:00", students: 1 },
          { from: "2026-12-03T09:00", to: "2026-12-10T09:00", students: 1 },
        ],
      ],
    ]);
  });
  test("those that change nothing, each with why", () => {
    const plan = course();
    set(plan, "less", group("North"), { due: "2026-12-02T09:00" });
    set(plan, "more", section("D1"), { due: "2026-12-09T09:00" });
    set(plan, "base", group("South"), { attempts: 2 });
    set(plan, "empty", group("West"), { due: "2026-12-30T09:00" });
    set(plan, "gone", group("East"), { due: "2026-12-30T09:00" });
    expect(
      Object.fromEntries(Object.entries(effects(plan)).map(([id, [, field]]) => [id, (field as unknown[])[2]])),
    ).toEqual({
      less: "superseded",
      more: null,
      base: "the same without it",
      empty: "nobody is in it",
      gone: "its target is gone",
    });
  });
});

test("overrides are removed many at once; an allowance that gives nothing is refused", () => {
  const plan = course();
  set(plan, "a", group("North"), { due: "2026-12-02T09:00" });
  set(plan, "b", group("South"), { due: "2026-12-02T09:00" });
  const run = (command: NewCommand) => apply(plan, Command.parse({ ...command, id: "c" }), { now: t0 });
  expect((run({ kind: "overrides.remove", overrideIds: ["a", "b"] }) as Plan).overrides).toEqual({});
  expect(run({ kind: "overrides.remove", overrideIds: ["a", "x"] })).toMatchObject({ code: "override.gone" });
  const allowance = { id: "w", target: group("North"), minutesFactor: null, extraDays: null, extraAttempts: null };
  expect(isRefusal(run({ kind: "allowance.set", allowance }))).toBe(true);
  expect(
    (run({ kind: "allowance.set", allowance: { ...allowance, minutesFactor: "1.5" } }) as Plan).allowances.w,
  ).toBeDefined();
});
