/** Some people become a group, with a page and a file that nobody else has. */
import { v7 } from "uuid";
import { describe, expect, test } from "vitest";
import { apply, type Command } from "../../commands.ts";
import { isRefusal } from "../../plan/command.ts";
import type { Plan } from "../../plan/types.ts";
import { reachAt } from "../../reach/reach.ts";
import { listBits } from "../../sets/bits.ts";
import { addLayer, addSection, addStudent, coursePlan, t0 } from "../../tests/fixture.ts";
import { type IntoGroup, intoGroup } from "./into-group.ts";

const plan = coursePlan();
addSection(plan, "D1");
addLayer(plan, "Banks", ["North"]);
for (const id of ["ada", "ben", "cy"]) addStudent(plan, id, ["D1"]);
const file = { id: v7(), name: "Plan.pdf", type: "application/pdf", size: 12 };

/** The course after it, and who can open the file there. */
function courseWith(from: Plan, into: IntoGroup) {
  const { commands, groupId } = intoGroup(from, into, v7);
  let next = from;
  for (const command of commands) {
    const taken = apply(next, { id: v7(), ...command } as Command, { now: t0 });
    if (isRefusal(taken)) throw new Error(taken.sentence);
    next = taken;
  }
  const item = Object.values(next.items).find((one) => one.file?.id === file.id);
  const reach = reachAt(next, undefined, t0);
  const readers = item ? listBits(reach.sees(item)).map((at) => reach.students[at]) : [];
  return { plan: next, groupId, folder: next.items[item?.parentId ?? ""], readers };
}
const layer = { name: "Quiet", rule: "any number" as const, isPrivate: true, withPage: true };

describe("a file for the people of a group", () => {
  test("stands on the page that is made for them", () => {
    const made = courseWith(plan, { layer, group: { name: "Corner" }, personIds: ["ada", "ben"], file });
    expect(made.folder).toMatchObject({ pageOf: made.groupId, seals: true });
    expect(made.readers).toEqual(["ada", "ben"]);
    // Whoever joins later finds it, and what is added stands on the same page.
    const more = { ...file, id: file.id };
    const joined = courseWith(made.plan, {
      layer: { id: Object.values(made.plan.layers).at(-1)?.id ?? "" },
      group: { id: made.groupId },
      personIds: ["cy"],
      file: more,
    });
    expect(joined.folder).toMatchObject({ pageOf: made.groupId });
    expect(joined.readers).toEqual(["ada", "ben", "cy"]);
  });
  test("is for the group alone where it has no page", () => {
    const made = courseWith(plan, {
      layer: { ...layer, withPage: false },
      group: { name: "Corner" },
      personIds: ["cy"],
      file,
    });
    expect(made.folder).toBeUndefined();
    expect(made.readers).toEqual(["cy"]);
  });
});
