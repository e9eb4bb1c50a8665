/** Dates held to a slow oracle on random overrides, allowances, memberships and both policies. */
import fc from "fast-check";
import { expect, test } from "vitest";
import type { Allowance, DateField, DateFields, Override, Plan, Target } from "../plan/types.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, t0 } from "../tests/fixture.ts";
import { dateFields, differingTargets, membershipsAt, resolveDates, resolveField } from "./resolve.ts";
import { addDays, instantOf } from "./wall.ts";

const layers = ["Banks", "Pace"];
const targetOf: fc.Arbitrary<Target> = fc.constantFrom(
  { kind: "group", id: "North" },
  { kind: "group", id: "South" },
  { kind: "group", id: "Quick" },
  { kind: "group", id: "Slow" },
  { kind: "set", id: "Mixed" },
  { kind: "set", id: "Slowest" },
  { kind: "section", id: "D1" },
  { kind: "section", id: "EV" },
  { kind: "person", id: "ada" },
  { kind: "person", id: "ben" },
);
const wall = fc.constantFrom("2026-10-24T17:00", "2026-10-25T01:30", "2026-11-20T09:00", "2026-12-01T17:00");
const none = fc.constant("none" as const);
const datesOf: fc.Arbitrary<DateFields> = fc.record(
  {
    opens: fc.oneof(wall, none),
    due: fc.oneof(wall, none),
    closes: fc.oneof(wall, none),
    attempts: fc.oneof(fc.integer({ min: 1, max: 4 }), none),
    minutes: fc.oneof(fc.constantFrom(10, 45, 61), none),
    accessWord: fc.oneof(fc.constantFrom("otter", "heron", "perch"), none),
  },
  { requiredKeys: [] },
);
const courseOf = fc
  .record({
    base: datesOf,
    overrides: fc.uniqueArray(fc.record({ target: targetOf, dates: datesOf }), {
      maxLength: 6,
      selector: ({ target }) => target.kind + target.id,
    }),
    allowances: fc.array(
      fc.record({
        target: targetOf,
        minutesFactor: fc.constantFrom(null, "1.1", "1.25", "1.5"),
        extraDays: fc.constantFrom(null, 1, 7),
        extraAttempts: fc.constantFrom(null, 1, 2),
      }),
      { maxLength: 3 },
    ),
    groups: fc.subarray(["North", "South", "Quick", "Slow"]),
    sections: fc.subarray(["D1", "EV"], { minLength: 1 }),
    policy: fc.constantFrom<Plan["course"]["datePolicy"]>("most generous", "layer order"),
    order: fc.shuffledSubarray(["Banks", "Pace", "sections"]),
  })
  .map(({ base, overrides, allowances, groups, sections, policy, order }) => {
    const plan = coursePlan();
    Object.assign(plan.course, { datePolicy: policy, layerOrder: order });
    for (const code of ["D1", "EV"]) addSection(plan, code);
    addLayer(plan, "Banks", ["North", "South"], { rule: "any number" });
    addLayer(plan, "Pace", ["Quick", "Slow"], { rule: "any number" });
    plan.sets.Mixed = { id: "Mixed", name: "Mixed", groupIds: ["South", "Quick"] };
    plan.sets.Slowest = { id: "Slowest", name: "Slowest", groupIds: ["Slow"] };
    addStudent(plan, "ada", sections, groups);
    addStudent(plan, "ben");
    addItem(plan, "lab", { kind: "quiz", dates: base });
    overrides.forEach((override, at) => {
      plan.overrides[at] = { id: String(at), itemId: "lab", ...override };
    });
    allowances.forEach((allowance, at) => {
      plan.allowances[at] = { id: String(at), ...allowance };
    });
    return { plan, groups, sections };
  });
type Drawn = Parameters<Parameters<typeof courseOf.map>[0]>[0];

const isAda = ({ groups, sections, plan }: Drawn, { kind, id }: Target) =>
  kind === "person"
    ? id === "ada"
    : kind === "section"
      ? sections.includes(id)
      : (kind === "set" ? (plan.sets[id]?.groupIds ?? []) : [id]).some((group) => groups.includes(group));
/** A set stands where the first group does that it has Ada in: by layer, then by group. */
function firstOf(drawn: Drawn, { kind, id }: Target): Target {
  if (kind !== "set") return { kind, id };
  const hers = ["North", "South", "Quick", "Slow"].filter(
    (group) => drawn.groups.includes(group) && drawn.plan.sets[id]?.groupIds.includes(group),
  );
  const layer = Math.min(...hers.map((group) => place(drawn.plan, { kind: "group", id: group })));
  return { kind: "group", id: hers.find((group) => place(drawn.plan, { kind: "group", id: group }) === layer) ?? "" };
}
const layerOf = (group: string) => (["North", "South"].includes(group) ? "Banks" : "Pace");

/** Where a target's layer stands: in the order, then layers in their own order, then sections. */
function place(plan: Plan, { kind, id }: Target): number {
  const full = [...plan.course.layerOrder, ...layers.filter((layer) => !plan.course.layerOrder.includes(layer))];
  if (!full.includes("sections")) full.push("sections");
  return full.indexOf(kind === "section" ? "sections" : layerOf(id));
}

/** Steps 1 to 4 of the rules, a sentence each. */
function expected(drawn: Drawn, field: DateField): string | number | null {
  const { plan } = drawn;
  const setting = (override: Override) => override.dates[field] !== undefined && isAda(drawn, override.target);
  const mine = Object.values(plan.overrides).filter(setting);
  const own = mine.find(({ target }) => target.kind === "person");
  if (own) return own.dates[field] as string | number;
  let candidates = mine;
  if (field === "accessWord" || plan.course.datePolicy === "layer order") {
    const placeOf = ({ target }: Override) => place(plan, firstOf(drawn, target));
    const first = Math.min(...mine.map(placeOf));
    candidates = mine.filter((override) => placeOf(override) === first);
  }
  const amount = (value: string | number) =>
    value === "none"
      ? Number.POSITIVE_INFINITY
      : typeof value === "number"
        ? value
        : instantOf(value, plan.course.timeZone);
  let value: string | number | null = plan.items.lab?.dates[field] ?? null;
  if (candidates.length > 0) {
    if (field === "accessWord") {
      // Within a layer, the group's: the group that comes first.
      const groups = ["North", "South", "Quick", "Slow", "D1", "EV"];
      const at = ({ target }: Override) => groups.indexOf(firstOf(drawn, target).id);
      candidates = [...candidates].sort((a, b) => at(a) - at(b));
      value = candidates[0]?.dates[field] ?? null;
    } else {
      const values = candidates.map(({ dates }) => dates[field] as string | number);
      const ordered = values.includes("none") ? ["none"] : [...values].sort((a, b) => amount(a) - amount(b));
      value = (field === "opens" ? ordered[0] : ordered.at(-1)) ?? null;
    }
  }
  if (value === null || value === "none") return value;
  const allowed = Object.values(plan.allowances).filter(({ target }) => isAda(drawn, target));
  const most = (of: (allowance: Allowance) => number | string | null) =>
    Math.max(0, ...allowed.map((one) => Number(of(one) ?? 0)));
  if (field === "due" || field === "closes")
    return addDays(
      String(value),
      most(({ extraDays }) => extraDays),
    );
  if (field === "attempts") return Number(value) + most(({ extraAttempts }) => extraAttempts);
  const factor = most(({ minutesFactor }) => minutesFactor);
  // Hundredths are exact here: factors have two decimals at most.
  if (field === "minutes" && factor > 0) return Math.ceil((Number(value) * Math.round(factor * 100)) / 100);
  return value;
}

test("every field is what the rules say, step by step", () => {
  fc.assert(
    fc.property(courseOf, (drawn) => {
      const { plan } = drawn;
      const resolved = resolveDates(plan, plan.items.lab as never, membershipsAt(plan, "ada", t0));
      for (const field of dateFields) {
        // Of two access words of one section layer the rules say nothing: both sections are the person's.
        const sections = Object.values(plan.overrides).filter(
          ({ target, dates }) => target.kind === "section" && dates[field] !== undefined && isAda(drawn, target),
        );
        if (field === "accessWord" && sections.length > 1) continue;
        expect([field, resolved[field].value]).toEqual([field, expected(drawn, field)]);
      }
    }),
    { numRuns: 1000 },
  );
});

test("asked for alone a field is the same, and whoever is no differing target has the item's own value", () => {
  fc.assert(
    fc.property(courseOf, (drawn) => {
      const { plan } = drawn;
      const item = plan.items.lab as never;
      const memberships = membershipsAt(plan, "ada", t0);
      const all = resolveDates(plan, item, memberships);
      for (const field of dateFields) {
        expect(resolveField(plan, item, memberships, field)).toEqual(all[field]);
        const differs = differingTargets(plan, item, field).some((target) => isAda(drawn, target));
        if (!differs) expect([field, all[field].value]).toEqual([field, plan.items.lab?.dates[field] ?? null]);
      }
    }),
    { numRuns: 500 },
  );
});
