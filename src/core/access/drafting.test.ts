/** What may be drafted within a scope, and what may not, command by command. */
import { describe, expect, test } from "vitest";
import { Command } from "../commands.ts";
import { blankItem, type Item, type Plan, type StaffMay } from "../plan/types.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, group, t0 } from "../tests/fixture.ts";
import { isAllTheirs, whyNotDraft } from "./drafting.ts";
import { scopeOf } from "./scope.ts";

const me = "sam";
function course(): Plan {
  const plan = coursePlan();
  for (const code of ["D1", "EV"]) addSection(plan, code);
  addLayer(plan, "Access plans", ["Extra time", "Breaks"], { private: true, rule: "any number" });
  addStudent(plan, "ada", ["D1"], ["Extra time"]);
  addStudent(plan, "ben", ["D1"]);
  addStudent(plan, "eve", ["EV"], ["Breaks"]);
  plan.people[me] = { ...(plan.people.ada as Plan["people"][string]), id: me, sourcedId: me };
  const row = { id: "staff", personId: me, since: 0, until: null, home: false, origin: "hand" as const };
  plan.enrolments.staff = { ...row, sectionId: "D1", role: "support" };
  plan.placements.staff = { id: "staff", groupId: "Extra time", personId: me, since: 0, until: null, held: true };
  const mine = { owners: [me], audience: { to: [group("Extra time")], minus: [] } };
  addItem(plan, "mine", mine);
  addItem(plan, "mine for all", { owners: [me] });
  addItem(plan, "theirs", { audience: { to: [group("Extra time")], minus: [] } });
  addItem(plan, "folder", { kind: "folder", ...mine });
  addItem(plan, "not mine in it", { parentId: "folder" });
  addItem(plan, "of others", { kind: "folder", audience: { to: [group("Breaks")], minus: [] } });
  plan.overrides.own = { id: "own", itemId: "theirs", target: { kind: "section", id: "D1" }, dates: { attempts: 2 } };
  plan.overrides.other = {
    id: "other",
    itemId: "theirs",
    target: { kind: "section", id: "EV" },
    dates: { attempts: 2 },
  };
  const days = { minutesFactor: null, extraDays: 1, extraAttempts: null };
  plan.allowances.own = { id: "own", target: group("Extra time"), ...days };
  plan.allowances.other = { id: "other", target: group("Breaks"), ...days };
  return plan;
}
function answerTo(fields: object, may: StaffMay[] = []) {
  const plan = course();
  const drafter = {
    personId: me,
    scope: scopeOf(plan, me, t0),
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
    owners: [me],
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
    const plan = course();
    const scope = scopeOf(plan, me, t0);
    expect(isAllTheirs(plan, plan, [{ personIds: ["ada"] }, { personIds: ["ben"] }], scope)).toBe(true);
    expect(isAllTheirs(plan, plan, [{ personIds: ["ada"] }, { personIds: ["ben", "eve"] }], scope)).toBe(false);
  });
  test("nor is what an item says that others read, though it moves nobody", () => {
    const plan = course();
    const scope = scopeOf(plan, me, t0);
    const says = (itemId: string) => {
      const item = { ...(plan.items[itemId] as Item), body: "Other words" };
      return isAllTheirs(plan, { ...plan, items: { ...plan.items, [itemId]: item } }, [], scope);
    };
    expect([says("mine"), says("mine for all")]).toEqual([true, false]);
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
