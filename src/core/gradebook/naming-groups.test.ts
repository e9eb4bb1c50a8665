import { expect, test } from "vitest";
import { addLayer, coursePlan } from "../tests/fixture.ts";
import { filtersNaming } from "./naming-groups.ts";

test("filters that ask for a group are found, wherever in them it stands; what is no filter asks for none", () => {
  const plan = coursePlan();
  addLayer(plan, "Banks", ["North", "South"]);
  const filters = [
    { name: "South late", text: 'group:south late (status:missing or group:"North")' },
    { name: "Not North", text: "not group:North" },
    { name: "All", text: "late" },
    { name: "Broken", text: "group:" },
  ];
  expect(filtersNaming(plan, ["South"], filters)).toEqual(["South late"]);
  expect(filtersNaming(plan, ["North"], filters)).toEqual(["South late", "Not North"]);
});
