import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { noProgress } from "../plan/progress.ts";
import { and, countBits, emptyBits, fullBits, listBits, setBit } from "../sets/bits.ts";
import {
  addItem,
  addLayer,
  addSection,
  addStudent,
  coursePlan,
  forOnly,
  group,
  instant,
  person,
  t0,
} from "../tests/fixture.ts";
import { judge } from "./conditions.ts";
import { visibilityOf } from "./explain.ts";
import { reachAt } from "./reach.ts";

/** Two banks, two students each. */
function banks() {
  const plan = coursePlan();
  addLayer(plan, "Banks", ["North", "South"]);
  for (const [id, bank] of [
    ["ada", "North"],
    ["ben", "North"],
    ["cas", "South"],
    ["dee", "South"],
  ] as const)
    addStudent(plan, id, [], [bank]);
  return plan;
}
const seeing = (plan: ReturnType<typeof banks>, itemId: string, t = t0, progress = noProgress) => {
  const reach = reachAt(plan, progress, t);
  const item = plan.items[itemId];
  if (!item) throw new Error(itemId);
  return listBits(reach.sees(item)).map((index) => reach.students[index]);
};

describe("the example of semantics.md section 4", () => {
  function example() {
    const plan = banks();
    plan.course.indexes.discussions = true;
    addItem(plan, "bank", {
      kind: "folder",
      title: "North bank",
      seals: false,
      audience: forOnly(group("North")),
    });
    addItem(plan, "talk", { kind: "discussion", parentId: "bank" });
    return plan;
  }
  test("every student outside North reaches the discussion through the index: a leak", () => {
    const plan = example();
    const reach = reachAt(plan, noProgress, t0);
    expect(listBits(reach.leak(plan.items.talk as never)).map((index) => reach.students[index])).toEqual([
      "cas",
      "dee",
    ]);
  });
  test.each([
    ["seal the folder", (plan: ReturnType<typeof banks>) => Object.assign(plan.items.bank as object, { seals: true })],
    [
      "narrow the audience",
      (plan: ReturnType<typeof banks>) =>
        Object.assign(plan.items.talk as object, { audience: forOnly(group("North")) }),
    ],
    [
      "switch the index off",
      (plan: ReturnType<typeof banks>) => Object.assign(plan.course.indexes, { discussions: false }),
    ],
  ])("%s mends it, and those of North still see it", (_name, mend) => {
    const plan = example();
    mend(plan);
    expect(seeing(plan, "talk")).toEqual(["ada", "ben"]);
  });
});

describe("folders", () => {
  test("an unpublished folder hides all beneath it, doorway or not, whichever entrance is used", () => {
    const plan = banks();
    plan.course.indexes.discussions = true;
    addItem(plan, "door", { kind: "folder", seals: false, published: false });
    addItem(plan, "talk", { kind: "discussion", parentId: "door" });
    plan.entrances.extra = { id: "extra", itemId: "talk", folderId: null, position: 9 };
    expect(seeing(plan, "talk")).toEqual([]);
  });
  test("a doorway is required only of those who come through it", () => {
    const plan = banks();
    addItem(plan, "door", { kind: "folder", seals: false, audience: forOnly(group("North")) });
    addItem(plan, "page", { parentId: "door" });
    expect(seeing(plan, "page")).toEqual(["ada", "ben"]);
    const extra = { id: "extra", itemId: "page", folderId: null, position: 9 };
    expect(seeing({ ...plan, entrances: { extra } }, "page")).toHaveLength(4);
  });
  test("an extra entrance widens nothing that is sealed", () => {
    const plan = banks();
    addItem(plan, "seal", { kind: "folder", audience: forOnly(group("North")) });
    addItem(plan, "page", { parentId: "seal" });
    plan.entrances.extra = { id: "extra", itemId: "page", folderId: null, position: 9 };
    expect(seeing(plan, "page")).toEqual(["ada", "ben"]);
  });
  test("two folders that are entered through each other lead nowhere", () => {
    const plan = banks();
    addItem(plan, "outer", { kind: "folder", audience: forOnly(group("North")), seals: false });
    addItem(plan, "one", { kind: "folder", parentId: "outer" });
    addItem(plan, "two", { kind: "folder", parentId: "one" });
    plan.entrances.circle = { id: "circle", itemId: "one", folderId: "two", position: 1 };
    expect(seeing(plan, "two")).toEqual(["ada", "ben"]);
  });
});

describe("audiences", () => {
  test("everyone minus some, and an empty audience is nobody", () => {
    const plan = banks();
    addItem(plan, "all but", {
      audience: { to: "everyone", minus: [group("South"), person("ada")] },
    });
    addItem(plan, "nobody", { audience: forOnly() });
    expect(seeing(plan, "all but")).toEqual(["ben"]);
    expect(seeing(plan, "nobody")).toEqual([]);
  });
  test("a placement is in force from its start up to its end", () => {
    const plan = banks();
    Object.assign(plan.placements["ada in North"] as object, { since: t0, until: t0 + 1000 });
    addItem(plan, "page", { audience: forOnly(group("North")) });
    expect(seeing(plan, "page", t0 - 1)).toEqual(["ben"]);
    expect(seeing(plan, "page", t0)).toEqual(["ada", "ben"]);
    expect(seeing(plan, "page", t0 + 1000)).toEqual(["ben"]);
  });
});

describe("opens, closes and announcing", () => {
  test("before opens an item is announced or veiled; closes is exclusive", () => {
    const plan = banks();
    const item = addItem(plan, "lab", {
      dates: { opens: "2026-11-25T10:00", closes: "2026-11-26T10:00" },
      readableAfterClose: false,
    });
    expect(seeing(plan, "lab", t0 - 1)).toEqual([]);
    expect(seeing(plan, "lab", t0)).toHaveLength(4);
    expect(seeing(plan, "lab", instant("2026-11-26T10:00:00Z"))).toEqual([]);
    const early = reachAt(plan, noProgress, t0 - 1);
    expect(visibilityOf(early, item, 0)).toEqual({
      visibility: "announced",
      needs: ["opens Wed 25 Nov, 10:00"],
    });
    item.announced = false;
    expect(visibilityOf(reachAt(plan, noProgress, t0 - 1), item, 0).visibility).toBe("hidden");
  });
  test("what can no longer come true is not announced, and what is done stays done", () => {
    const plan = banks();
    const past = addItem(plan, "past", {
      condition: { kind: "before", moment: "2026-11-01T00:00" },
    });
    const undone = addItem(plan, "undone", {
      condition: { kind: "noneOf", of: [{ kind: "opened", itemId: "past" }] },
    });
    const progress = {
      ...noProgress,
      openings: [{ personId: "ada", itemId: "past", at: 5, readAt: null }],
    };
    const reach = reachAt(plan, progress, t0);
    expect(visibilityOf(reach, past, 0).visibility).toBe("hidden");
    expect(visibilityOf(reach, undone, 0).visibility).toBe("hidden");
    expect(visibilityOf(reach, undone, 1).visibility).toBe("open");
  });
});

describe("conditions", () => {
  const asking = (points: number | null, excused = false) => {
    const plan = banks();
    addItem(plan, "sketch", { kind: "assignment", title: "Site sketch", points: 50 });
    const progress = {
      ...noProgress,
      marks: points === null && !excused ? [] : [{ personId: "ada", itemId: "sketch", points, excused, at: 1 }],
    };
    return { plan, progress, memberships: reachAt(plan, progress, t0).memberships(0), t: t0 };
  };
  const atLeast = { kind: "atLeast", itemId: "sketch", percent: 60 } as const;
  const lessThan = { ...atLeast, kind: "lessThan" } as const;
  test("no mark yet: neither holds", () => {
    expect([judge(atLeast, asking(null)).holds, judge(lessThan, asking(null)).holds]).toEqual([false, false]);
  });
  test("the reason says the value found and what is needed", () => {
    expect(judge(atLeast, asking(29))).toMatchObject({
      holds: false,
      says: "58 % on Site sketch, needs 60 %",
    });
    expect(judge(atLeast, asking(30)).holds).toBe(true);
  });
  test("excused counts as enough and as handed in", () => {
    expect(judge(atLeast, asking(null, true)).holds).toBe(true);
    expect(judge({ kind: "handedIn", itemId: "sketch" }, asking(null, true)).holds).toBe(true);
    expect(judge(lessThan, asking(null, true)).holds).toBe(false);
  });
  test("empty all-of and none-of hold, empty any-of does not", () => {
    const verdicts = (["allOf", "noneOf", "anyOf"] as const).map((kind) => judge({ kind, of: [] }, asking(1)).holds);
    expect(verdicts).toEqual([true, true, false]);
  });
  test("the first variant whose groups hold the student applies", () => {
    const plan = banks();
    const never = { kind: "anyOf", of: [] } as const;
    addItem(plan, "page", {
      condition: null,
      variants: [
        { targets: [group("North")], condition: { ...never, of: [] } },
        { targets: [group("North"), group("South")], condition: null },
      ],
    });
    expect(seeing(plan, "page")).toEqual(["cas", "dee"]);
  });
  test("what a student is told never names a private layer's group", () => {
    const plan = banks();
    addLayer(plan, "Access plans", ["Extra time"], { private: true });
    const told = judge(
      { kind: "in", targets: [group("Extra time")] },
      {
        plan,
        progress: noProgress,
        memberships: reachAt(plan, noProgress, t0).memberships(0),
        t: t0,
      },
    );
    expect(told.says).toContain("Extra time");
    expect(told.tells).not.toContain("Extra");
  });
});

describe("bits", () => {
  test("list, count and set agree with plain sets", () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 200 }), fc.array(fc.nat(199)), (size, drawn) => {
        const wanted = [...new Set(drawn.filter((index) => index < size))].sort((a, b) => a - b);
        const bits = emptyBits(size);
        for (const index of wanted) setBit(bits, index);
        expect(listBits(bits)).toEqual(wanted);
        expect(countBits(bits)).toBe(wanted.length);
        expect(countBits(and(bits, fullBits(size)))).toBe(wanted.length);
        expect(countBits(fullBits(size))).toBe(size);
      }),
    );
  });
  test("students of two sections are in both", () => {
    const plan = coursePlan();
    for (const code of ["D1", "EV"]) addSection(plan, code);
    addStudent(plan, "ada", ["D1", "EV"]);
    const reach = reachAt(plan, noProgress, t0);
    expect([...reach.memberships(0).sectionIds].sort()).toEqual(["D1", "EV"]);
    expect(reach.students).toHaveLength(1);
  });
});
