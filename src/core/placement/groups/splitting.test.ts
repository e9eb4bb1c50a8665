import { describe, expect, test } from "vitest";
import type { Plan } from "../../plan/types.ts";
import { addSection, addStudent, group, t0 } from "../../tests/fixture.ts";
import { course, members, refusal, run } from "../../tests/three-groups.ts";

describe("splitting", () => {
  const parts = [{ groupId: "new", name: "South 2", personIds: ["di", "eve"] }];
  test("those named go, the others stay, and nobody gains or loses an item or date", () => {
    const after = run(course(), { kind: "group.split", groupId: "South", parts });
    expect(members(after, "Banks")).toEqual({ North: ["ada", "ben"], South: ["cy"], "South 2": ["di"], East: ["eve"] });
    expect(after.items.map?.audience.to).toEqual([group("South"), group("new")]);
    const own = Object.values(after.overrides).filter(({ target }) => target.id === "new" || target.id === "South");
    expect(own.map(({ dates }) => dates.minutes)).toEqual([30, 30]);
    expect(Object.values(after.allowances)).toHaveLength(2);
  });
  test("students read a number, not what the parts were made by", () => {
    const secret = [{ groupId: "new", name: "South Remedial", personIds: ["di"] }];
    const after = run(course(), { kind: "group.split", groupId: "South", parts: secret });
    expect(after.groups.new).toMatchObject({ name: "South Remedial", label: "South 2" });
  });
  describe("in a layer that follows sections", () => {
    const following = () => {
      const plan = course();
      addSection(plan, "D2");
      const rule = { sectionIds: ["D1", "D2"], attribute: null, groupId: "South" };
      plan.layers.Banks = { ...(plan.layers.Banks as Plan["layers"][string]), following: [rule] };
      for (const [person, level] of [
        ["cy", "fast"],
        ["di", "slow"],
      ] as const)
        plan.people[person] = { ...(plan.people[person] as Plan["people"][string]), attributes: { level } };
      return plan;
    };
    const slow = [{ groupId: "new", name: "South slow", personIds: ["di"], value: "slow" }];
    const late = (plan: Plan, sections: string[], level: string) => {
      addStudent(plan, "late", sections);
      plan.people.late = { ...(plan.people.late as Plan["people"][string]), attributes: { level } };
      return plan;
    };
    const again = (plan: Plan) => run(plan, { kind: "layer.change", layerId: "Banks", fields: {} }, t0 + 1000);
    const groupsOf = (plan: Plan, personId: string) =>
      Object.entries(members(plan, "Banks", t0 + 2000)).flatMap(([name, ids]) =>
        ids.includes(personId) ? [name] : [],
      );
    test("by a column with rules, late arrivals land in their part, and nobody is held", () => {
      const rules = { by: "column" as const, column: "level" };
      const after = run(following(), { kind: "group.split", groupId: "South", parts: slow, rules });
      expect(after.layers.Banks?.following?.map(({ groupId }) => groupId)).toEqual(["new", "South"]);
      expect(Object.values(after.placements).some(({ held }) => held)).toBe(false);
      expect(groupsOf(again(late(structuredClone(after), ["D2"], "Slow")), "late")).toEqual(["South slow"]);
      expect(groupsOf(again(late(structuredClone(after), ["D2"], "other")), "late")).toEqual(["South"]);
    });
    test("by section with rules, those of the section land in its part", () => {
      const parts = [{ groupId: "new", name: "South D2", personIds: [], value: "D2" }];
      const after = run(following(), { kind: "group.split", groupId: "South", parts, rules: { by: "section" } });
      expect(groupsOf(again(late(structuredClone(after), ["D2"], "")), "late")).toEqual(["South D2"]);
      expect(groupsOf(again(late(structuredClone(after), ["D1"], "")), "late")).toEqual(["South"]);
    });
    test("without rules they are held where they are, and late arrivals land in the first part", () => {
      const after = run(following(), { kind: "group.split", groupId: "South", parts: slow });
      expect(
        Object.values(after.placements)
          .filter(({ held }) => held)
          .map(({ personId }) => personId),
      ).toEqual(["di"]);
      expect(groupsOf(again(late(structuredClone(after), ["D2"], "slow")), "late")).toEqual(["South"]);
    });
    test("rules that cannot be written are refused", () => {
      const plan = following();
      const rule = {
        sectionIds: [],
        attribute: { column: "year", test: "is" as const, values: ["1"] },
        groupId: "South",
      };
      plan.layers.Banks = { ...(plan.layers.Banks as Plan["layers"][string]), following: [rule] };
      const rules = { by: "column" as const, column: "level" };
      expect(refusal(plan, { kind: "group.split", groupId: "South", parts: slow, rules })).toBe("split.rules");
      expect(refusal(plan, { kind: "group.split", groupId: "North", parts: slow, rules })).toBe("split.rules");
    });
  });
  test("a name that is taken is refused", () => {
    const taken = [{ groupId: "new", name: "north", personIds: [] }];
    expect(refusal(course(), { kind: "group.split", groupId: "South", parts: taken })).toBe("group.twin");
  });
});
