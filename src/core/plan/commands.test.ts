/** What each command does to a plan, and the one line that tray, review and journal say of it. */
import { v4 } from "uuid";
import { describe, expect, test } from "vitest";
import { membershipOf } from "../access/roles.ts";
import { apply, Command, replay, sayCommand } from "../commands.ts";
import {
  addItem,
  addLayer,
  addSection,
  addStudent,
  coursePlan,
  forOnly,
  group,
  section,
  t0,
} from "../tests/fixture.ts";
import { isRefusal, put } from "./command.ts";
import { foldersAbove, fullName, homeEnrolment, lookup, outlineOrder, studentsAt, targetName } from "./lookup.ts";
import { sourceOf } from "./tables.ts";
import { blankGroup, blankItem, type Enrolment, type Group, type Plan } from "./types.ts";

function course(): Plan {
  const plan = coursePlan();
  for (const code of ["D1", "EV"]) addSection(plan, code);
  addLayer(plan, "Banks", ["North", "South"]);
  addStudent(plan, "ada", ["D1"], ["North"]);
  addStudent(plan, "ben", ["EV"], ["South"]);
  addItem(plan, "folder", { kind: "folder", title: "Labs" });
  addItem(plan, "lab", { kind: "assignment", title: "Lab 1", parentId: "folder", points: 20 });
  addItem(plan, "page", { title: "Kit list" });
  return plan;
}
let serial = 0;
const command = (fields: object) =>
  Command.parse({ id: `00000000-0000-7000-8000-${String(++serial).padStart(12, "0")}`, ...fields });
function applied(plan: Plan, fields: object): Plan {
  const next = apply(plan, command(fields), { now: t0 });
  if (isRefusal(next)) throw new Error(next.sentence);
  return next;
}
const says = (fields: object, plan = course()) => sayCommand(plan, command(fields));
const newItem = (fields: object) => ({
  ...blankItem,
  id: "new",
  parentId: null,
  position: 9,
  kind: "page",
  title: "New",
  ...fields,
});

describe("the one line of a command", () => {
  test.each([
    [{ kind: "layer.followSections", layerId: "l", name: "Sections" }, "Layer Sections: a group for each section"],
    [{ kind: "layer.remove", layerId: "Banks" }, "Remove layer Banks"],
    [{ kind: "layer.change", layerId: "Banks", fields: { name: "Shores" } }, "Change layer Banks"],
    [{ kind: "group.change", groupId: "North", fields: { name: "Upper" } }, "Rename North to Upper"],
    [{ kind: "group.change", groupId: "North", fields: { max: 5 } }, "Change group North"],
    [{ kind: "group.remove", groupId: "North" }, "Remove group North"],
    [{ kind: "placement.place", groupId: "South", personIds: ["ada"] }, "Test, ada into South"],
    [{ kind: "placement.place", groupId: "South", personIds: ["ada", "ben"] }, "2 people into South"],
    [{ kind: "placement.remove", groupId: "North", personIds: ["ada"] }, "Test, ada out of North"],
    [{ kind: "placement.hold", groupId: "North", personIds: ["ada"], held: true }, "Hold Test, ada in North"],
    [
      { kind: "placement.hold", groupId: "gone", personIds: ["ada"], held: false },
      "Release Test, ada in a removed group",
    ],
    [{ kind: "item.add", item: newItem({ audience: forOnly(group("North")) }) }, "New page New, for North"],
    [{ kind: "item.change", itemId: "page", fields: { audience: forOnly(section("EV")) } }, "Kit list for EV"],
    [{ kind: "item.change", itemId: "page", fields: { published: false } }, "Unpublish Kit list"],
    [{ kind: "item.change", itemId: "page", fields: { published: true } }, "Publish Kit list"],
    [{ kind: "item.change", itemId: "folder", fields: { seals: false } }, "Labs does not seal its contents"],
    [{ kind: "item.change", itemId: "page", fields: { title: "Kit" } }, "Rename Kit list to Kit"],
    [{ kind: "item.change", itemId: "page", fields: { body: "Boots" } }, "Change Kit list"],
    [{ kind: "item.move", itemId: "page", parentId: "folder", position: 1 }, "Move Kit list to Labs"],
    [{ kind: "item.move", itemId: "lab", parentId: null, position: 1 }, "Move Lab 1 to the top of the outline"],
    [{ kind: "item.remove", itemId: "folder" }, "Remove Labs and the 1 beneath it"],
    [{ kind: "item.remove", itemId: "page" }, "Remove Kit list"],
    [
      { kind: "course.indexes", indexes: { discussions: true, files: false, calendar: true, work: false } },
      "Index all discussions on, Index the calendar on",
    ],
    [{ kind: "dates.set", itemIds: ["lab"], dates: { due: "2026-12-01T17:00" } }, "Lab 1: due Tue 1 Dec, 17:00"],
    [
      { kind: "dates.set", itemIds: ["lab", "page"], dates: { due: null, minutes: 30 } },
      "2 items: due unset, minutes 30",
    ],
    [
      { kind: "override.set", itemIds: ["lab"], target: group("South"), dates: { closes: "none" } },
      "Lab 1 for South: closes none",
    ],
    [{ kind: "enrolment.home", enrolmentId: "ada in D1" }, "Home section of Test, ada: D1"],
    [{ kind: "section.change", sectionId: "D1", fields: { title: "Day" } }, "Change section D1"],
  ])("%j is said as %s", (fields, line) => {
    expect(says(fields)).toBe(line);
  });
});

describe("what commands do", () => {
  test("an extra entrance is added to a folder that is there, and removed", () => {
    const entrance = { id: "door", itemId: "page", folderId: "folder", position: 1 };
    const plan = applied(course(), { kind: "entrance.add", entrance });
    expect(plan.entrances.door).toEqual(entrance);
    expect(says({ kind: "entrance.remove", entranceId: "door" }, plan)).toBe("Remove an entrance to Kit list");
    expect(applied(plan, { kind: "entrance.remove", entranceId: "door" }).entrances).toEqual({});
    const nowhere = apply(course(), command({ kind: "entrance.add", entrance: { ...entrance, folderId: "page" } }), {
      now: t0,
    });
    expect(nowhere).toMatchObject({ code: "item.gone" });
  });
  test("removing a folder removes the doors that led into it", () => {
    const door = { id: "door", itemId: "page", folderId: "folder", position: 1 };
    const plan = applied(applied(course(), { kind: "entrance.add", entrance: door }), {
      kind: "item.remove",
      itemId: "folder",
    });
    expect([Object.keys(plan.items), plan.entrances]).toEqual([["page"], {}]);
  });
  test("removing a layer removes its groups, placements, rules and allowances", () => {
    const target = group("North");
    const allowance = { id: "a", target, minutesFactor: "1.5", extraDays: null, extraAttempts: null };
    const plan = applied(course(), { kind: "allowance.set", allowance });
    const gone = applied(plan, { kind: "layer.remove", layerId: "Banks" });
    expect([gone.layers, gone.groups, gone.placements, gone.allowances]).toEqual([{}, {}, {}, {}]);
  });
  test("a layer along which an item is split stays", () => {
    const plan = course();
    Object.assign(plan.items.lab as object, { split: { layerId: "Banks", between: "sealed" } });
    const answer = apply(plan, command({ kind: "layer.remove", layerId: "Banks" }), { now: t0 });
    expect(answer).toMatchObject({
      code: "layer.aimed",
      sentence: "Lab 1 is split along this layer. Change that first.",
    });
  });
  test("two groups of a layer share neither name nor mark, whatever the case", () => {
    const add = (name: string, mark: string) => ({
      kind: "group.add",
      group: {
        id: "g",
        layerId: "Banks",
        position: 2,
        name,
        label: name,
        stripe: { colour: 0, pattern: 0, mark },
        ...blankGroup,
      },
    });
    expect(apply(course(), command(add("NORTH", "X")), { now: t0 })).toMatchObject({ code: "group.twin" });
    expect(apply(course(), command(add("West", "nor")), { now: t0 })).toMatchObject({ code: "group.mark" });
    expect(Object.keys(applied(course(), add("West", "W")).groups)).toHaveLength(3);
    const small = command({ kind: "group.change", groupId: "North", fields: { min: 5, max: 2 } });
    expect(apply(course(), small, { now: t0 })).toMatchObject({ code: "group.capacity" });
  });
  test("choosing a home section moves whoever follows it", () => {
    const plan = applied(course(), { kind: "layer.followSections", layerId: "follow", name: "Sections" });
    const second = { ...(plan.enrolments["ada in D1"] as Enrolment), id: "second", sectionId: "EV", since: 1 };
    const chosen = applied(put(plan, "enrolments", [second]), { kind: "enrolment.home", enrolmentId: "second" });
    const groups = Object.values(chosen.placements)
      .filter((row) => row.personId === "ada" && row.until === null)
      .map((row) => chosen.groups[row.groupId]?.name);
    expect(groups.sort()).toEqual(["EV", "North"]);
  });
  test("a draft goes on over what went live beneath it, and names what no longer applies", () => {
    const draft = [
      command({ kind: "placement.place", groupId: "South", personIds: ["ada"] }),
      command({ kind: "item.change", itemId: "page", fields: { title: "Kit" } }),
    ];
    const live = { ...course(), items: { lab: course().items.lab as never } };
    const { plan, applied: done, refused } = replay(live, draft, { now: t0 });
    expect(done.map((one) => one.says)).toEqual(["Test, ada into South"]);
    expect(refused.map(({ refusal }) => refusal.code)).toEqual(["item.gone"]);
    expect(plan.items.page).toBeUndefined();
  });
  test("what a schema does not know is no command", () => {
    for (const wrong of [
      { kind: "nothing" },
      { kind: "item.change", itemId: "page", fields: { title: "" } },
      { kind: "dates.set", itemIds: [], dates: {} },
      { kind: "dates.set", itemIds: ["lab"], dates: { due: "soon" } },
      { kind: "placement.place", groupId: "North", personIds: [] },
    ]) {
      expect([wrong, Command.safeParse({ id: "x", ...wrong }).success]).toEqual([wrong, false]);
    }
  });
});

describe("looking things up", () => {
  test("the outline in reading order, with how deep each item lies", () => {
    expect(outlineOrder(course()).map(({ item, depth }) => [item.title, depth])).toEqual([
      ["Labs", 0],
      ["Lab 1", 1],
      ["Kit list", 0],
    ]);
    expect(foldersAbove(course(), course().items.lab as never).map(({ id }) => id)).toEqual(["folder"]);
  });
  test("students by name, families first, without case or accents", () => {
    const plan = course();
    for (const [id, familyName] of [
      ["c", "Ándrade"],
      ["d", "andrews"],
      ["e", "Zu"],
    ] as const) {
      addStudent(plan, id);
      Object.assign(plan.people[id] as object, { familyName });
    }
    expect(studentsAt(plan, t0)).toEqual(["c", "d", "ada", "ben", "e"]);
  });
  test("home is the section chosen, then the one that began last, and never no section where there is one", () => {
    const plan = course();
    const add = (id: string, sectionId: string | null, since: number, home = false) => {
      plan.enrolments[id] = { ...(plan.enrolments["ada in D1"] as object), id, sectionId, since, home } as never;
    };
    add("none", null, 99);
    add("later", "EV", 50);
    const home = (changed = plan) =>
      homeEnrolment({ ...changed, enrolments: { ...changed.enrolments } }, "ada", t0)?.id;
    expect(home()).toBe("later");
    Object.assign(plan.enrolments["ada in D1"] as object, { home: true });
    expect(home()).toBe("ada in D1");
  });
  test("answers are shared between plans as long as the table is the same", () => {
    const plan = course();
    const other = { ...plan, items: { ...plan.items } };
    expect(lookup(other).placementsOfPerson).toBe(lookup(plan).placementsOfPerson);
    expect(lookup(other).children).not.toBe(lookup(plan).children);
  });
  test("names, with what is gone", () => {
    expect(fullName({ givenName: "", familyName: "Prince" })).toBe("Prince");
    expect([targetName(course(), group("North")), targetName(course(), section("x"))]).toEqual([
      "North",
      "a removed section",
    ]);
  });
  test("the strongest of the open roles counts, and someone without one is not in the course", () => {
    const plan = course();
    plan.enrolments.staff = {
      ...(plan.enrolments["ada in D1"] as object),
      id: "staff",
      role: "coordinator",
      until: t0,
    } as never;
    expect(membershipOf(plan, "00ada", t0 - 1)).toEqual({ personId: "ada", role: "coordinator" });
    expect(membershipOf(plan, "00ada", t0)?.role).toBe("student");
    expect(membershipOf(plan, "nobody", t0)).toBeNull();
  });
});

test("no step of a long draft has a table of many rows copied, before it or after it", () => {
  const isWhole = (plan: Plan) => (sourceOf(plan, "placements") as { isWhole?: boolean }).isWhole ?? false;
  const ids = Array.from({ length: 60 }, (_, at) => `person ${at}`);
  for (const max of [null, 100]) {
    const start = course();
    for (const id of ids) addStudent(start, id, ["D1"], ["North"]);
    start.groups.South = { ...(start.groups.South as Group), max };
    let plan = start;
    for (const personId of ids) {
      const step = { id: v4(), kind: "placement.place" as const, groupId: "South", personIds: [personId] };
      const next = apply(plan, step, { now: t0 });
      if (isRefusal(next)) throw new Error(next.sentence);
      expect([isWhole(plan), isWhole(next)], `South holds ${max ?? "any number"}`).toEqual([false, false]);
      plan = next;
    }
    expect(Object.values(plan.placements).filter(({ groupId, until }) => groupId === "South" && !until)).toHaveLength(
      61,
    );
  }
});
