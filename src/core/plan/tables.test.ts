import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { coursePlan, t0 } from "../tests/fixture.ts";
import { drop, put } from "./command.ts";
import { difference } from "./difference.ts";
import { lookup } from "./lookup.ts";
import { planOfRows, withCourse } from "./tables.ts";
import { type Placement, type Plan, type TableName, tableNames } from "./types.ts";

const placement = (id: string, groupId: string, personId: string, since = t0): Placement => ({
  id,
  groupId,
  personId,
  since,
  until: null,
  held: false,
});
const planOf = (rows: Placement[]): Plan => ({
  ...coursePlan(),
  placements: Object.fromEntries(rows.map((row) => [row.id, row])),
});
/** The same plan, its tables known by their lists alone. */
function listed(plan: Plan): Plan {
  const lists = Object.fromEntries(tableNames.map((name) => [name, Object.values(plan[name])]));
  return planOfRows(plan.course, lists as unknown as Record<TableName, { id: string }[]>, { longList: 0 });
}

/** The same by hand: every table copied, every row looked at. */
const copied = {
  put: (table: Plan["placements"], rows: Placement[]) => {
    const next = { ...table };
    for (const row of rows) next[row.id] = row;
    return next;
  },
  drop: (table: Plan["placements"], ids: string[]) => {
    const next = { ...table };
    for (const id of ids) delete next[id];
    return next;
  },
  by: (table: Plan["placements"], key: "personId" | "groupId") => {
    const found = new Map<string, Placement[]>();
    for (const row of Object.values(table)) found.set(row[key], [...(found.get(row[key]) ?? []), row]);
    return found;
  },
};

const ids = ["p1", "p2", "p3", "p4", "p5", "p6", "p7", "p8"];
const randomRow = fc
  .tuple(fc.constantFrom(...ids), fc.constantFrom("North", "South", "Chess"), fc.constantFrom("ada", "ben"), fc.nat(9))
  .map(([id, groupId, personId, since]) => placement(id, groupId, personId, since));
type Step =
  | { put: Placement[] }
  | { drop: string[] }
  | { do: "look" | "list" | "course" | "spread" | "other" | "mark" };
const randomStep: fc.Arbitrary<Step> = fc.oneof(
  { weight: 4, arbitrary: fc.array(randomRow, { maxLength: 3 }).map((rows) => ({ put: rows })) },
  { weight: 2, arbitrary: fc.subarray(ids, { maxLength: 3 }).map((dropped) => ({ drop: dropped })) },
  {
    weight: 3,
    arbitrary: fc.record({ do: fc.constantFrom("look", "list", "course", "spread", "other", "mark" as const) }),
  },
);

describe("a table that differs in some rows from one before", () => {
  test("is, in whatever order it is changed, looked at and listed, what copying it each time would be", () => {
    fc.assert(
      fc.property(
        fc.array(randomRow, { maxLength: 6 }),
        fc.array(randomStep, { maxLength: 14 }),
        fc.boolean(),
        (rows, steps, isListed) => {
          let plan = isListed ? listed(planOf(rows)) : planOf(rows);
          let table = planOf(rows).placements;
          let [marked, then] = [plan, table];
          const agree = (plan: Plan, table: Plan["placements"]) => {
            for (const [found, key] of [
              [lookup(plan).placementsOfPerson, "personId"],
              [lookup(plan).placementsOfGroup, "groupId"],
            ] as const)
              expect(found).toEqual(copied.by(table, key));
          };
          for (const step of steps) {
            if ("put" in step) {
              plan = put(plan, "placements", step.put);
              table = copied.put(table, step.put);
            } else if ("drop" in step) {
              plan = drop(plan, "placements", step.drop);
              table = copied.drop(table, step.drop);
            } else if (step.do === "look") expect(plan.placements).toEqual(table);
            else if (step.do === "list") agree(plan, table);
            else if (step.do === "course") plan = withCourse(plan, { title: `${plan.course.title}.` });
            else if (step.do === "spread") plan = { ...plan };
            else if (step.do === "other") plan = put(plan, "layers", Object.values(plan.layers).slice(0, 1));
            else [marked, then] = [plan, table];
          }
          const changed = difference(marked, plan).filter((change) => change.table === "placements");
          const byHand = [...new Set([...Object.keys(then), ...Object.keys(table)])]
            .filter((id) => JSON.stringify(then[id]) !== JSON.stringify(table[id]))
            .map((id) => ({ table: "placements", id, before: then[id] ?? null, after: table[id] ?? null }));
          expect(new Map(changed.map((change) => [change.id, change]))).toEqual(
            new Map(byHand.map((change) => [change.id, change])),
          );
          for (const [one, byHandToo] of [
            [plan, table],
            [marked, then],
          ] as const) {
            agree(one, byHandToo);
            expect(Object.entries(one.placements)).toEqual(Object.entries(byHandToo));
          }
        },
      ),
      { numRuns: 600 },
    );
  });

  test("is walked through once however many changes are drafted, and stays as it was beneath them", () => {
    const rows = ids.map((id) => placement(id, "North", "ada"));
    let walks = 0;
    const before: Plan = {
      ...planOf(rows),
      placements: new Proxy(planOf(rows).placements, {
        ownKeys(target) {
          walks++;
          return Reflect.ownKeys(target);
        },
      }),
    };
    let plan = before;
    for (let step = 0; step < 40; step++) {
      plan = put(plan, "placements", [placement(`new ${step}`, "South", "ben")]);
      plan = withCourse(plan, { title: String(step) });
      expect(lookup(plan).placementsOfPerson.get("ben")).toHaveLength(step + 1);
    }
    expect(difference(before, plan)).toHaveLength(41);
    // Once for the rows of each person, which the changes were then carried into.
    expect(walks).toBe(1);
    expect([Object.keys(plan.placements).length, Object.keys(before.placements)]).toEqual([48, ids]);
  });
});
