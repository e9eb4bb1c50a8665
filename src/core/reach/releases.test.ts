import { expect, test } from "vitest";
import { noProgress } from "../plan/progress.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, group, t0 } from "../tests/fixture.ts";
import { reachAt } from "./reach.ts";
import { asksProgress, releasesOf } from "./releases.ts";

test("when each group gets an item, as far as the clock decides", () => {
  const plan = coursePlan();
  addSection(plan, "D1");
  addLayer(plan, "Banks", ["North", "South", "West"]);
  addStudent(plan, "ada", ["D1"], ["North"]);
  addStudent(plan, "eli", ["D1"], ["North"]);
  addStudent(plan, "ben", ["D1"], ["South"]);
  const item = addItem(plan, "page", {
    audience: { to: [group("North"), group("South")], minus: [] },
    condition: {
      kind: "allOf",
      of: [
        { kind: "from", moment: "2026-12-01T09:00" },
        { kind: "opened", itemId: "page" },
      ],
    },
    variants: [{ targets: [group("South")], condition: null }],
  });
  plan.overrides.o = {
    id: "o",
    itemId: "page",
    target: { kind: "person", id: "eli" },
    dates: { opens: "2026-12-08T09:00" },
  };
  const reach = reachAt(plan, noProgress, t0);
  const sets = ["North", "South", "West"].map((id) => reach.members(group(id)));
  const start = Date.parse("2026-09-27T23:00:00Z");
  expect(releasesOf(reach, item, sets)).toEqual([
    {
      first: Date.parse("2026-12-01T09:00:00Z"),
      last: Date.parse("2026-12-08T09:00:00Z"),
      members: 2,
      meant: 2,
      reached: 2,
    },
    { first: start, last: start, members: 1, meant: 1, reached: 1 },
    { first: null, last: null, members: 0, meant: 0, reached: 0 },
  ]);
  expect(asksProgress(item)).toBe(true);
});

test("a group that its folder is not for never gets it, whatever the item itself says", () => {
  const plan = coursePlan();
  addSection(plan, "D1");
  addLayer(plan, "Banks", ["North", "South"]);
  addStudent(plan, "ada", ["D1"], ["North"]);
  addStudent(plan, "ben", ["D1"], ["South"]);
  addItem(plan, "folder", { kind: "folder", audience: { to: [group("North")], minus: [] } });
  const item = addItem(plan, "page", { parentId: "folder" });
  const reach = reachAt(plan, noProgress, t0);
  const sets = ["North", "South"].map((id) => reach.members(group(id)));
  expect(releasesOf(reach, item, sets).map(({ meant, reached }) => [meant, reached])).toEqual([
    [1, 1],
    [0, 0],
  ]);
});
