/** Reach carried over a change is the reach of the changed plan. */
import fc from "fast-check";
import { expect, test } from "vitest";
import { put } from "../plan/command.ts";
import { difference } from "../plan/difference.ts";
import { noProgress } from "../plan/progress.ts";
import type { Item, Plan } from "../plan/types.ts";
import { listBits } from "../sets/bits.ts";
import { addItem, addLayer, addStudent, coursePlan, t0 } from "../tests/fixture.ts";
import { randomCourse } from "../tests/random-course.ts";
import { questions, type Reach, reachAt } from "./reach.ts";
import { reachAfter } from "./update.ts";

const answersOf = (reach: Reach, plan: Plan) =>
  Object.values(plan.items).map((item) => [item.id, ...questions.map((question) => listBits(reach[question](item)))]);

/** A second course, some of whose rows the first takes over: any mixture of changes at once. */
const step = fc.record({
  other: randomCourse,
  tables: fc.subarray(["items", "overrides", "entrances", "placements", "groups"] as const, { minLength: 1 }),
  rows: fc.array(fc.nat(8), { minLength: 1, maxLength: 2 }),
  /** Whether a layer, a group with somebody in it and a set of it come with it, and an item that names one of them. */
  comes: fc.constantFrom(null, "group" as const, "set" as const, "split" as const),
});

function stepped(
  plan: Plan,
  { other, tables, rows, comes }: { other: { plan: Plan }; tables: readonly string[]; rows: number[]; comes: Comes },
) {
  const next = { ...plan } as Plan;
  for (const table of tables as (keyof Plan)[]) {
    const theirs = Object.values(other.plan[table]) as { id: string }[];
    const mine = { ...(plan[table] as Record<string, { id: string }>) };
    for (const row of rows) {
      const taken = theirs[row];
      if (taken) mine[taken.id] = table === "items" ? withParent(plan, taken as Item) : taken;
      else if (table !== "items" && table !== "groups") delete mine[Object.keys(mine)[row] ?? ""];
    }
    Object.assign(next, { [table]: mine });
  }
  return comes && !next.layers.Fresh ? withFresh(next, comes) : next;
}
type Comes = "split" | "set" | "group" | null;
function withFresh(plan: Plan, comes: Comes): Plan {
  const row = { groupId: "Spring", personId: "ada", since: 0, until: null, held: false };
  const layer = { ...(plan.layers.Banks as Plan["layers"][string]), id: "Fresh", name: "Fresh", position: 9 };
  const [item] = Object.values(plan.items);
  const names = {
    to: [{ kind: comes === "set" ? ("set" as const) : ("group" as const), id: comes === "set" ? "Wet" : "Spring" }],
  };
  const asks =
    comes === "split"
      ? { split: { layerId: "Fresh", between: "sealed" as const }, kind: "discussion" as const }
      : { audience: { ...names, minus: [] } };
  return {
    ...plan,
    layers: { ...plan.layers, Fresh: layer },
    groups: {
      ...plan.groups,
      Spring: { ...(plan.groups.North as Plan["groups"][string]), id: "Spring", layerId: "Fresh", pattern: [] },
    },
    sets: { ...plan.sets, Wet: { id: "Wet", name: "Wet", groupIds: ["Spring", "North"] } },
    placements: { ...plan.placements, fresh: { ...row, id: "fresh" } },
    items: item ? { ...plan.items, [item.id]: { ...item, ...asks } } : plan.items,
  };
}
/** The parent stays one that is a folder above it, so that the home tree keeps its shape. */
const withParent = (plan: Plan, item: Item): Item => {
  const parent = plan.items[item.parentId ?? ""];
  const fits = parent?.kind === "folder" && parent.id < item.id;
  return { ...item, parentId: fits ? parent.id : null };
};

test("every answer after a change is the one that a fresh evaluation gives, several changes in a row", () => {
  fc.assert(
    fc.property(randomCourse, fc.array(step, { minLength: 1, maxLength: 3 }), ({ plan, progress }, steps) => {
      let reach = reachAt(plan, progress, t0);
      let current = plan;
      answersOf(reach, current);
      for (const one of steps) {
        const next = stepped(current, one);
        reach = reachAfter(reach, next, difference(current, next));
        current = next;
        expect(answersOf(reach, current)).toEqual(answersOf(reachAt(current, progress, t0), current));
      }
    }),
    { numRuns: 400 },
  );
});

test("who joins a group has handed in what it handed in, for whatever asks for that; who leaves has not", () => {
  const plan = coursePlan();
  addLayer(plan, "Pace", ["Quick", "Slow"]);
  addStudent(plan, "ada", [], ["Slow"]);
  addStudent(plan, "ben");
  const work = addItem(plan, "work", { kind: "assignment", split: { layerId: "Pace", between: "sealed" } });
  const page = addItem(plan, "page", { condition: { kind: "handedIn", itemId: "work" } });
  const progress = { ...noProgress, handIns: [{ id: "h", personId: "ada", itemId: "work", at: t0 }] };
  const joined = put(plan, "placements", [
    { id: "ben", groupId: "Slow", personId: "ben", since: t0, until: null, held: false },
  ]);
  const [before, alone] = [reachAt(plan, progress, t0), put(joined, "items", [{ ...work, split: null }])];
  const sees = (reach: Reach) => listBits(reach.sees(page)).map((index) => reach.students[index]);
  expect(sees(before)).toEqual(["ada"]);
  const after = reachAfter(before, joined, difference(plan, joined));
  expect(sees(after)).toEqual(["ada", "ben"]);
  expect(sees(reachAfter(after, alone, difference(joined, alone)))).toEqual(["ada"]);
  expect(sees(reachAfter(after, plan, difference(joined, plan)))).toEqual(["ada"]);
});
