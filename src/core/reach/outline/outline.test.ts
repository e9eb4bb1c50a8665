/** Authoring: many at once, copies, opening to others, pages of groups, copies into one split item, settings. */
import { describe, expect, test } from "vitest";
import { apply, Command, type NewCommand } from "../../commands.ts";
import { isRefusal } from "../../plan/command.ts";
import { lookup } from "../../plan/lookup.ts";
import { noProgress, type Progress, progressLookup } from "../../plan/progress.ts";
import { blankQuiz } from "../../plan/questions.ts";
import type { Plan } from "../../plan/types.ts";
import { listBits } from "../../sets/bits.ts";
import {
  addItem,
  addLayer,
  addSection,
  addStudent,
  coursePlan,
  forOnly,
  group,
  person,
  t0,
} from "../../tests/fixture.ts";
import { progressThrough, threadOfCopy } from "../combined.ts";
import { reachAt } from "../reach.ts";
import { entranceLeaks } from "./opening.ts";
import { pagesOf } from "./pages.ts";

const commandId = "7b2b8a52-4a53-4c5c-9a52-0f7f3a1d2b4c";
const run = (plan: Plan, command: NewCommand): Plan | string => {
  const next = apply(plan, Command.parse({ ...command, id: commandId }), { now: t0 });
  return isRefusal(next) ? next.code : next;
};
const done = (plan: Plan, command: NewCommand): Plan => {
  const next = run(plan, command);
  if (typeof next === "string") throw new Error(next);
  return next;
};
const sees = (plan: Plan, itemId: string, t = t0, progress = noProgress) => {
  const reach = reachAt(plan, progress, t);
  return listBits(reach.sees(plan.items[itemId] as Plan["items"][string])).map((index) => reach.students[index]);
};
const leaking = (plan: Plan) => {
  const reach = reachAt(plan, noProgress, t0);
  return Object.values(plan.items).filter((item) => reach.leak(item).some((word) => word !== 0)).length;
};

/** Ada in North, Ben in South, Cas in neither. */
function course(): Plan {
  const plan = coursePlan();
  addSection(plan, "D1");
  addLayer(plan, "Banks", ["North", "South"]);
  addLayer(plan, "Pace", ["Slow"], { private: true });
  addStudent(plan, "ada", ["D1"], ["North"]);
  addStudent(plan, "ben", ["D1"], ["South"]);
  addStudent(plan, "cas", ["D1"]);
  return plan;
}

describe("many items at once", () => {
  test("are given audience and condition in one go; what means nothing for a kind is left", () => {
    const plan = course();
    addItem(plan, "folder", { kind: "folder" });
    addItem(plan, "talk", { kind: "discussion", seals: true });
    const next = done(plan, {
      kind: "items.change",
      itemIds: ["folder", "talk"],
      fields: {
        audience: forOnly(group("North")),
        seals: false,
        split: { layerId: "Banks", between: "sealed" },
        condition: { kind: "opened", itemId: "folder" },
      },
    });
    expect(next.items.folder).toMatchObject({ seals: false, split: null, audience: forOnly(group("North")) });
    expect(next.items.talk).toMatchObject({ seals: true, split: { layerId: "Banks" } });
    expect(run(plan, { kind: "items.change", itemIds: ["talk", "gone"], fields: { published: true } })).toBe(
      "item.gone",
    );
  });
  test("are moved before an item or after the last, and never into themselves", () => {
    const plan = course();
    for (const id of ["a", "b", "c", "d"]) addItem(plan, id);
    addItem(plan, "folder", { kind: "folder" });
    addItem(plan, "inner", { kind: "folder", parentId: "folder" });
    const order = (next: Plan, parentId: string | null = null) =>
      lookup(next)
        .children.get(parentId)
        ?.map(({ id }) => id);
    expect(order(done(plan, { kind: "items.move", itemIds: ["d", "c"], parentId: null, before: "a" }))).toEqual([
      "d",
      "c",
      "a",
      "b",
      "folder",
    ]);
    expect(order(done(plan, { kind: "items.move", itemIds: ["a"], parentId: null, before: "c" }))).toEqual([
      "b",
      "a",
      "c",
      "d",
      "folder",
    ]);
    const inside = done(plan, { kind: "items.move", itemIds: ["b", "a"], parentId: "folder", before: null });
    expect(order(inside, "folder")).toEqual(["inner", "b", "a"]);
    expect(run(plan, { kind: "items.move", itemIds: ["folder"], parentId: "inner", before: null })).toBe(
      "folder.circle",
    );
  });
  test("are copied with what lies beneath, dates and all; conditions among them ask of the copies", () => {
    const plan = course();
    addItem(plan, "folder", { kind: "folder" });
    addItem(plan, "quiz", { kind: "quiz", parentId: "folder", points: 10, quiz: { ...blankQuiz, released: true } });
    addItem(plan, "page", { parentId: "folder", condition: { kind: "atLeast", itemId: "quiz", percent: 50 } });
    plan.overrides.o = { id: "o", itemId: "quiz", target: group("North"), dates: { due: "2026-12-01T09:00" } };
    const next = done(plan, { kind: "items.copy", itemIds: ["folder"], parentId: null });
    const copy = Object.values(next.items).find(({ title }) => title === "folder, copy");
    const [quiz, page] = lookup(next).children.get(copy?.id ?? "") ?? [];
    expect([quiz?.title, page?.title]).toEqual(["quiz", "page"]);
    expect(quiz?.quiz?.released).toBe(false);
    expect(page?.condition).toEqual({ kind: "atLeast", itemId: quiz?.id, percent: 50 });
    expect(lookup(next).overridesOfItem.get(quiz?.id ?? "")?.[0]?.dates).toEqual({ due: "2026-12-01T09:00" });
    expect(plan.items.page?.condition).toMatchObject({ itemId: "quiz" });
  });
});

describe("opening to others (section 4)", () => {
  const withFolder = () => {
    const plan = course();
    addItem(plan, "north", { kind: "folder", audience: forOnly(group("North")) });
    addItem(plan, "talk", { kind: "discussion", parentId: "north", audience: forOnly(group("North")) });
    return plan;
  };
  test("at once: its home moves, it is for everyone, and an entrance stays in the old folder", () => {
    const plan = withFolder();
    expect(sees(plan, "talk")).toEqual(["ada"]);
    // Its own audience and its folder's both name North: two that narrow, so its first people are named one by one.
    const next = done(plan, { kind: "item.openToOthers", itemId: "talk", parentId: null, at: null });
    expect(sees(next, "talk")).toEqual(["ada", "ben", "cas"]);
    expect(next.items.talk).toMatchObject({ parentId: null, audience: { to: "everyone", minus: [] }, variants: [] });
    expect(Object.values(next.entrances)).toMatchObject([{ itemId: "talk", folderId: "north" }]);
    expect(leaking(next)).toBe(0);
  });
  test("from a moment: its first people keep it, the rest wait until then", () => {
    const plan = withFolder();
    plan.items.talk = { ...(plan.items.talk as Plan["items"][string]), audience: { to: "everyone", minus: [] } };
    const next = done(plan, { kind: "item.openToOthers", itemId: "talk", parentId: null, at: "2026-12-01T09:00" });
    expect(next.items.talk?.variants).toEqual([{ targets: [group("North")], condition: null }]);
    expect(sees(next, "talk")).toEqual(["ada"]);
    expect(sees(next, "talk", Date.parse("2026-12-01T08:59:59Z"))).toEqual(["ada"]);
    expect(sees(next, "talk", Date.parse("2026-12-01T09:00:00Z"))).toEqual(["ada", "ben", "cas"]);
  });
  test("from a moment it opens to the rest whatever its own condition was, which its first people keep", () => {
    const plan = withFolder();
    const condition = { kind: "handedIn" as const, itemId: "page" };
    Object.assign(plan.items.talk as object, { audience: { to: "everyone", minus: [] }, condition });
    const next = done(plan, { kind: "item.openToOthers", itemId: "talk", parentId: null, at: "2026-12-01T09:00" });
    expect(next.items.talk?.variants).toEqual([{ targets: [group("North")], condition }]);
    expect(sees(next, "talk", Date.parse("2026-12-01T09:00:00Z"))).toEqual(["ben", "cas"]);
  });
  test("into a folder that its first people cannot enter is refused: they would lose it", () => {
    const plan = withFolder();
    addItem(plan, "south", { kind: "folder", audience: forOnly(group("South")) });
    expect(run(plan, { kind: "item.openToOthers", itemId: "talk", parentId: "south", at: null })).toBe("open.loses");
  });
  test("an extra entrance alone widens nothing that is sealed, and is a leak from a doorway", () => {
    const plan = withFolder();
    plan.items.talk = { ...(plan.items.talk as Plan["items"][string]), audience: { to: "everyone", minus: [] } };
    expect(entranceLeaks(plan, "talk", null, t0)).toBe(false);
    plan.items.north = { ...(plan.items.north as Plan["items"][string]), seals: false };
    expect(entranceLeaks(plan, "talk", null, t0)).toBe(true);
  });
});

describe("pages of groups", () => {
  test("one action makes a page a group and puts an item on all, shared", () => {
    const plan = course();
    addItem(plan, "page");
    const next = done(plan, { kind: "items.onPages", itemIds: ["page"], layerId: "Banks", how: "shared" });
    const pages = [...pagesOf(next).values()];
    expect(pages.map(({ title, audience }) => [title, audience])).toEqual([
      ["North", forOnly(group("North"))],
      ["South", forOnly(group("South"))],
    ]);
    expect(Object.values(next.entrances).map(({ folderId }) => folderId)).toEqual(pages.map(({ id }) => id));
    // Again makes no second page and no second entrance.
    const again = done(next, { kind: "items.onPages", itemIds: ["page"], layerId: "Banks", how: "shared" });
    expect([pagesOf(again).size, Object.keys(again.entrances).length]).toEqual([2, 2]);
  });
  test("copied: each group has its own, for itself alone", () => {
    const plan = course();
    addItem(plan, "page", { audience: forOnly(person("cas")) });
    const next = done(plan, { kind: "items.onPages", itemIds: ["page"], layerId: "Banks", how: "copied" });
    const copies = Object.values(next.items).filter(({ title, id }) => title === "page" && id !== "page");
    expect(copies.map(({ id }) => sees(next, id))).toEqual([["ada"], ["ben"]]);
  });
  test("a private layer's pages have a name that tells nothing, and are not announced", () => {
    const next = done(course(), { kind: "items.onPages", itemIds: [], layerId: "Pace", how: "shared" });
    expect([...pagesOf(next).values()]).toMatchObject([{ title: "Your page", announced: false, pageOf: "Slow" }]);
  });
});

describe("copies made into one split item", () => {
  const copies = () => {
    const plan = course();
    addItem(plan, "north", { kind: "folder", audience: forOnly(group("North")) });
    addItem(plan, "lab N", { kind: "assignment", parentId: "north", points: 10, dates: { due: "2026-11-20T09:00" } });
    addItem(plan, "lab S", {
      kind: "assignment",
      points: 10,
      audience: forOnly(group("South")),
      dates: { due: "2026-11-27T09:00" },
      condition: { kind: "from", moment: "2026-11-01T09:00" },
    });
    addItem(plan, "answers", { condition: { kind: "handedIn", itemId: "lab S" } });
    return plan;
  };
  const combine: NewCommand = {
    kind: "items.combine",
    itemIds: ["lab N", "lab S"],
    layerId: "Banks",
    between: "sealed",
  };
  test("one column, own dates and conditions, found where each copy was; others that asked for a copy ask for it", () => {
    const next = done(copies(), combine);
    const lab = next.items["lab N"];
    expect(next.items["lab S"]).toBeUndefined();
    expect(lab).toMatchObject({ parentId: null, split: { layerId: "Banks", between: "sealed" }, points: 10 });
    expect(lab?.audience.to).toEqual([group("North"), group("South")]);
    expect(sees(next, "lab N")).toEqual(["ada", "ben"]);
    expect(lookup(next).overridesOfItem.get("lab N")).toMatchObject([
      { target: group("South"), dates: { due: "2026-11-27T09:00" } },
    ]);
    expect(lab?.variants).toEqual([
      { targets: [group("South")], condition: { kind: "from", moment: "2026-11-01T09:00" } },
    ]);
    expect(next.items.answers?.condition).toEqual({ kind: "handedIn", itemId: "lab N" });
    expect(Object.values(next.entrances)).toMatchObject([{ itemId: "lab N", folderId: "north" }]);
  });
  test("marks and hand-ins of the copies are its own, and each post stands in its copy's thread", () => {
    const next = done(copies(), combine);
    const progress: Progress = {
      marks: [{ personId: "ben", itemId: "lab S", points: 7, excused: false, at: 1 }],
      handIns: [{ id: "h", personId: "ben", itemId: "lab S", at: 1 }],
      openings: [],
      groupMarks: [],
    };
    const found = progressLookup(progressThrough(next, progress));
    expect(found.mark("ben", "lab N")?.points).toBe(7);
    expect(sees(next, "answers", t0, progress)).toEqual(["ben"]);
    const lab = next.items["lab N"] as Plan["items"][string];
    expect(threadOfCopy(lab, "lab S", new Set())).toBe("South");
    expect(threadOfCopy(lab, "lab N", new Set(["North"]))).toBe("North");
  });
  test("is refused for other kinds, other points, two for one group, or for no whole group", () => {
    const plan = copies();
    plan.items["lab S"] = { ...(plan.items["lab S"] as Plan["items"][string]), points: 20 };
    expect(run(plan, combine)).toBe("combine.points");
    plan.items["lab S"] = {
      ...(plan.items["lab S"] as Plan["items"][string]),
      points: 10,
      audience: forOnly(group("North")),
    };
    expect(run(plan, combine)).toBe("combine.twice");
    plan.items["lab S"] = { ...(plan.items["lab S"] as Plan["items"][string]), audience: forOnly(person("cas")) };
    expect(run(plan, combine)).toBe("combine.group");
    expect(run(plan, { ...combine, itemIds: ["lab N", "answers"] } as NewCommand)).toBe("combine.kind");
  });
});

describe("settings of the course", () => {
  test("how items are split is decided once, and locked", () => {
    const plan = course();
    addLayer(plan, "Days", ["Mon"]);
    addItem(plan, "talk", { kind: "discussion", split: { layerId: "Days", between: "shared" } });
    addItem(plan, "other", { kind: "discussion" });
    const splitting = { layerId: "Banks", between: "sealed" as const, locked: true };
    const next = done(plan, { kind: "course.splitting", splitting });
    expect([next.items.talk?.split, next.items.other?.split]).toEqual([{ layerId: "Banks", between: "sealed" }, null]);
    const change = (between: "shared" | "sealed") =>
      run(next, { kind: "item.change", itemId: "other", fields: { split: { layerId: "Banks", between } } });
    expect(change("shared")).toBe("split.locked");
    expect(typeof change("sealed")).toBe("object");
    expect(run(plan, { kind: "course.splitting", splitting: { ...splitting, layerId: "Pace" } })).toBe("layer.private");
  });
  test("a class list goes by a named layer, never by a private one; telling words are kept once each", () => {
    const plan = course();
    const next = done(plan, { kind: "course.classList", classList: { to: "layer", layerId: "Banks" } });
    expect(next.course.classList).toEqual({ to: "layer", layerId: "Banks" });
    expect(run(plan, { kind: "course.classList", classList: { to: "layer", layerId: "Pace" } })).toBe("layer.private");
    expect(done(plan, { kind: "course.tellingWords", words: ["Slow", "slow", "weak"] }).course.tellingWords).toEqual([
      "slow",
      "weak",
    ]);
  });
});
