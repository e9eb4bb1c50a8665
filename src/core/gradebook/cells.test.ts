import { describe, expect, test } from "vitest";
import { noProgress, type Progress } from "../plan/progress.ts";
import type { Item, Plan } from "../plan/types.ts";
import { reachAt } from "../reach/reach.ts";
import { addItem, group, t0 } from "../tests/fixture.ts";
import { course, due, handIn, hour, mark } from "../tests/marked-course.ts";
import { cellsOf, columnsOf, sayLate } from "./cells.ts";
import { sheetOf } from "./sheet.ts";

function state(personId: string, itemId: string, progress: Partial<Progress> = {}, plan = course(), t = t0) {
  return cellsOf(reachAt(plan, { ...noProgress, ...progress }, t)).cell(plan.items[itemId] as never, personId);
}

describe("cells: the first state that fits", () => {
  test.each([
    ["not theirs", "ben", "talk", { marks: [mark("ben", 4, false, "talk")] }],
    ["excused", "ada", "lab", { marks: [mark("ada", null, true)], handIns: [handIn("ada", due)] }],
    ["marked", "ada", "lab", { marks: [mark("ada", 0)] }],
    ["handed in", "ada", "lab", { handIns: [handIn("ada", due)] }],
    ["missing", "ada", "lab", {}],
    ["not yet open", "ada", "later", {}],
    ["waiting", "ada", "talk", {}],
  ] as const)("%s", (wanted, personId, itemId, progress) => {
    expect(state(personId, itemId, progress as unknown as Partial<Progress>)?.state).toBe(wanted);
  });
  test("due is inclusive, and late is measured from the student's own due", () => {
    expect(state("ada", "lab", { handIns: [handIn("ada", due)] })?.lateBy).toBe(0);
    expect(state("ada", "lab", { handIns: [handIn("ada", due + 1)] })?.lateBy).toBe(1);
    const plan = course();
    plan.overrides.o = {
      id: "o",
      itemId: "lab",
      target: group("North"),
      dates: { due: "2026-11-21T17:00" },
    };
    expect(state("ada", "lab", { handIns: [handIn("ada", due + hour)] }, plan)?.lateBy).toBe(0);
    expect(state("ada", "lab", {}, course(), due)?.state).toBe("waiting");
  });
  test("the latest hand-in counts, and a mark does not take the lateness away", () => {
    expect(
      state("ada", "lab", {
        handIns: [handIn("ada", due - 1), handIn("ada", due + 2 * hour)],
        marks: [mark("ada", 12)],
      }),
    ).toMatchObject({
      state: "marked",
      lateBy: 2 * hour,
    });
  });
  test("missing needs that it was open to the student up to the due", () => {
    const plan = course();
    Object.assign(plan.items.lab as object, {
      condition: { kind: "from", moment: "2026-11-21T09:00" },
    });
    expect(state("ada", "lab", {}, plan)?.state).toBe("waiting");
  });
  test("without a due, closes serves, and is exclusive: at closes it is missing, at the due it is not yet", () => {
    const plan = course();
    Object.assign(plan.items.lab as object, { dates: { closes: "2026-11-25T10:00" } });
    expect(state("ada", "lab", {}, plan)?.state).toBe("missing");
    Object.assign(plan.items.lab as object, { dates: { due: "2026-11-25T10:00" } });
    expect(state("ada", "lab", {}, plan)?.state).toBe("waiting");
  });
  test.each<[string, (plan: Plan) => void, string]>([
    [
      "its condition held until March, and it was due later",
      ({ items }) => Object.assign(items.lab as object, { condition: { kind: "before", moment: "2026-11-01T09:00" } }),
      "missing",
    ],
    [
      "its folder was open for a while and closed before the due",
      (plan) => {
        addItem(plan, "folder", { kind: "folder", readableAfterClose: false });
        Object.assign(plan.items.folder as object, {
          dates: { opens: "2026-10-05T09:00", closes: "2026-10-06T09:00" },
        });
        Object.assign(plan.items.lab as object, { parentId: "folder" });
      },
      "missing",
    ],
    [
      "the folder opened at the very due",
      (plan) => {
        addItem(plan, "folder", { kind: "folder", dates: { opens: "2026-11-20T17:00" } });
        Object.assign(plan.items.lab as object, { parentId: "folder" });
      },
      "missing",
    ],
    [
      "the folder opened a minute after the due",
      (plan) => {
        addItem(plan, "folder", { kind: "folder", dates: { opens: "2026-11-20T17:01" } });
        Object.assign(plan.items.lab as object, { parentId: "folder" });
      },
      "waiting",
    ],
    [
      "they were in the group that it was released to, and left before the due",
      (plan) => {
        Object.assign(plan.items.lab as object, { condition: { kind: "in", targets: [group("South Bank")] } });
        Object.assign(plan.placements["ada in North"] as object, { groupId: "South Bank", until: 1000 });
      },
      "missing",
    ],
    [
      "it was never open to them",
      ({ items }) => Object.assign(items.lab as object, { condition: { kind: "in", targets: [group("South Bank")] } }),
      "not yet open",
    ],
  ])("asks any moment up to the due: %s", (_, change, wanted) => {
    const plan = course();
    change(plan);
    expect(state("ada", "lab", {}, plan)?.state).toBe(wanted);
    const sheet = sheetOf(reachAt(plan, noProgress, t0));
    expect(sheet.cell(plan.items.lab as Item, "ada")?.state).toBe(wanted);
  });
  test("columns are the items that carry points, in the order of the outline", () => {
    expect(columnsOf(course()).map(({ id }) => id)).toEqual(["lab", "talk", "later"]);
    expect([sayLate(90_000), sayLate(5 * hour), sayLate(73 * hour)]).toEqual(["2 min", "5 h", "3 d"]);
  });
});
