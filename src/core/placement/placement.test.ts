import { describe, expect, test } from "vitest";
import { apply } from "../commands.ts";
import type { Layer, Plan } from "../plan/types.ts";
import { addLayer, addSection, addStudent, coursePlan, t0 } from "../tests/fixture.ts";
import { flowsBetween, flowsOf } from "./flows.ts";
import { attributeMatches, countRules, follow, ruleFor } from "./following.ts";
import { countLayer, doubleEnrolled } from "./membership.ts";
import { freeMark, nextStripe } from "./stripes.ts";

function course(): Plan {
  const plan = coursePlan();
  for (const code of ["D1", "D2", "EV"]) addSection(plan, code);
  addLayer(plan, "Banks", ["North", "South"], {
    following: [
      {
        sectionIds: ["D1"],
        attribute: { column: "Score", test: "is between", values: ["80", "100"] },
        groupId: "South",
      },
      { sectionIds: ["D1", "D2"], attribute: null, groupId: "North" },
      {
        sectionIds: [],
        attribute: { column: "Year", test: "starts with", values: ["3"] },
        groupId: "South",
      },
    ],
  });
  addStudent(plan, "ada", ["D1"]);
  addStudent(plan, "ben", ["D2"]);
  addStudent(plan, "cas", ["EV"]);
  addStudent(plan, "dee", ["EV"]);
  Object.assign(plan.people.ada as object, { attributes: { Score: "9" } });
  Object.assign(plan.people.cas as object, { attributes: { Year: "3b" } });
  return plan;
}
const layerOf = (plan: Plan) => plan.layers.Banks as Layer;
const following = (plan: Plan, t = t0) => follow(plan, layerOf(plan), t, (personId) => `new ${personId}`);

describe("following sections", () => {
  test("the first rule that matches wins; several sections feed one group, and one section several", () => {
    const plan = course();
    const rules = layerOf(plan).following ?? [];
    expect(["ada", "ben", "cas", "dee"].map((id) => ruleFor(plan, rules, id, t0))).toEqual([
      "North",
      "North",
      "South",
      null,
    ]);
    expect(countRules(plan, rules, ["ada", "ben", "cas", "dee"], t0)).toEqual({
      taken: [0, 2, 1],
      through: ["dee"],
    });
  });
  test("numbers are compared as numbers, text without case", () => {
    const person = { attributes: { Score: "9", Year: "2B" } } as never;
    expect(attributeMatches(person, { column: "Score", test: "is between", values: ["10", "80"] })).toBe(false);
    // Both ends belong to it.
    for (const values of [
      ["9", "80"],
      ["1", "9"],
      ["9", "9"],
    ])
      expect(attributeMatches(person, { column: "Score", test: "is between", values })).toBe(true);
    expect(attributeMatches(person, { column: "Year", test: "is", values: ["2b"] })).toBe(true);
    expect(attributeMatches(person, { column: "Absent", test: "is", values: [""] })).toBe(false);
  });
  test("a layer that begins to follow loses nobody: who is elsewhere than the rules say is held; stopping keeps all", () => {
    const plan = course();
    const { following: rules } = layerOf(plan);
    plan.layers.Banks = { ...layerOf(plan), following: null };
    const place = (id: string, groupId: string) => {
      plan.placements[id] = { id, groupId, personId: id, since: 0, until: null, held: false };
    };
    place("ada", "North");
    place("ben", "South");
    const change = (over: Plan, fields: object) =>
      apply(
        over,
        { id: "00000000-0000-4000-8000-000000000001", kind: "layer.change", layerId: "Banks", fields },
        { now: t0 },
      ) as Plan;
    const after = change(plan, { following: rules });
    const inGroups = (of: Plan) =>
      countLayer(of, "Banks", t0).groups.map(({ personIds, held }) => [...personIds, held]);
    // Ada is where the rules say; Ben is not, and is held; Cas lands.
    expect(inGroups(after)).toEqual([
      ["ada", 0],
      ["ben", "cas", 1],
    ]);
    expect(inGroups(change(after, { following: null }))).toEqual(inGroups(after));
  });
  test("late arrivals land, switchers move, leavers leave, held placements stay, staff stay", () => {
    const plan = course();
    const place = (id: string, personId: string, groupId: string, held = false) => {
      plan.placements[id] = { id, personId, groupId, since: 0, until: null, held };
    };
    place("settled", "ben", "North");
    place("held", "ada", "South", true);
    addStudent(plan, "eli", ["D1"]);
    Object.assign(plan.enrolments["eli in D1"] as object, { until: t0 - 1 });
    place("leaver", "eli", "North", true);
    addStudent(plan, "tutor", ["D1"]);
    Object.assign(plan.enrolments["tutor in D1"] as object, { role: "instructor" });
    place("staff", "tutor", "North", true);
    place("switcher", "cas", "North");
    const { ended, begun } = following(plan);
    expect(ended.map(({ id, until }) => [id, until])).toEqual([
      ["switcher", t0],
      ["leaver", t0],
    ]);
    expect(begun).toEqual([{ id: "new cas", personId: "cas", groupId: "South", since: t0, until: null, held: false }]);
  });
  test("a double-enrolled student follows the home section: the one that began last, or the one chosen", () => {
    const plan = course();
    const at = (id: string, sectionId: string, since: number, home: boolean) => {
      plan.enrolments[id] = {
        id,
        personId: "dee",
        sectionId,
        role: "student",
        since,
        until: null,
        origin: "roster",
        home,
      };
    };
    at("dee in EV", "EV", 0, false);
    at("later", "D1", 10, false);
    const rules = layerOf(plan).following ?? [];
    expect(ruleFor(plan, rules, "dee", t0)).toBe("North");
    expect(doubleEnrolled(plan, t0)).toEqual(["dee"]);
    const chosen = {
      ...plan,
      enrolments: {
        ...plan.enrolments,
        "dee in EV": { ...plan.enrolments["dee in EV"], home: true },
      },
    } as Plan;
    expect(ruleFor(chosen, rules, "dee", t0)).toBeNull();
    expect(doubleEnrolled(chosen, t0)).toEqual([]);
  });
});

describe("counting a layer", () => {
  test("placed, unplaced, in two, held, and kept apart but together add up", () => {
    const plan = course();
    const place = (personId: string, groupId: string, held = false) => {
      plan.placements[personId + groupId] = {
        id: personId + groupId,
        personId,
        groupId,
        since: 0,
        until: null,
        held,
      };
    };
    place("ada", "North", true);
    place("ben", "North");
    place("cas", "North");
    place("cas", "South");
    layerOf(plan).keepApart = [
      ["ada", "ben"],
      ["ada", "dee"],
    ];
    const count = countLayer(plan, "Banks", t0);
    expect(count).toMatchObject({
      placed: 3,
      unplaced: ["dee"],
      inTwo: ["cas"],
      held: 1,
      together: [{ groupId: "North", personIds: ["ada", "ben"] }],
    });
    const bundles = flowsOf(plan, count, t0);
    expect(bundles.reduce((sum, { personIds }) => sum + personIds.length, 0)).toBe(5);
    expect(bundles.find(({ to }) => to === null)?.personIds).toEqual(["dee"]);
  });
  test("a thread that lands elsewhere than its fellows is a stray", () => {
    const plan = coursePlan();
    for (const code of ["D1", "EV"]) addSection(plan, code);
    addLayer(plan, "Banks", ["North", "South"]);
    for (let at = 0; at < 6; at++) addStudent(plan, `d${at}`, ["D1"], [at === 0 ? "South" : "North"]);
    for (let at = 0; at < 6; at++) addStudent(plan, `e${at}`, ["EV"], ["South"]);
    expect(flowsOf(plan, countLayer(plan, "Banks", t0), t0).filter(({ stray }) => stray)).toEqual([
      { from: "D1", to: "South", personIds: ["d0"], stray: true },
    ]);
  });
});

test("threads run on from one layer into another, the unplaced of either with them", () => {
  const plan = coursePlan();
  addLayer(plan, "Banks", ["North", "South"]);
  addLayer(plan, "Teams", ["T1", "T2"]);
  for (let at = 0; at < 5; at++) addStudent(plan, `n${at}`, ["D1"], ["North", at === 0 ? "T2" : "T1"]);
  for (let at = 0; at < 5; at++) addStudent(plan, `s${at}`, ["D1"], ["South", "T2"]);
  addStudent(plan, "late", ["D1"], ["T1"]);
  addStudent(plan, "lost", ["D1"], ["North"]);
  const bundles = flowsBetween(countLayer(plan, "Banks", t0), countLayer(plan, "Teams", t0));
  const said = bundles.map(
    ({ from, to, personIds, stray }) => `${from} to ${to}: ${personIds.length}${stray ? " stray" : ""}`,
  );
  expect(said.sort()).toEqual([
    "North to T1: 4",
    "North to T2: 1 stray",
    "North to null: 1",
    "South to T2: 5",
    "null to T1: 1",
  ]);
});

describe("stripes", () => {
  test.each([
    ["D1", [], "D1"],
    ["Day 2 team 3", [], "D23"],
    ["Evening", [], "E"],
    ["Kit alder", [], "KA"],
    ["Kit alder", ["KA"], "KI"],
    ["E", ["E", "E1"], "E2"],
  ] as [string, string[], string][])("%s where %s are taken is marked %s", (name, taken, mark) => {
    expect(freeMark(name, new Set(taken))).toBe(mark);
  });
  test("ninety-six groups all differ in colour and pattern together, and marks are unique", () => {
    const groups: { stripe: ReturnType<typeof nextStripe> }[] = [];
    for (let at = 0; at < 96; at++) groups.push({ stripe: nextStripe(`Team ${at}`, groups) });
    expect(new Set(groups.map(({ stripe }) => `${stripe.colour} ${stripe.pattern}`)).size).toBe(96);
    expect(new Set(groups.map(({ stripe }) => stripe.mark)).size).toBe(96);
  });
  test("two thousand groups still have marks of three characters that differ", () => {
    const taken = new Set<string>();
    for (let at = 1; at <= 2000; at++) taken.add(freeMark(`Team ${at}`, taken));
    expect(taken.size).toBe(2000);
    expect(Math.max(...[...taken].map(({ length }) => length))).toBe(3);
  });
});
