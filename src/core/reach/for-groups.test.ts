import { expect, test } from "vitest";
import { noProgress } from "../plan/progress.ts";
import {
  addItem,
  addLayer,
  addSection,
  addStudent,
  coursePlan,
  forOnly,
  group,
  person,
  section,
  t0,
} from "../tests/fixture.ts";
import { isForGroup } from "./for-groups.ts";
import { reachAt } from "./reach.ts";

test("an item is for the groups with a student whom it is meant for, and for empty ones that it names", () => {
  const plan = coursePlan();
  addSection(plan, "D1");
  addSection(plan, "E");
  addLayer(plan, "Banks", ["North", "South", "West", "East"]);
  addStudent(plan, "ada", ["D1"], ["North"]);
  addStudent(plan, "ben", ["E"], ["South"]);
  plan.sets.edges = { id: "edges", name: "Edges", groupIds: ["South", "East"] };
  const all = { kind: "folder" as const };
  addItem(plan, "all", { kind: "discussion" });
  addItem(plan, "day", { kind: "discussion", audience: forOnly(section("D1")) });
  addItem(plan, "ada's", { kind: "discussion", audience: forOnly(person("ada")) });
  addItem(plan, "edge", { kind: "discussion", audience: forOnly({ kind: "set", id: "edges" }) });
  addItem(plan, "folder", { ...all, audience: forOnly(group("North"), group("West")) });
  addItem(plan, "within", { kind: "discussion", parentId: "folder" });
  addItem(plan, "but", { kind: "discussion", audience: { to: "everyone", minus: [group("East"), group("South")] } });
  const reach = reachAt(plan, noProgress, t0);
  const names = (id: string) =>
    ["North", "South", "West", "East"].filter((name) => isForGroup(reach, plan.items[id] as never, name));
  expect(names("all")).toEqual(["North", "South", "West", "East"]);
  expect(names("day")).toEqual(["North"]);
  expect(names("ada's")).toEqual(["North"]);
  expect(names("edge")).toEqual(["South", "East"]);
  expect(names("within")).toEqual(["North", "West"]);
  expect(names("but")).toEqual(["North", "West"]);
});
