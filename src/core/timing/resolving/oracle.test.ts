/** Dates held to a slow oracle on random overrides, allowances, memberships and both policies. */
import fc from "fast-check";
import { expect, test } from "vitest";
import { addDays, instantOf, wallOf } from "../../clock/local-time.ts";
import { noProgress } from "../../plan/progress.ts";
import type { Allowance, Anchor, DateField, DateFields, Item, Plan, Target } from "../../plan/types.ts";
import { reachAt } from "../../reach/reach.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, t0 } from "../../tests/fixture.ts";
import { isAnchor } from "../anchors.ts";
import { meetingsOf } from "../meetings.ts";
import {
  dateFields,
  differingTargets,
  isMomentField,
  membershipsAt,
  resolveDates,
  resolveField,
  type Value,
} from "./resolve.ts";
import { dateTable } from "./table.ts";

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
const anchor: fc.Arbitrary<Anchor> = fc.record({
  meeting: fc.constantFrom<Anchor["meeting"]>(1, 5, 6, 99, { lastBefore: "2026-10-26" }),
  edge: fc.constantFrom("start" as const, "end" as const),
  days: fc.constantFrom(-1, 0, 2),
  time: fc.constantFrom(null, "01:30", "23:59"),
  fallback: fc.constantFrom(null, "2026-12-01T17:00"),
});
const moment = fc.oneof({ weight: 3, arbitrary: wall }, { weight: 2, arbitrary: anchor });
const none = fc.constant("none" as const);
const datesOf: fc.Arbitrary<DateFields> = fc.record(
  {
    opens: fc.oneof(moment, none),
    due: fc.oneof(moment, none),
    closes: fc.oneof(moment, none),
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
    meets: fc.constantFrom(null, "Banks"),
    kind: fc.constantFrom<Item["kind"]>("quiz", "quiz", "event"),
  })
  .map(({ base, overrides, allowances, groups, sections, policy, order, meets, kind }) => {
    const plan = coursePlan();
    Object.assign(plan.course, { datePolicy: policy, layerOrder: order, meetingLayerId: meets });
    for (const code of ["D1", "EV"]) addSection(plan, code);
    // One section meets at a time that the clock change skips or doubles, the other has no meetings.
    const slot = (weekday: number, start: string, end: string) => ({ weekday, start, end, place: "" });
    Object.assign(plan.sections.D1 as object, { pattern: [slot(7, "01:30", "02:30"), slot(3, "09:00", "10:00")] });
    addLayer(plan, "Banks", ["North", "South"], { rule: "any number" });
    addLayer(plan, "Pace", ["Quick", "Slow"], { rule: "any number" });
    Object.assign(plan.groups.South as object, { pattern: [slot(2, "18:00", "20:00")] });
    plan.sets.Mixed = { id: "Mixed", name: "Mixed", groupIds: ["South", "Quick"] };
    plan.sets.Slowest = { id: "Slowest", name: "Slowest", groupIds: ["Slow"] };
    addStudent(plan, "ada", sections, groups);
    addStudent(plan, "ben");
    addItem(plan, "lab", { kind, dates: base });
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

/** What a value is for Ada: through South's own meetings where she is in it and they count, otherwise her section's. */
function adas({ plan, groups, sections }: Drawn, given: string | number | Anchor | undefined): Value {
  if (!isAnchor(given)) return given ?? null;
  const bySouth = plan.course.meetingLayerId === "Banks" && groups.includes("South") && plan.groups.South;
  // Of two sections that began at once the first that was enrolled in is home.
  const home = sections[0] === "D1" ? plan.sections.D1 : plan.sections.EV;
  const meetings = meetingsOf(plan.course, bySouth ? bySouth : (home as never));
  const { meeting } = given;
  const one =
    typeof meeting === "number" ? meetings[meeting - 1] : meetings.filter(({ day }) => day < meeting.lastBefore).at(-1);
  if (!one) return given.fallback;
  const at = addDays(wallOf(given.edge === "start" ? one.start : one.end, plan.course.timeZone), given.days);
  return given.time ? `${at.slice(0, 11)}${given.time}` : at;
}

/** Steps 1 to 4 of the rules, a sentence each. */
function expected(drawn: Drawn, field: DateField): Value {
  const { plan } = drawn;
  const mine = Object.values(plan.overrides)
    .filter(({ target }) => isAda(drawn, target))
    .map((override) => ({
      ...override,
      dates: { [field]: adas(drawn, override.dates[field]) ?? undefined } as DateFields,
    }))
    .filter(({ dates }) => dates[field] !== undefined);
  const own = mine.find(({ target }) => target.kind === "person");
  if (own) return own.dates[field] as string | number;
  let candidates = mine;
  if (field === "accessWord" || plan.course.datePolicy === "layer order") {
    const placeOf = ({ target }: { target: Target }) => place(plan, firstOf(drawn, target));
    const first = Math.min(...mine.map(placeOf));
    candidates = mine.filter((override) => placeOf(override) === first);
  }
  const amount = (value: string | number) =>
    value === "none"
      ? Number.POSITIVE_INFINITY
      : typeof value === "number"
        ? value
        : instantOf(value, plan.course.timeZone);
  let value: Value = adas(drawn, plan.items.lab?.dates[field]);
  if (candidates.length > 0) {
    if (field === "accessWord") {
      // Within a layer, the group's: the group that comes first.
      const groups = ["North", "South", "Quick", "Slow", "D1", "EV"];
      const at = ({ target }: { target: Target }) => groups.indexOf(firstOf(drawn, target).id);
      candidates = [...candidates].sort((a, b) => at(a) - at(b));
      const isFree = mine.some(({ dates }) => dates[field] === "none");
      value = isFree ? "none" : ((candidates[0]?.dates[field] as Value | undefined) ?? null);
    } else {
      const values = candidates.map(({ dates }) => dates[field] as string | number);
      const ordered = values.includes("none") ? ["none"] : [...values].sort((a, b) => amount(a) - amount(b));
      value = (field === "opens" ? ordered[0] : ordered.at(-1)) ?? null;
    }
  }
  if (value === null || value === "none" || plan.items.lab?.kind === "event") return value;
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
        // Of two passwords of one section layer the rules say nothing: both sections are the person's.
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
        const given = plan.items.lab?.dates[field];
        if (!differs && !isAnchor(given)) expect([field, all[field].value]).toEqual([field, given ?? null]);
      }
    }),
    { numRuns: 500 },
  );
});

test("the table says of every student what is said of each alone, afresh and carried over a change", () => {
  fc.assert(
    fc.property(courseOf, datesOf, targetOf, ({ plan }, dates, target) => {
      const check = (of: Plan, before?: ReturnType<typeof dateTable>) => {
        const table = dateTable(reachAt(of, noProgress, t0), before);
        const item = of.items.lab as Item;
        for (const field of dateFields) {
          const says = [...table.column(item, field)].map((number) => table.valueOf(field, number));
          const each = table.reach.students.map((_, index) => {
            const { value } = resolveField(of, item, table.reach.memberships(index), field);
            // A moment that a clock change skips is said as the one that it means.
            return isMomentField(field) && value !== null && value !== "none"
              ? wallOf(instantOf(String(value), of.course.timeZone), of.course.timeZone)
              : value;
          });
          expect([field, ...says]).toEqual([field, ...each]);
        }
        return table;
      };
      const table = check(plan);
      // A target has one override of an item.
      if (Object.values(plan.overrides).some((one) => one.target.kind === target.kind && one.target.id === target.id))
        return;
      check({ ...plan, overrides: { ...plan.overrides, more: { id: "more", itemId: "lab", target, dates } } }, table);
    }),
    { numRuns: 500 },
  );
});
