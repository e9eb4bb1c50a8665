/** A typed line: every form, what is not understood, and that what the tray says reads back as that change. */
import fc from "fast-check";
import { v7 } from "uuid";
import { describe, expect, test } from "vitest";
import { apply, Command, type NewCommand, sayCommand } from "../commands.ts";
import { isRefusal } from "../plan/command.ts";
import type { Item, Target } from "../plan/types.ts";
import { forOnly, group, person, section, t0 } from "../tests/fixture.ts";
import { lineContext } from "../tests/line-course.ts";
import { formsFor, readLine, readLines } from "./line.ts";

const context = lineContext();
const { plan } = context;
const read = (text: string) => readLine(text, context, v7);
const commands = (text: string): NewCommand[] => {
  const line = read(text);
  if (line.kind !== "commands") throw new Error(`${text}: ${JSON.stringify(line)}`);
  // The id of a change is another at each reading.
  return line.commands.map((one) => {
    const { id: _, ...rest } = one as Command;
    return rest as NewCommand;
  });
};
const only = (text: string) => {
  const all = commands(text);
  expect(all).toHaveLength(1);
  return all[0] as NewCommand;
};

describe("a line", () => {
  test("sets dates and limits, for all or for somebody alone; what is counted is counted from what holds", () => {
    expect(only("Lab 1: Float gauging: due 2026-12-01 9:00")).toEqual({
      kind: "dates.set",
      itemIds: ["lab"],
      dates: { due: "2026-12-01T09:00" },
    });
    expect(only("lab 1: float gauging, 00240030: due +1d, 3 attempts")).toEqual({
      kind: "override.set",
      itemIds: ["lab"],
      target: person("ada"),
      dates: { due: "2026-11-28T17:00", attempts: 3 },
    });
    expect(only("Lab 1 for North: 45 minutes, attempts none")).toEqual({
      kind: "override.set",
      itemIds: ["lab2"],
      target: group("North"),
      dates: { minutes: 45, attempts: "none" },
    });
    // Once for North is one change more, and the next is counted from that.
    expect(commands("Lab 1, Lab 1: Float gauging for North, D2: closes 2026-12-01")).toHaveLength(4);
  });
  test("says for whom, publishes, splits, renames, moves, copies, removes, makes", () => {
    const change = (itemIds: string[], fields: object) => ({ kind: "items.change", itemIds, fields });
    expect(only("Kit list for North")).toEqual(change(["kit"], { audience: forOnly(group("North")) }));
    expect(only("kit list for North and D2, not 00240030")).toEqual(
      change(["kit"], { audience: { to: [group("North"), section("D2")], minus: [person("ada")] } }),
    );
    expect(only("hide kit")).toEqual(change(["kit"], { published: false }));
    expect(only("Publish Kit list, Readings")).toEqual(change(["kit", "readings"], { published: true }));
    expect(only("split notes along banks, readable")).toMatchObject({ fields: { split: { between: "readable" } } });
    expect(only("rename North to Upstream")).toEqual({
      kind: "group.change",
      groupId: "North",
      fields: { name: "Upstream" },
    });
    expect(only("move Kit list to Readings")).toMatchObject({ kind: "items.move", parentId: "readings" });
    expect(only("copy Kit list")).toEqual({ kind: "items.copy", itemIds: ["kit"], parentId: null });
    expect(only("remove Kit list")).toEqual({ kind: "items.remove", itemIds: ["kit"] });
    expect(only("new page Field kit in Readings, for North")).toMatchObject({
      kind: "item.add",
      item: { kind: "page", title: "Field kit", parentId: "readings", audience: forOnly(group("North")) },
    });
    expect(only("new page Notes in spring")).toMatchObject({ item: { title: "Notes in spring", parentId: null } });
    expect(only("new folder {group} folder for each group of Banks")).toMatchObject({
      kind: "item.addForEach",
      layerId: "Banks",
    });
    expect(only("Readings: one for each group of Banks")).toMatchObject({
      kind: "items.forEach",
      pattern: "{group} Readings",
    });
    expect(only("00240030 into South")).toEqual({ kind: "placement.place", groupId: "South", personIds: ["ada"] });
    expect(only("Ada Lovelace, Ben Ode out of North")).toMatchObject({
      kind: "placement.remove",
      personIds: ["ada", "ben"],
    });
  });
  test("people become a group: of a private layer of its own with a page, or of a layer that is there", () => {
    expect(commands("new group Study room of 00240030, Ben Ode")).toMatchObject([
      { kind: "layer.add", layer: { name: "Study room", private: true, rule: "any number" } },
      { kind: "group.add", group: { name: "Study room" } },
      { kind: "placement.place", personIds: ["ada", "ben"] },
      { kind: "items.onPages", how: "shared" },
    ]);
    expect(commands("new group East of 00240030 in Banks")).toMatchObject([
      { kind: "group.add", group: { name: "East", layerId: "Banks" } },
      { kind: "placement.place", personIds: ["ada"] },
    ]);
    expect(read("new group East of North")).toMatchObject({ says: "Only people are placed by a line." });
    expect(read("new group East of 00240030 in Bankers")).toMatchObject({ word: "Bankers" });
  });
  test("leads to a message or a look", () => {
    expect(read("write to North and D2")).toEqual({
      kind: "way",
      way: { kind: "write", to: [group("North"), section("D2")], body: "" },
    });
    expect(read("write to North: The room: has changed")).toMatchObject({
      way: { to: [group("North")], body: "The room: has changed" },
    });
    expect(read("look as 00240030 on Friday")).toEqual({
      kind: "way",
      way: { kind: "look", personId: "ada", when: "Friday" },
    });
  });
  test("marks the word that is not understood, with what could stand there", () => {
    expect(read("Lab: due fri")).toMatchObject({
      kind: "not understood",
      word: "Lab",
      could: ["Lab 1", "Lab 1: Float gauging"],
    });
    expect(read("Kit list for Nrth")).toMatchObject({ kind: "not understood", word: "Nrth" });
    expect(read("Kit list: due someday")).toMatchObject({ kind: "not understood", word: "someday" });
    expect(read("split notes along Bankers")).toMatchObject({ word: "Bankers", says: "No layer is called that." });
    expect(read("new quest A")).toMatchObject({ says: "Which kind of item?" });
    expect(read("North")).toEqual({ kind: "none" });
    expect(read("  ")).toEqual({ kind: "none" });
  });
  test("says why what is understood cannot be", () => {
    expect(read("split notes along Pace")).toMatchObject({
      kind: "commands",
      refused: expect.stringContaining("private"),
    });
  });
  test("words that people try lead to a form", () => {
    const first = (word: string) => formsFor(word).map(({ example }) => example)[0];
    for (const word of ["extension", "deadline", "exception"]) expect(first(word)).toMatch(/^Quiz 1, 00240037: due/);
    for (const [word, begins] of [
      ["hide", "publish"],
      ["release", "publish"],
      ["message", "write"],
      ["duplicate", "copy"],
    ])
      expect(first(word as string)).toMatch(new RegExp(`^${begins}`));
  });
});

/** Every kind of change that fits a line, on one item, group or person. */
const targets: Target[] = [group("North"), group("South"), section("D2"), person("ada"), person("ben")];
const list = (...ids: string[]) => fc.constantFrom(...ids).map((id) => [id]);
const someItem = fc.constantFrom("readings", "kit", "lab", "lab2", "talk");
const wall = fc
  .tuple(fc.integer({ min: 0, max: 80 }), fc.integer({ min: 0, max: 23 }), fc.constantFrom(0, 30, 59))
  .map(([day, hour, minute]) => {
    const at = new Date(Date.UTC(2026, 8, 28 + day, hour, minute)).toISOString();
    return at.slice(0, 16);
  });
const dates = fc.oneof(
  fc.record({ due: wall }),
  fc.record({ opens: wall, closes: fc.constant(null) }),
  fc.record({ attempts: fc.integer({ min: 1, max: 20 }), minutes: fc.constant("none" as const) }),
  fc.record({ accessWord: fc.constantFrom("otter", "7 otters") }),
);
const audience = fc.oneof(
  fc.constant({ to: "everyone" as const, minus: [] as Target[] }),
  fc.subarray(targets, { minLength: 1 }).map((to) => ({ to, minus: [] as Target[] })),
  fc.constantFrom(...targets).map((one) => ({ to: "everyone" as const, minus: [one] })),
);
const anyCommand: fc.Arbitrary<NewCommand> = fc.oneof(
  fc.record({ kind: fc.constant("dates.set" as const), itemIds: someItem.map((id) => [id]), dates }),
  fc.record({
    kind: fc.constant("override.set" as const),
    itemIds: someItem.map((id) => [id]),
    target: fc.constantFrom(...targets),
    dates,
  }),
  fc.record({ kind: fc.constant("item.change" as const), itemId: someItem, fields: fc.record({ audience }) }),
  fc.record({
    kind: fc.constant("item.change" as const),
    itemId: someItem,
    fields: fc.record({ published: fc.boolean() }),
  }),
  fc.record({
    kind: fc.constant("item.change" as const),
    itemId: someItem,
    fields: fc.record({ title: fc.constantFrom("Other", "Into the field") }),
  }),
  fc.record({
    kind: fc.constant("items.change" as const),
    itemIds: list("lab", "talk"),
    fields: fc.record({
      split: fc.constantFrom(
        null,
        ...(["sealed", "readable", "shared"] as const).map((between) => ({ layerId: "Banks", between })),
      ),
    }),
  }),
  fc.record({
    kind: fc.constant("items.move" as const),
    itemIds: list("kit", "lab", "talk"),
    parentId: fc.constantFrom(null, "readings"),
    before: fc.constant(null),
  }),
  fc.record({
    kind: fc.constant("items.copy" as const),
    itemIds: someItem.map((id) => [id]),
    parentId: fc.constant(null),
  }),
  fc.record({ kind: fc.constant("items.remove" as const), itemIds: someItem.map((id) => [id]) }),
  fc.record({ kind: fc.constant("item.remove" as const), itemId: someItem }),
  fc.record({
    kind: fc.constant("group.change" as const),
    groupId: fc.constantFrom("North", "Slow"),
    fields: fc.record({ name: fc.constantFrom("Upper", "East bank") }),
  }),
  fc.record({
    kind: fc.constantFrom("placement.place" as const, "placement.remove" as const),
    groupId: fc.constantFrom("North", "South", "Slow"),
    personIds: list("ada", "ben"),
  }),
  fc
    .record({
      kind: fc.constant("items.forEach" as const),
      itemIds: list("kit", "lab"),
      layerId: fc.constant("Banks"),
      pattern: fc.constant(""),
    })
    .map((one) => ({
      ...one,
      pattern: `{group} ${(plan.items[one.itemIds[0] as string] as Item).title}`,
    })),
);

test("what the tray says of a change reads back as that change", () => {
  const id = "7b2b8a52-4a53-4c5c-9a52-0f7f3a1d2b4c";
  const run = (command: NewCommand) => {
    const next = apply(plan, Command.parse({ ...command, id }), { now: t0 });
    return isRefusal(next) ? next.code : next;
  };
  fc.assert(
    fc.property(anyCommand, (command) => {
      const says = sayCommand(plan, { ...command, id } as Command);
      const line = read(says);
      expect([says, line.kind]).toEqual([says, "commands"]);
      if (line.kind === "commands") expect([says, line.commands.map(run)]).toEqual([says, [run(command)]]);
    }),
    { numRuns: 500 },
  );
});

test("of several lines each may name what those before it made, also one for each group", () => {
  const lines = readLines(
    [
      "new folder Lab folder",
      "new page Instructions in Lab folder",
      "Lab folder: one for each group of Banks",
      "publish Nothing",
      "North Lab folder for 00240030",
    ],
    context,
    v7,
  );
  expect(lines.map((line) => line.kind)).toEqual(["commands", "commands", "commands", "not understood", "commands"]);
  let drafted = plan;
  for (const line of lines)
    for (const command of line.kind === "commands" ? line.commands : []) {
      const after = apply(drafted, command as Command, { now: t0 });
      if (isRefusal(after)) throw new Error(after.sentence);
      drafted = after;
    }
  const north = Object.values(drafted.items).find(({ title }) => title === "North Lab folder");
  expect(north?.audience.to).toEqual([person("ada")]);
  const within = Object.values(drafted.items).filter(({ parentId }) => parentId === north?.id);
  expect(within.map(({ title }) => title)).toEqual(["Instructions"]);
});
