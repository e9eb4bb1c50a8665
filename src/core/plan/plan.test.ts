import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { apply, Command, replay } from "../commands.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, forOnly, group, t0 } from "../tests/fixture.ts";
import { isRefusal } from "./command.ts";
import { applyDifference, difference, type RowChange } from "./difference.ts";
import type { Plan } from "./types.ts";

const students = ["ada", "ben", "cas", "dee"];
function course(): Plan {
  const plan = coursePlan();
  for (const code of ["D1", "EV"]) addSection(plan, code);
  students.forEach((id, index) => {
    addStudent(plan, id, [index < 2 ? "D1" : "EV"]);
  });
  addLayer(plan, "Banks", ["North", "South"]);
  addLayer(plan, "Clubs", ["Chess", "Kayak"], { rule: "any number" });
  addItem(plan, "folder", { kind: "folder" });
  addItem(plan, "page", { parentId: "folder" });
  addItem(plan, "lab", { kind: "assignment", points: 20 });
  return plan;
}
const context = { now: t0 };
const uuid = (number: number) => `00000000-0000-7000-8000-${String(number).padStart(12, "0")}`;
let serial = 0;
const run = (plan: Plan, command: object) => apply(plan, Command.parse({ id: uuid(++serial), ...command }), context);
function accepted(plan: Plan, command: object): Plan {
  const next = run(plan, command);
  if (isRefusal(next)) throw new Error(next.sentence);
  return next;
}
const openIn = (plan: Plan, personId: string) =>
  Object.values(plan.placements)
    .filter((row) => row.personId === personId && row.until === null)
    .map((row) => row.groupId);

describe("commands", () => {
  test("a group for each section places everyone, and whoever is moved by hand is held", () => {
    const made = accepted(course(), {
      kind: "layer.followSections",
      layerId: "layer",
      name: "Sections",
    });
    const groups = Object.values(made.groups).filter(({ layerId }) => layerId === "layer");
    expect(groups.map(({ name }) => name)).toEqual(["D1", "EV"]);
    const [d1, ev] = groups.map(({ id }) => id) as [string, string];
    expect(students.map((id) => openIn(made, id))).toEqual([[d1], [d1], [ev], [ev]]);
    const moved = accepted(made, { kind: "placement.place", groupId: ev, personIds: ["ada"] });
    expect(openIn(moved, "ada")).toEqual([ev]);
    expect(Object.values(moved.placements).find((row) => row.personId === "ada" && row.until === null)?.held).toBe(
      true,
    );
    const released = accepted(moved, {
      kind: "placement.hold",
      groupId: ev,
      personIds: ["ada"],
      held: false,
    });
    expect(openIn(released, "ada")).toEqual([d1]);
  });
  test("a placement is never overwritten: it ends and another begins", () => {
    const north = accepted(course(), {
      kind: "placement.place",
      groupId: "North",
      personIds: ["ada"],
    });
    const south = accepted(north, {
      kind: "placement.place",
      groupId: "South",
      personIds: ["ada"],
    });
    expect(
      Object.values(south.placements)
        .map(({ groupId, until }) => [groupId, until])
        .sort(),
    ).toEqual([
      ["North", t0],
      ["South", null],
    ]);
  });
  test.each([
    [
      "placement.full",
      { kind: "placement.place", groupId: "North", personIds: ["ada", "ben"] },
      (plan: Plan) => Object.assign(plan.groups.North as object, { max: 1 }),
    ],
    ["placement.stranger", { kind: "placement.place", groupId: "North", personIds: ["nobody"] }],
    ["layer.twin", { kind: "layer.followSections", layerId: "new", name: "banks" }],
    [
      "group.aimed",
      { kind: "group.remove", groupId: "North" },
      (plan: Plan) => Object.assign(plan.items.page as object, { audience: forOnly(group("North")) }),
    ],
    ["audience.gone", { kind: "item.change", itemId: "page", fields: { audience: forOnly(group("gone")) } }],
    [
      "split.private",
      {
        kind: "item.change",
        itemId: "lab",
        fields: { split: { layerId: "Banks", between: "sealed" } },
      },
      (plan: Plan) => Object.assign(plan.layers.Banks as object, { private: true }),
    ],
    ["folder.circle", { kind: "item.move", itemId: "folder", parentId: "folder", position: 0 }],
    ["item.gone", { kind: "dates.set", itemIds: ["gone"], dates: { due: null } }],
    ["target.gone", { kind: "override.set", itemIds: ["lab"], target: group("gone"), dates: {} }],
  ] as [string, object, ((plan: Plan) => void)?][])("refuses with %s and says what to do", (code, command, change) => {
    const plan = course();
    change?.(plan);
    const answer = run(plan, command);
    expect(answer).toMatchObject({ refused: true, code });
    expect((answer as { sentence: string }).sentence).toMatch(/\.$/);
  });
  test("dates: null unsets, what is left out stays, an override with nothing left goes", () => {
    const dated = accepted(course(), {
      kind: "dates.set",
      itemIds: ["lab"],
      dates: { due: "2026-12-01T17:00", attempts: 2 },
    });
    expect(accepted(dated, { kind: "dates.set", itemIds: ["lab"], dates: { due: null } }).items.lab?.dates).toEqual({
      attempts: 2,
    });
    const target = group("North");
    const own = accepted(dated, {
      kind: "override.set",
      itemIds: ["lab"],
      target,
      dates: { due: "2026-12-02T17:00" },
    });
    expect(Object.values(own.overrides)).toHaveLength(1);
    expect(
      Object.values(accepted(own, { kind: "override.set", itemIds: ["lab"], target, dates: { due: null } }).overrides),
    ).toHaveLength(0);
  });
  test("removing a folder removes what is beneath it, its overrides and entrances", () => {
    const target = group("North");
    const own = accepted(course(), {
      kind: "override.set",
      itemIds: ["page"],
      target,
      dates: { due: "2026-12-02T17:00" },
    });
    const gone = accepted(own, { kind: "item.remove", itemId: "folder" });
    expect([Object.keys(gone.items), Object.keys(gone.overrides)]).toEqual([["lab"], []]);
  });
});

const randomCommand: fc.Arbitrary<object> = fc.oneof(
  fc.record({
    kind: fc.constant("placement.place"),
    groupId: fc.constantFrom("North", "South", "Chess", "Kayak"),
    personIds: fc.subarray(students, { minLength: 1 }),
  }),
  fc.record({
    kind: fc.constant("placement.remove"),
    groupId: fc.constantFrom("North", "South", "Chess"),
    personIds: fc.subarray(students, { minLength: 1 }),
  }),
  fc.record({
    kind: fc.constant("item.change"),
    itemId: fc.constantFrom("page", "folder"),
    fields: fc.record({ published: fc.boolean(), title: fc.constantFrom("A", "B") }, { requiredKeys: [] }),
  }),
  fc.record({ kind: fc.constant("item.remove"), itemId: fc.constantFrom("page", "folder", "lab") }),
  fc.record({
    kind: fc.constant("layer.followSections"),
    layerId: fc.constantFrom("s1", "s2"),
    name: fc.constantFrom("Sections", "Others"),
  }),
  fc.record({
    kind: fc.constant("override.set"),
    itemIds: fc.constant(["lab"]),
    target: fc.constantFrom(group("North"), group("Chess")),
    dates: fc.record({ due: fc.constantFrom("2026-12-02T17:00", "none", null) }, { requiredKeys: [] }),
  }),
);
const commandsOf = fc
  .array(randomCommand, { maxLength: 12 })
  .map((list) => list.map((command, index) => Command.parse({ id: uuid(index + 1), ...command })));

describe("properties", () => {
  test("a difference applied to the plan before gives the plan after, and a plan is never changed in place", () => {
    fc.assert(
      fc.property(commandsOf, (commands) => {
        const before = course();
        const copy = structuredClone(before);
        const after = replay(before, commands, context).plan;
        expect(before).toEqual(copy);
        expect(applyDifference(before, difference(before, after))).toEqual(after);
        // Without shared rows the difference is the same: the server compares plans read apart.
        const byRow = (changes: RowChange[]) =>
          [...changes].sort((a, b) => (`${a.table}/${a.id}` < `${b.table}/${b.id}` ? -1 : 1));
        expect(byRow(difference(structuredClone(before), after))).toEqual(byRow(difference(before, after)));
      }),
    );
  });
  test("layers of exactly one never hold anyone twice", () => {
    fc.assert(
      fc.property(commandsOf, (commands) => {
        const { plan } = replay(course(), commands, context);
        for (const id of students) {
          const single = openIn(plan, id)
            .map((groupId) => plan.groups[groupId]?.layerId)
            .filter((layerId) => plan.layers[layerId ?? ""]?.rule === "exactly one");
          expect(new Set(single).size).toBe(single.length);
        }
      }),
    );
  });
  test("undoing the last command gives the plan that was there, rows and ids alike", () => {
    fc.assert(
      fc.property(commandsOf, (commands) => {
        const last = replay(course(), commands.slice(0, -1), context).plan;
        replay(course(), commands, context);
        expect(replay(course(), commands.slice(0, -1), context).plan).toEqual(last);
      }),
    );
  });
  test("the same commands give the same ids wherever they are applied", () => {
    fc.assert(
      fc.property(commandsOf, (commands) => {
        expect(replay(course(), commands, context).plan).toEqual(
          replay(structuredClone(course()), commands, context).plan,
        );
      }),
    );
  });
});
