/** Groups that were typed become one change. */
import fc from "fast-check";
import { expect, test } from "vitest";
import { apply, type Command } from "../../commands.ts";
import type { TypedGroup } from "../../line/typed-groups.ts";
import { isRefusal } from "../../plan/command.ts";
import { holdsAt, lookup } from "../../plan/lookup.ts";
import { addSection, addStudent, coursePlan, t0 } from "../../tests/fixture.ts";
import { listedTwice, takeTyped } from "./take-typed.ts";

const plan = coursePlan();
addSection(plan, "D1");
const people = ["ada", "ben", "cy", "dee"];
for (const id of people) addStudent(plan, id, ["D1"]);
const typedGroup = fc.record({
  personIds: fc.subarray(people),
  name: fc.constant(""),
  leads: fc.constant<string[]>([]),
  pattern: fc.constant<TypedGroup["pattern"]>([]),
});
const typed = fc
  .array(typedGroup, { minLength: 1, maxLength: 4 })
  .map((groups) =>
    groups.map((group, at) => ({ ...group, name: `Group ${at + 1}`, leads: group.personIds.slice(0, 1) })),
  );

/** The groups that list each of the people. */
const namesOf = (groups: { name: string; personIds: string[] }[], id: string) =>
  groups.filter(({ personIds }) => personIds.includes(id)).map(({ name }) => name);

test("everybody is in each of their groups, or in the first alone where one is the most", () => {
  fc.assert(
    fc.property(typed, fc.constantFrom("at most one" as const, "any number" as const), (groups, rule) => {
      const taken = takeTyped({ name: "Teams", rule }, groups, "Teams typed");
      const next = apply(plan, { ...taken, id: "018f6b3e-0000-7000-8000-000000000009" } as Command, { now: t0 });
      if (isRefusal(next)) throw new Error(next.sentence);
      expect(lookup(next).layers.find(({ name }) => name === "Teams")?.rule).toBe(rule);
      const most = rule === "any number" ? groups.length : 1;
      const held = (id: string) =>
        Object.values(next.placements)
          .filter((placement) => placement.personId === id && holdsAt(placement, t0))
          .map(({ groupId }) => next.groups[groupId]?.name)
          .sort();
      for (const id of people) expect(held(id)).toEqual(namesOf(groups, id).slice(0, most));
      const twice = people.filter((id) => namesOf(groups, id).length > most);
      expect(listedTwice(rule, groups).sort()).toEqual(twice);
    }),
  );
});
