/** What may be drafted within a scope, and what may not, command by command. */
import { describe, expect, test } from "vitest";
import { Command } from "../commands.ts";
import { blankItem, type Item, type Plan, type StaffMay } from "../plan/types.ts";
import { group, t0 } from "../tests/fixture.ts";
import { supportedCourse, supporter } from "../tests/supported-course.ts";
import { isAllTheirs, whyNotDraft } from "./drafting.ts";
import { scopeOf } from "./scope.ts";

function answerTo(fields: object, may: StaffMay[] = []) {
  const plan = supportedCourse();
  const drafter = {
    personId: supporter,
    scope: scopeOf(plan, supporter, t0),
    may,
    knows: (id: string) => plan.items[id] !== undefined && id !== "of others",
  };
  return whyNotDraft(plan, drafter, Command.parse({ id: "command", ...fields }));
}
const asked = (fields: object, may: StaffMay[] = []) => answerTo(fields, may)?.code ?? "may";
const item = (fields: Partial<Item>) => ({
  kind: "item.add",
  item: {
    ...blankItem,
    id: "new",
    parentId: null,
    position: 0,
    kind: "page",
    title: "New",
    owners: [supporter],
    audience: { to: [group("Extra time")], minus: [] },
    ...fields,
  },
});
const change = (itemId: string, fields: object) => ({ kind: "item.change", itemId, fields });
const override = (kind: string, id: string) => ({
  kind: "override.set",
  itemIds: ["theirs"],
  target: { kind, id },
  dates: { attempts: 3 },
});
const members = (groupId: string, personIds: string[]) => ({ kind: "placement.place", groupId, personIds });

describe("within a scope", () => {
  test.each([
    ["an item for a group that was given", item({}), "may"],
    [
      "for a student of a section that was given",
      item({ audience: { to: [{ kind: "person", id: "ben" }], minus: [] } }),
      "may",
    ],
    ["for everyone", item({ audience: { to: "everyone", minus: [] } }), "scope.else"],
    ["for another group", item({ audience: { to: [group("Breaks")], minus: [] } }), "scope.else"],
    [
      "for a group without another one",
      item({ audience: { to: [group("Extra time")], minus: [group("Breaks")] } }),
      "scope.else",
    ],
    [
      "for a group without one of its students",
      item({ audience: { to: [group("Extra time")], minus: [{ kind: "person", id: "ada" }] } }),
      "may",
    ],
    ["for another student", item({ audience: { to: [{ kind: "person", id: "eve" }], minus: [] } }), "scope.else"],
    ["told apart by another group", item({ condition: { kind: "in", targets: [group("Breaks")] } }), "scope.else"],
    ["in a folder that is for others", item({ parentId: "of others" }), "scope.else"],
    ["in somebody else's name", item({ owners: ["eve"] }), "scope.owner"],
    ["as the page of a group", item({ pageOf: "Extra time" }), "scope.kind"],
    ["a change of one's own", change("mine", { title: "Other" }), "may"],
    ["a change of somebody else's", change("theirs", { title: "Other" }), "scope.owner"],
    ["one's own for more than was given", change("mine", { audience: { to: "everyone", minus: [] } }), "scope.else"],
    [
      "whom that is for which is for more than was given",
      change("mine for all", { audience: { to: [group("Extra time")], minus: [] } }),
      "scope.else",
    ],
    ["giving it away", change("mine", { owners: ["eve"] }), "scope.kind"],
    ["removing one's own", { kind: "item.remove", itemId: "mine" }, "may"],
    ["removing a folder with somebody else's in it", { kind: "item.remove", itemId: "folder" }, "scope.owner"],
    [
      "moving one's own to where others are",
      { kind: "item.move", itemId: "mine", parentId: "of others", position: 0 },
      "scope.else",
    ],
    ["dates of one's own", { kind: "dates.set", itemIds: ["mine"], dates: { attempts: 2 } }, "may"],
    [
      "dates of somebody else's",
      { kind: "dates.set", itemIds: ["mine", "theirs"], dates: { attempts: 2 } },
      "scope.owner",
    ],
    ["an override for a section that was given", override("section", "D1"), "may"],
    ["for a student of it", override("person", "ben"), "may"],
    ["for another section", override("section", "EV"), "scope.else"],
    ["for another student, known by a guess", override("person", "eve"), "scope.else"],
    [
      "for an item that is not theirs to know of",
      { ...override("section", "D1"), itemIds: ["of others"] },
      "item.gone",
    ],
    ["in a folder that is not there", item({ parentId: "nowhere" }), "scope.else"],
    ["taking back an override of theirs", { kind: "overrides.remove", overrideIds: ["own"] }, "may"],
    ["taking back one of others", { kind: "overrides.remove", overrideIds: ["own", "other"] }, "scope.else"],
    ["a setting of the course", { kind: "course.classList", classList: { to: "nobody" } }, "scope.kind"],
    ["a layer", { kind: "layer.remove", layerId: "Access plans" }, "scope.kind"],
    ["who is in a group, unallowed", members("Extra time", ["ben"]), "scope.members"],
  ])("%s", (_, command, answer) => {
    expect(asked(command)).toBe(answer);
  });
  test("where they may change members: of a group that was given, by students who are theirs", () => {
    const may: StaffMay[] = ["change members"];
    expect(asked(members("Extra time", ["ben"]), may)).toBe("may");
    expect(asked(members("Extra time", ["eve"]), may)).toBe("scope.else");
    expect(asked(members("Breaks", ["ben"]), may)).toBe("scope.else");
    expect(asked({ kind: "placement.remove", groupId: "Extra time", personIds: ["ada"] }, may)).toBe("may");
  });
  test("where they may set allowances: for whom they were given, and none of anybody else's is changed into one", () => {
    const may: StaffMay[] = ["set allowances"];
    const none = { minutesFactor: null, extraDays: 2, extraAttempts: null };
    const set = (kind: string, id: string, allowanceId = "new") =>
      asked({ kind: "allowance.set", allowance: { id: allowanceId, target: { kind, id }, ...none } }, may);
    expect(asked({ kind: "allowance.set", allowance: { id: "new", target: group("Extra time"), ...none } })).toBe(
      "scope.allowances",
    );
    expect([set("group", "Extra time"), set("section", "D1"), set("person", "ben")]).toEqual(["may", "may", "may"]);
    expect([set("person", "eve"), set("section", "EV"), set("group", "Breaks"), set("group", "nobody")]).toEqual(
      Array(4).fill("scope.else"),
    );
    expect([set("person", "ada", "own"), set("person", "ada", "other")]).toEqual(["may", "scope.else"]);
    const remove = (allowanceId: string) => asked({ kind: "allowance.remove", allowanceId }, may);
    expect([remove("own"), remove("other"), remove("nothing")]).toEqual(["may", "scope.else", "scope.else"]);
  });
  test("what touches one student of others is not theirs to publish", () => {
    const plan = supportedCourse();
    const scope = scopeOf(plan, supporter, t0);
    expect(isAllTheirs(plan, plan, [{ personIds: ["ada"] }, { personIds: ["ben"] }], scope)).toBe(true);
    expect(isAllTheirs(plan, plan, [{ personIds: ["ada"] }, { personIds: ["ben", "eve"] }], scope)).toBe(false);
  });
  test("nor is what an item says that others read, though it moves nobody", () => {
    const plan = supportedCourse();
    const scope = scopeOf(plan, supporter, t0);
    const says = (itemId: string) => {
      const item = { ...(plan.items[itemId] as Item), body: "Other words" };
      return isAllTheirs(plan, { ...plan, items: { ...plan.items, [itemId]: item } }, [], scope);
    };
    expect([says("mine"), says("mine for all")]).toEqual([true, false]);
  });
});

describe("every way of saying it is asked alike", () => {
  const opened = { kind: "opened", itemId: "mine" };
  const inGroup = (...ids: string[]) => ({ kind: "in", targets: ids.map(group) });
  const all = (...of: object[]) => ({ kind: "allOf", of });
  const variant = (target: string, condition: object | null = null) => ({ targets: [group(target)], condition });
  const audience = (to: string[], minus: string[] = []) => ({ to: to.map(group), minus: minus.map(group) });
  test.each([
    ["for two groups, one of others", item({ audience: audience(["Extra time", "Breaks"]) }), "scope.else"],
    [
      "without two of its groups, one of others",
      item({ audience: audience(["Extra time"], ["Extra time", "Breaks"]) }),
      "scope.else",
    ],
    ["for a group of which all are theirs", item({ audience: audience(["Upper"]) }), "may"],
    ["for a group that reaches beyond", item({ audience: audience(["Lower"]) }), "scope.else"],
    [
      "for a set that bears a student's id",
      item({ audience: { to: [{ kind: "set", id: "ada" }], minus: [] } }),
      "scope.else",
    ],
    ["after something was opened", item({ condition: opened } as never), "may"],
    ["for those in their group", item({ condition: inGroup("Extra time") } as never), "may"],
    ["for those in one of two groups", item({ condition: inGroup("Extra time", "Breaks") } as never), "scope.else"],
    ["where both hold", item({ condition: all(inGroup("Extra time"), opened) } as never), "may"],
    ["where both hold, one of others", item({ condition: all(opened, inGroup("Breaks")) } as never), "scope.else"],
    ["otherwise for their group", item({ variants: [variant("Extra time", inGroup("Extra time"))] } as never), "may"],
    ["otherwise for others", item({ variants: [variant("Extra time"), variant("Breaks")] } as never), "scope.else"],
    [
      "otherwise for their group and others at once",
      item({ variants: [{ targets: [group("Extra time"), group("Breaks")], condition: null }] } as never),
      "scope.else",
    ],
    [
      "otherwise told apart by others",
      item({ variants: [variant("Extra time", inGroup("Breaks"))] } as never),
      "scope.else",
    ],
    ["in one's own name and another's", item({ owners: [supporter, "eve"] }), "scope.owner"],
    ["made of copies", item({ combines: [{ itemId: "theirs", groupIds: ["Extra time"] }] } as never), "scope.kind"],
    [
      "split along a layer",
      item({ split: { layerId: "Access plans", between: "sealed", locked: false } } as never),
      "scope.kind",
    ],
    ["in a folder of one's own", item({ parentId: "folder" }), "may"],
    ["in a folder for everyone", item({ parentId: "for all" }), "may"],
    ["in a folder that is for theirs and for others", item({ parentId: "for both" }), "may"],
    ["in a folder within one that is for others", item({ parentId: "within others" }), "scope.else"],
    ["a condition of one's own", change("mine", { condition: inGroup("Extra time") }), "may"],
    ["a condition that names others", change("mine", { condition: inGroup("Breaks") }), "scope.else"],
    ["variants that name others", change("mine", { variants: [variant("Breaks")] }), "scope.else"],
    ["the title of what is for more than was given", change("mine for all", { title: "Other" }), "may"],
    ["several at once", { kind: "items.change", itemIds: ["mine", "folder"], fields: { body: "x" } }, "may"],
    [
      "several at once, one not theirs",
      { kind: "items.change", itemIds: ["mine", "theirs"], fields: { body: "x" } },
      "scope.owner",
    ],
    [
      "several for more than was given",
      { kind: "items.change", itemIds: ["mine", "mine for all"], fields: { condition: opened } },
      "scope.else",
    ],
    ["moving somebody else's", { kind: "item.move", itemId: "theirs", parentId: null, position: 0 }, "scope.owner"],
    ["moving one's own to the top", { kind: "item.move", itemId: "mine", parentId: null, position: 0 }, "may"],
    [
      "moving several",
      { kind: "items.move", itemIds: ["mine", "mine for all"], parentId: "folder", before: null },
      "may",
    ],
    [
      "moving several, one not theirs",
      { kind: "items.move", itemIds: ["mine", "theirs"], parentId: null, before: null },
      "scope.owner",
    ],
    [
      "moving several to where others are",
      { kind: "items.move", itemIds: ["mine"], parentId: "of others", before: null },
      "scope.else",
    ],
    ["removing several", { kind: "items.remove", itemIds: ["mine", "mine for all"] }, "may"],
    [
      "removing several with somebody else's beneath",
      { kind: "items.remove", itemIds: ["mine", "folder"] },
      "scope.owner",
    ],
    [
      "dates for several, one not theirs to know of",
      { ...override("section", "D1"), itemIds: ["theirs", "of others"] },
      "item.gone",
    ],
  ])("%s", (_, command, answer) => {
    expect(asked(command)).toBe(answer);
  });
  test("one student of several who is not theirs is one too many", () => {
    expect(asked(members("Extra time", ["ben", "eve"]), ["change members"])).toBe("scope.else");
  });
  test("a refusal says whose it is, and what to do", () => {
    const sentences = [
      item({ audience: { to: "everyone", minus: [] } }),
      change("theirs", { title: "Other" }),
      members("Extra time", ["ben"]),
      { kind: "allowance.remove", allowanceId: "own" },
      { kind: "layer.remove", layerId: "Access plans" },
    ].map((command) => answerTo(command)?.sentence);
    expect(sentences).toEqual([
      "That lies outside the sections and groups you were given. Ask the coordinator for it.",
      "That is not yours to change: its owners and the coordinator may. Write to them.",
      "Who is in this group is the coordinator's to change. Ask them for it.",
      "Allowances are the coordinator's to set. Ask them for it, or give more time on one item.",
      "Only the coordinator changes this. You may draft items of your own for those you were given, and dates for them.",
    ]);
  });
  test("what is published alone: dates of their students, an item that comes and one that goes; not one for more", () => {
    const plan = supportedCourse();
    const scope = scopeOf(plan, supporter, t0);
    const may = (after: Partial<Plan>) => isAllTheirs(plan, { ...plan, ...after }, [], scope);
    const own = plan.overrides.own as Plan["overrides"][string];
    expect(may({ overrides: { ...plan.overrides, own: { ...own, dates: { attempts: 5 } } } })).toBe(true);
    const { mine, ...without } = plan.items;
    expect(may({ items: without })).toBe(true);
    expect(may({ items: { ...plan.items, new: { ...(mine as Item), id: "new" } } })).toBe(true);
    const wider = { ...(mine as Item), audience: { to: "everyone" as const, minus: [] } };
    expect(may({ items: { ...plan.items, mine: wider } })).toBe(false);
  });
});

test("what is not theirs answers like what does not exist", () => {
  for (const [theirs, nothing] of [
    [change("of others", { title: "x" }), change("nowhere", { title: "x" })],
    [override("person", "eve"), override("person", "nobody")],
    [override("group", "Breaks"), override("group", "nothing")],
    [
      { kind: "overrides.remove", overrideIds: ["other"] },
      { kind: "overrides.remove", overrideIds: ["nothing"] },
    ],
    [
      { ...override("section", "D1"), itemIds: ["of others"] },
      { ...override("section", "D1"), itemIds: ["nowhere"] },
    ],
    [item({ parentId: "of others" }), item({ parentId: "nowhere" })],
  ])
    expect(answerTo(theirs as object)).toEqual(answerTo(nothing as object));
});
