/** Formed groups in the plan: kept, formed again, topped up. Source: semantics.md section 3. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { apply, Command, sayCommand } from "../../commands.ts";
import { isRefusal } from "../../plan/command.ts";
import { type Forming, plainForming } from "../../plan/forming.ts";
import { holdsAt, lookup } from "../../plan/lookup.ts";
import type { Plan } from "../../plan/types.ts";
import { addLayer, addSection, addStudent, coursePlan, t0 } from "../../tests/fixture.ts";
import { countLayer } from "../membership.ts";
import { type Formed, formNow, scoreOf } from "./form.ts";
import { formingColumns, formingInput } from "./input.ts";
import { formedGroups } from "./keep.ts";
import { broken, exchanged, sayHard, saySoft, traits } from "./say.ts";
import { topUp } from "./top-up.ts";

/** Two sections with their groups, and a layer of teams without any. */
function course(day = 9, evening = 5): Plan {
  const plan = coursePlan();
  for (const code of ["D1", "EV"]) addSection(plan, code);
  addLayer(plan, "Sections", ["Day", "Evening"]);
  addLayer(plan, "Teams", []);
  for (let at = 0; at < day + evening; at++) {
    const isDay = at < day;
    addStudent(plan, `p${at}`, [isDay ? "D1" : "EV"], [isDay ? "Day" : "Evening"]);
    Object.assign(plan.people[`p${at}`]?.attributes ?? {}, { Score: String(50 + at), Year: at % 2 ? "1" : "2" });
  }
  return plan;
}
const forming: Forming = {
  ...plainForming,
  scopeLayerId: "Sections",
  into: { by: "size", number: 3 },
  soft: [{ kind: "spread number", column: "Score", weight: 1 }],
  leads: "new",
};
let serial = 0;
const command = (fields: object) =>
  Command.parse({ id: `00000000-0000-7000-8000-${String(++serial).padStart(12, "0")}`, ...fields });
function applied(plan: Plan, fields: object, now = t0): Plan {
  const next = apply(plan, command(fields), { now });
  if (isRefusal(next)) throw new Error(next.sentence);
  return next;
}
function formed(plan: Plan, wishes: Forming, layerId = "Teams", seed = 1, now = t0): Plan {
  const input = formingInput(plan, layerId, wishes, now);
  const made = formNow(input, seed);
  if ("unformed" in made) throw new Error("not formed");
  let number = 0;
  const groups = formedGroups(plan, layerId, input, made, () => `${layerId} new ${++number} ${serial}`);
  return applied(plan, { kind: "layer.form", layerId, layer: null, forming: wishes, groups }, now);
}
const names = (plan: Plan, layerId = "Teams") =>
  (lookup(plan).groupsOfLayer.get(layerId) ?? []).map(({ name, label }) =>
    name === label ? name : `${name} (${label})`,
  );

describe("keeping", () => {
  test("groups are made in each scope with names, stripes and leads, and everyone is in one", () => {
    const plan = formed(course(), forming);
    expect(names(plan)).toEqual(["Day team 1", "Day team 2", "Day team 3", "Evening team 1", "Evening team 2"]);
    const { groups, unplaced } = countLayer(plan, "Teams", t0);
    expect(unplaced).toEqual([]);
    expect(new Set(groups.map(({ group }) => group.stripe.mark)).size).toBe(5);
    for (const { group, personIds } of groups) {
      expect(group.leads.filter((id) => personIds.includes(id)).length).toBe(1);
      expect(group.scopeGroupId).toBe(group.name.startsWith("Day") ? "Day" : "Evening");
    }
    expect(plan.layers.Teams?.forming).toEqual(forming);
  });
  test("formed again, the groups stay, the held stay in them, and what was is still known", () => {
    const first = formed(course(), forming);
    const held = countLayer(first, "Teams", t0).groups[2];
    const heldId = held?.personIds[0] as string;
    const groupId = held?.group.id as string;
    const withHeld = applied(first, { kind: "placement.hold", groupId, personIds: [heldId], held: true });
    const again = formed(withHeld, { ...forming, into: { by: "size", number: 4 } }, "Teams", 2, t0 + 1000);
    expect(names(again)).toEqual(names(first));
    const after = countLayer(again, "Teams", t0 + 1000).groups;
    expect(after.find(({ personIds }) => personIds.includes(heldId))?.group.id).toBe(groupId);
    expect(after.map(({ personIds }) => personIds.length).sort()).toEqual([0, 0, 4, 5, 5]);
    // Who was in which group before has still its answer.
    expect(countLayer(again, "Teams", t0).groups.map(({ personIds }) => personIds)).toEqual(
      countLayer(first, "Teams", t0).groups.map(({ personIds }) => personIds),
    );
  });
  test("whoever left since is not placed; a layer that follows is not formed", () => {
    const plan = course();
    const input = formingInput(plan, "Teams", forming, t0);
    const groups = formedGroups(plan, "Teams", input, formNow(input, 1) as Formed, () => `new ${++serial}`);
    const left = { ...plan, enrolments: { ...plan.enrolments } };
    delete left.enrolments["p0 in D1"];
    const kept = applied(left, { kind: "layer.form", layerId: "Teams", layer: null, forming, groups });
    expect(Object.values(kept.placements).some(({ personId, groupId }) => personId === "p0" && groupId !== "Day")).toBe(
      false,
    );
    const follows = { ...plan, layers: { ...plan.layers, Teams: { ...plan.layers.Teams, following: [] } } } as Plan;
    expect(
      apply(follows, command({ kind: "layer.form", layerId: "Teams", layer: null, forming, groups }), { now: t0 }),
    ).toMatchObject({
      code: "layer.follows",
    });
    expect(sayCommand(plan, command({ kind: "layer.form", layerId: "Teams", layer: null, forming, groups }))).toBe(
      "Form 5 groups of 14 students in Teams",
    );
  });
  test("a new layer comes with its groups as one change; a name that is taken is refused", () => {
    const plan = course();
    const input = formingInput(plan, null, forming, t0);
    const groups = formedGroups(plan, "Crews", input, formNow(input, 1) as Formed, () => `crew ${++serial}`);
    const layer = { ...plan.layers.Teams, id: "Crews", name: "Crews" };
    const made = applied(plan, { kind: "layer.form", layerId: "Crews", layer, forming, groups });
    expect(countLayer(made, "Crews", t0)).toMatchObject({ placed: 14, layer: { name: "Crews", forming } });
    const taken = { kind: "layer.form", layerId: "Crews", layer: { ...layer, name: "teams" }, forming, groups };
    expect(apply(plan, command(taken), { now: t0 })).toMatchObject({ code: "layer.twin" });
    expect(apply(plan, command({ ...taken, layer: null }), { now: t0 })).toMatchObject({ code: "layer.gone" });
  });
  test("from a private layer, no label carries the name of its groups", () => {
    const plan = course();
    addLayer(plan, "Support", ["Bluebell"], { private: true });
    for (const id of ["p0", "p1", "p2", "p3", "p4", "p5"])
      plan.placements[`${id} b`] = {
        id: `${id} b`,
        groupId: "Bluebell",
        personId: id,
        since: 0,
        until: null,
        held: false,
      };
    expect(names(formed(plan, { ...forming, scopeLayerId: "Support" }))).toEqual([
      "Bluebell team 1 (team 1)",
      "Bluebell team 2 (team 2)",
    ]);
  });
  test("partners are those who shared a group at the same time, and those of no scope are left out", () => {
    const plan = course(4, 0);
    addLayer(plan, "Before", ["One", "Two"]);
    const place = (id: string, groupId: string, since: number, until: number | null) => {
      plan.placements[`${id} ${groupId}`] = {
        id: `${id} ${groupId}`,
        groupId,
        personId: id,
        since,
        until,
        held: false,
      };
    };
    place("p0", "One", 0, 10);
    place("p1", "One", 5, null);
    place("p2", "One", 10, null);
    addStudent(plan, "late", ["D1"]);
    const soft: Forming["soft"] = [{ kind: "new partners", layerIds: ["Before"], weight: 1 }];
    const input = formingInput(plan, null, { ...forming, soft }, t0);
    expect(input.partners[0]?.map((pair) => pair.join()).sort()).toEqual(["p0,p1", "p1,p2"]);
    expect(input.leftOut).toEqual(["late"]);
  });
});

describe("topping up", () => {
  test("late arrivals go to the smallest group of their scope that fits, and nobody is moved", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 8 }),
        fc.option(fc.integer({ min: 3, max: 5 })),
        fc.array(fc.integer({ min: 0, max: 13 }), { maxLength: 3 }),
        (late, max, apartFrom) => {
          const before = formed(course(), forming);
          const plan = {
            ...before,
            people: { ...before.people },
            enrolments: { ...before.enrolments },
            placements: { ...before.placements },
            layers: { ...before.layers },
            groups: Object.fromEntries(Object.values(before.groups).map((group) => [group.id, { ...group, max }])),
          };
          for (let at = 0; at < late; at++)
            addStudent(plan, `q${at}`, [at % 2 ? "D1" : "EV"], at === 5 ? [] : [at % 2 ? "Day" : "Evening"]);
          const teams = plan.layers.Teams as Plan["layers"][string];
          plan.layers.Teams = { ...teams, keepApart: apartFrom.map((at) => ["q0", `p${at}`]) };
          const { placed, without } = topUp(plan, "Teams", t0);
          expect([...placed.map(({ personId }) => personId), ...without].sort()).toEqual(
            Array.from({ length: late }, (_, at) => `q${at}`).sort(),
          );
          if (placed.length === 0) return;
          const after = applied(plan, { kind: "layer.topUp", layerId: "Teams" });
          for (const placement of Object.values(plan.placements))
            expect(after.placements[placement.id]).toEqual(placement);
          for (const { group, personIds } of countLayer(after, "Teams", t0).groups) {
            expect(personIds.length).toBeLessThanOrEqual(max ?? 99);
            for (const at of apartFrom) expect(personIds.includes("q0") && personIds.includes(`p${at}`)).toBe(false);
            for (const id of personIds)
              expect(
                (lookup(after).placementsOfPerson.get(id) ?? []).some(
                  (row) => row.groupId === group.scopeGroupId && holdsAt(row, t0),
                ),
              ).toBe(true);
          }
        },
      ),
      { numRuns: 30 },
    );
  });
  test("where nobody is unplaced, or nobody fits, it says so", () => {
    const plan = formed(course(), forming);
    const press = (over: Plan) => apply(over, command({ kind: "layer.topUp", layerId: "Teams" }), { now: t0 });
    expect(press(plan)).toMatchObject({ sentence: "Everyone has a group in Teams." });
    const more = { ...plan, people: { ...plan.people }, enrolments: { ...plan.enrolments } };
    addStudent(more, "q", ["D1"]);
    expect(press(more)).toMatchObject({
      code: "topUp.nobody",
      sentence: expect.stringContaining("No group of Teams fits"),
    });
  });
});

describe("saying", () => {
  const plan = course(6, 0);
  const soft: Forming["soft"] = [
    { kind: "spread number", column: "Score", weight: 1 },
    { kind: "spread category", column: "Year", weight: 1 },
    { kind: "gather", column: "Year", weight: 1 },
    { kind: "gather", column: "Score", weight: 1 },
  ];
  const input = formingInput(
    plan,
    null,
    { ...plainForming, into: { by: "groups", number: 2 }, apart: [["p0", "p3"]], soft },
    t0,
  );
  const worst: Formed = {
    seed: 1,
    scopes: [
      {
        groupId: null,
        groups: [
          { existing: null, people: ["p0", "p1", "p2"] },
          { existing: null, people: ["p3", "p4", "p5"] },
        ],
      },
    ],
  };
  test("each wish that is not met is named", () => {
    const said = broken(
      input,
      worst,
      (id) => id,
      (_scope, bin) => `G${bin + 1}`,
    );
    expect(said[0]).toEqual(["G1: 51.0 where 52.5 is the mean", "G2: 54.0 where 52.5 is the mean"]);
    expect(said[1]).toEqual([]);
    expect(said[2]).toEqual(["G1: from 1 to 2", "G2: from 1 to 2"]);
    expect(said[3]).toEqual([]);
    expect(traits(input, ["p0", "p1", "p2"])).toEqual([
      "Score 51.0",
      "Year 1 × 1, 2 × 2",
      "Year 1.7, 1 to 2",
      "Score 51.0, 50 to 52",
    ]);
    expect(formingColumns(plan, Object.keys(plan.people))).toEqual([
      { column: "Score", number: true, values: 6 },
      { column: "Year", number: true, values: 2 },
    ]);
  });
  test("two people change places where nothing stands against it", () => {
    expect(exchanged(input, worst, "p0", "p3")?.scopes[0]?.groups.map(({ people }) => people)).toEqual([
      ["p3", "p1", "p2"],
      ["p0", "p4", "p5"],
    ]);
    // p0 would meet p3, from whom they are kept apart.
    expect(exchanged(input, worst, "p0", "p4")).toBeNull();
    expect(exchanged(input, worst, "p0", "p1")).toBeNull();
    const other = exchanged(input, worst, "p1", "p4") as Formed;
    expect(scoreOf(input, other).wishes[0]).toBeLessThan(scoreOf(input, worst).wishes[0] as number);
  });
  test("wishes have words", () => {
    const name = (id: string) => id.toUpperCase();
    expect(soft.map((wish) => saySoft(wish, name))[3]).toBe("Gather by Score: levels");
    expect(saySoft({ kind: "new partners", layerIds: ["a", "b"], weight: 1 }, name)).toBe(
      "New partners, not those of A and B",
    );
    expect(sayHard({ kind: "held", person: "ada", bin: 1 }, name, (bin) => `G${bin}`)).toBe("ADA is held in G1");
    expect(sayHard({ kind: "apart", people: ["a", "b", "c"] }, name, String)).toBe("Keep A, B and C apart");
  });
});
