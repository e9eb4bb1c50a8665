import fc from "fast-check";
import { v7 } from "uuid";
import { describe, expect, test } from "vitest";
import { apply, Command } from "../commands.ts";
import { rowsOf } from "../intake/undo.ts";
import { isRefusal } from "../plan/command.ts";
import { difference, type RowChange } from "../plan/difference.ts";
import { noProgress } from "../plan/progress.ts";
import { referencesOf } from "../plan/references.ts";
import { blankGroup, type Item, type Plan } from "../plan/types.ts";
import { reachAt } from "../reach/reach.ts";
import { planBefore, revertible } from "../rolling/revert.ts";
import type { World } from "../tests/condition-oracle.ts";
import { addItem, addLayer, addStudent, coursePlan, forOnly, group, person, t0 } from "../tests/fixture.ts";
import { inGroup, meet } from "../tests/meeting-oracle.ts";
import { randomCourse } from "../tests/random-course.ts";
import { causesOf } from "./causes.ts";
import { review } from "./effects.ts";
import { partDraft } from "./leaving.ts";
import { sightlineChange } from "./meetings.ts";
import { rowWords, valueWords } from "./row-words.ts";

const now = { now: t0 };
const command = (fields: object): Command => Command.parse({ id: v7(), ...fields });
function course(): Plan {
  const plan = coursePlan();
  addLayer(plan, "Banks", ["North", "South"]);
  for (const id of ["ada", "ben"]) addStudent(plan, id, [], ["North"]);
  addStudent(plan, "cas", [], ["South"]);
  addItem(plan, "page", { title: "Kit list" });
  addItem(plan, "lab", { kind: "assignment", title: "Lab 1", dates: { due: "2026-12-01T17:00" } });
  return plan;
}
const stripe = { colour: 3, pattern: 0, mark: "E" };
const newGroup = (id: string) =>
  command({
    kind: "group.add",
    group: { id, layerId: "Banks", position: 9, name: id, label: id, stripe, ...blankGroup },
  });
function applied(plan: Plan, ...commands: Command[]): Plan {
  return commands.reduce((before, one) => {
    const next = apply(before, one, now);
    if (isRefusal(next)) throw new Error(next.sentence);
    return next;
  }, plan);
}

describe("leaving some of a draft out", () => {
  test("what needs it stays too, and is told of; the rest is published", () => {
    const [add, place, rename] = [
      newGroup("East"),
      command({ kind: "placement.place", groupId: "East", personIds: ["ada"] }),
      command({ kind: "item.change", itemId: "page", fields: { title: "Boots" } }),
    ];
    const parted = partDraft(course(), [add, place, rename], new Set([add.id]), now);
    expect(parted.taken.applied.map((one) => one.command)).toEqual([rename]);
    expect([...parted.staying].sort()).toEqual([add.id, place.id].sort());
    expect([...parted.needs]).toEqual([[place.id, [add.id]]]);
    expect(partDraft(course(), [add, place], new Set([place.id]), now).staying).toEqual(new Set([place.id]));
  });
  test("what applies to nothing any more is not dragged out with others", () => {
    const [vain, other] = [
      command({ kind: "item.change", itemId: "gone", fields: { title: "x" } }),
      command({ kind: "item.change", itemId: "page", fields: { title: "Boots" } }),
    ];
    const parted = partDraft(course(), [vain, other], new Set([other.id]), now);
    expect([...parted.staying]).toEqual([other.id]);
    expect(parted.taken.refused.map((one) => one.command.id)).toEqual([vain.id]);
  });
  test("taken and staying are the whole draft, and what is taken applies by itself", () => {
    const titles = fc.array(fc.constantFrom("North", "South", "East", "West"), { minLength: 1, maxLength: 6 });
    fc.assert(
      fc.property(titles, fc.nat(63), (names, mask) => {
        const commands = names.map((name, at) =>
          at % 2 === 0
            ? command({ kind: "group.change", groupId: name, fields: { name: `${name} ${at}` } })
            : newGroup(names[at - 1] as string),
        );
        const out = new Set(commands.filter((_, at) => mask & (1 << at)).map(({ id }) => id));
        const { taken, staying } = partDraft(course(), commands, out, now);
        expect(taken.applied.length + taken.refused.length + staying.size).toBe(commands.length);
        for (const id of out) expect(staying.has(id)).toBe(true);
        expect(applied(course(), ...taken.applied.map((one) => one.command))).toEqual(taken.plan);
      }),
    );
  });
});

describe("where an effect comes from", () => {
  test("from what changes the item or moves the person; from what concerns everybody only where nothing else is", () => {
    const before = course();
    const narrow = command({ kind: "item.change", itemId: "page", fields: { audience: forOnly(group("South")) } });
    const move = command({ kind: "placement.place", groupId: "South", personIds: ["ben"] });
    const commands = [narrow, move];
    const after = applied(before, ...commands);
    const found = review(before, after, noProgress, t0);
    const causes = new Map([...causesOf(before, commands, noProgress, found, now)].map((one) => [one.commandId, one]));
    // Both lose the list by the first change; by the second Ben moves to those who keep it.
    expect([...(causes.get(narrow.id)?.personIds ?? [])]).toEqual(["ada", "ben"]);
    expect([...(causes.get(move.id)?.personIds ?? [])]).toEqual(["ben"]);
    const policy = command({ kind: "course.indexes", indexes: { ...before.course.indexes, discussions: true } });
    const talk = applied(before, policy);
    expect([...causesOf(before, [policy], noProgress, review(before, talk, noProgress, t0), now)][0]?.lines.size).toBe(
      1,
    );
  });
});

describe("warnings", () => {
  test("what somebody handed in and loses is told apart and comes first", () => {
    const before = course();
    const after = applied(
      before,
      command({ kind: "item.change", itemId: "lab", fields: { audience: forOnly(group("South")) } }),
    );
    const progress = { ...noProgress, handIns: [{ id: "h", personId: "ben", itemId: "lab", at: t0 - 1 }] };
    const found = review(before, after, progress, t0);
    expect([found.losing, found.losingWork]).toEqual([2, 1]);
    expect(found.lines.map(({ personIds, effects }) => [personIds, effects.map(({ kind }) => kind)])).toEqual([
      [["ben"], ["loses", "work"]],
      [["ada"], ["loses"]],
    ]);
  });
});

describe("sightlines that a draft changes", () => {
  test("are those of pairs asked one by one, on random courses", () => {
    fc.assert(
      fc.property(randomCourse, randomCourse, ({ plan: before, progress }, { plan: other }) => {
        const after = { ...before, items: other.items, entrances: other.entrances, course: other.course };
        const layerId = Object.keys(after.layers)[0] as string;
        const groups = Object.values(after.groups).filter((one) => one.layerId === layerId);
        const sees = (plan: Plan, a: string, b: string) => {
          const world: World = { plan, progress, t: t0 };
          const of = (id: string) => groups.filter((one) => inGroup(world, id, one.id));
          const [mine, theirs] = [of(a), of(b)];
          const apart = mine.length > 0 && theirs.length > 0 && !mine.some((one) => theirs.includes(one));
          return apart && meet(world, a, b);
        };
        const { students } = reachAt(after, progress, t0);
        const wanted = { added: 0, removed: 0 };
        students.forEach((a, at) => {
          for (const b of students.slice(at + 1)) {
            const [then, later] = [sees(before, a, b), sees(after, a, b)];
            if (!then && later) wanted.added++;
            if (then && !later) wanted.removed++;
          }
        });
        const found = sightlineChange(reachAt(before, progress, t0), reachAt(after, progress, t0), layerId);
        expect({ added: found.added, removed: found.removed }).toEqual(wanted);
      }),
      { numRuns: 120 },
    );
  });
});

describe("reverting", () => {
  const revert = (changes: RowChange[]) => command({ kind: "revertPublication", says: "A step", changes });
  test("leads rows back, ends what was begun and begins anew what was ended", () => {
    const before = course();
    const after = applied(
      before,
      command({ kind: "item.change", itemId: "page", fields: { title: "Boots" } }),
      command({ kind: "placement.place", groupId: "South", personIds: ["ada"] }),
    );
    const later = t0 + 3_600_000;
    const back = apply(after, revert(difference(before, after)), { now: later });
    if (isRefusal(back)) throw new Error(back.sentence);
    expect(back.items.page?.title).toBe("Kit list");
    const places = Object.values(back.placements).filter(({ personId }) => personId === "ada");
    expect(places.map(({ groupId, since, until }) => [groupId, since, until])).toEqual(
      expect.arrayContaining([
        ["North", 0, t0],
        ["South", t0, later],
        ["North", later, null],
      ]),
    );
  });
  test("at the very moment of the step what began is gone, and what ended goes on from there", () => {
    const before = course();
    const after = applied(before, command({ kind: "placement.place", groupId: "South", personIds: ["ada"] }));
    const back = apply(after, revert(difference(before, after)), { now: t0 });
    if (isRefusal(back)) throw new Error(back.sentence);
    const places = Object.values(back.placements).filter(({ personId }) => personId === "ada");
    expect(places.map(({ groupId, since, until }) => [groupId, since, until])).toEqual([
      ["North", 0, t0],
      ["North", t0, null],
    ]);
  });
  test("what changed since, or is named by now, stays and says so; such a command is refused", () => {
    const before = course();
    const after = applied(
      before,
      newGroup("East"),
      command({ kind: "item.change", itemId: "page", fields: { title: "Boots" } }),
    );
    const changes = difference(before, after);
    const since = applied(
      after,
      command({ kind: "item.change", itemId: "page", fields: { title: "Boots and rope" } }),
      command({ kind: "placement.place", groupId: "East", personIds: ["cas"] }),
    );
    const can = revertible(since, changes);
    expect(can.changes).toEqual([]);
    expect(can.staying).toHaveLength(2);
    expect(can.staying.join(" ")).toMatch(
      /"Boots" has changed since.*group East stays: the place of Test, cas in East/,
    );
    expect(apply(since, revert(changes), now)).toMatchObject({ code: "revert.depends" });
    // What would come back and names what is gone stays away.
    const removed = applied(before, command({ kind: "item.remove", itemId: "lab" }));
    expect(revertible(removed, difference(before, removed)).changes).toHaveLength(1);
    const [lab] = difference(before, removed) as [RowChange];
    const orphan = { ...lab, before: { ...lab.before, audience: forOnly(group("gone")) } } as RowChange;
    expect(revertible(removed, [orphan])).toEqual({
      changes: [],
      staying: ['"Lab 1" cannot come back: what it names is no longer there.'],
    });
  });
  test("a row that anything has come to name stays: an item beneath, a condition, a date, an entrance, a setting", () => {
    const before = course();
    const folder = addItem(structuredClone(before), "later", { kind: "folder" });
    const after = applied(before, command({ kind: "item.add", item: folder }), newGroup("East"));
    const item = (id: string, fields: Partial<Item>) =>
      command({ kind: "item.add", item: addItem(structuredClone(before), id, fields) });
    const namings: [Command, string][] = [
      [item("child", { parentId: "later" }), "later"],
      [command({ kind: "item.move", itemId: "page", parentId: "later", position: 0 }), "later"],
      [
        command({ kind: "item.change", itemId: "page", fields: { condition: { kind: "opened", itemId: "later" } } }),
        "later",
      ],
      [
        command({
          kind: "override.set",
          itemIds: ["later"],
          target: person("ada"),
          dates: { opens: "2026-12-01T09:00" },
        }),
        "later",
      ],
      [
        command({ kind: "entrance.add", entrance: { id: "door", itemId: "page", folderId: "later", position: 9 } }),
        "later",
      ],
      [command({ kind: "item.change", itemId: "page", fields: { audience: forOnly(group("East")) } }), "East"],
      [
        command({
          kind: "override.set",
          itemIds: ["page"],
          target: group("East"),
          dates: { opens: "2026-12-01T09:00" },
        }),
        "East",
      ],
    ];
    for (const [naming, title] of namings) {
      const since = applied(after, naming);
      const can = revertible(since, difference(before, after));
      expect([naming.kind, can.staying.length]).toEqual([naming.kind, 1]);
      expect(can.staying[0]).toContain(`${title}`);
      const back = apply(since, revert(can.changes), now) as Plan;
      expect(
        rowsOf(back).flatMap(({ table, row }) =>
          referencesOf(table, row).filter((one) => !(one.id in back[one.table])),
        ),
      ).toEqual([]);
    }
  });
  test("what is no row of its table does not come back", () => {
    const [change] = difference(
      course(),
      applied(course(), command({ kind: "item.change", itemId: "page", fields: { title: "Boots" } })),
    ) as [RowChange];
    for (const before of [{ ...change.before, title: "" }, { ...change.before, id: "other" }, { id: "page" }])
      expect(() => revert([{ ...change, before } as RowChange])).toThrow(/a row of its table/);
  });
  test("differences walked backwards give the plan as it was, on random courses", () => {
    fc.assert(
      fc.property(randomCourse, randomCourse, randomCourse, ({ plan: a }, { plan: b }, { plan: c }) => {
        expect(planBefore(c, [difference(b, c), difference(a, b)])).toEqual(a);
      }),
      { numRuns: 40 },
    );
  });
});

test("rows in words: from what to what, with names instead of ids", () => {
  const before = course();
  const after = applied(
    before,
    command({ kind: "item.change", itemId: "page", fields: { title: "Boots", audience: forOnly(group("North")) } }),
    command({ kind: "override.set", itemIds: ["lab"], target: group("South"), dates: { due: "2026-12-02T17:00" } }),
  );
  const words = difference(before, after).flatMap((change) => rowWords(after, change));
  expect(words).toEqual([
    { about: '"Boots"', field: "title", from: "Kit list", to: "Boots" },
    { about: '"Boots"', field: "audience", from: "to everyone", to: "to North" },
    { about: 'A date of "Lab 1"', field: "", from: "", to: "added" },
  ]);
  // Instants are moments, people are named, and an end that is not there is no end.
  const [moved] = difference(
    before,
    applied(before, command({ kind: "placement.remove", groupId: "North", personIds: ["ada"] })),
  );
  expect(rowWords(before, moved as RowChange)).toMatchObject([
    { field: "until", from: "no end", to: "Wed 25 Nov, 10:00" },
  ]);
  expect(valueWords(before, ["ada", "North"])).toBe("Test, ada; North");
  expect(
    [null, true, [], ["a", "b"], "2026-12-02T17:00", { due: "2026-12-02T17:00" }].map((one) => valueWords(after, one)),
  ).toEqual(["nothing", "yes", "nothing", "a; b", "Wed 2 Dec, 17:00", "due Wed 2 Dec, 17:00"]);
});
