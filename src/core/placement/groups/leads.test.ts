/** Leads chosen for a whole layer, and one by one. */
import { describe, expect, test } from "vitest";
import { apply, sayCommand } from "../../commands.ts";
import { isRefusal } from "../../plan/command.ts";
import { addLayer, addSection, addStudent, coursePlan, t0 } from "../../tests/fixture.ts";
import { leadsOfLayer } from "./leads.ts";

function course() {
  const plan = coursePlan();
  addSection(plan, "D1");
  addLayer(plan, "Banks", ["North", "South", "Empty"]);
  for (const [id, bank] of [
    ["ada", "North"],
    ["ben", "North"],
    ["cy", "South"],
  ] as const)
    addStudent(plan, id, ["D1"], [bank]);
  return plan;
}
const command = (leads: { groupId: string; personIds: string[] }[]) => ({
  kind: "groups.leads" as const,
  id: "018f6b3e-0000-7000-8000-000000000001",
  leads,
});

describe("leads of a layer", () => {
  test("each group with students has one of its own; an empty one is left as it is; the same seed chooses the same", () => {
    const plan = course();
    for (const how of ["first by name", "at random"] as const) {
      const leads = leadsOfLayer(plan, "Banks", how, { t: t0, seed: 7 });
      expect(leads.map(({ groupId }) => groupId)).toEqual(["North", "South"]);
      expect(["ada", "ben"]).toContain(leads[0]?.personIds[0]);
      expect(leads[1]?.personIds).toEqual(["cy"]);
      expect(leadsOfLayer(plan, "Banks", how, { t: t0, seed: 7 })).toEqual(leads);
    }
    const seen = new Set(
      Array.from(
        { length: 40 },
        (_, seed) => leadsOfLayer(plan, "Banks", "at random", { t: t0, seed })[0]?.personIds[0],
      ),
    );
    expect(seen).toEqual(new Set(["ada", "ben"]));
  });
  test("what holds already is not said again, and nobody takes them away", () => {
    const plan = course();
    const [first, second] = leadsOfLayer(plan, "Banks", "first by name", { t: t0, seed: 1 });
    const next = apply(plan, command([first as never, second as never]), { now: t0 });
    if (isRefusal(next)) throw new Error(next.sentence);
    expect(next.groups.South?.leads).toEqual(["cy"]);
    expect(leadsOfLayer(next, "Banks", "first by name", { t: t0, seed: 1 })).toEqual([]);
    expect(leadsOfLayer(next, "Banks", "nobody", { t: t0, seed: 1 })).toHaveLength(2);
    expect(sayCommand(plan, command([{ groupId: "South", personIds: ["cy"] }]))).toMatch(/leads South$/);
    expect(sayCommand(plan, command([{ groupId: "South", personIds: [] }]))).toBe("Nobody leads South");
  });
  test("a group or a person that is gone is refused", () => {
    const refused = (groupId: string, id: string) =>
      apply(course(), command([{ groupId, personIds: [id] }]), { now: t0 }) as { code: string };
    expect(refused("Gone", "ada").code).toBe("group.gone");
    expect(refused("North", "gone").code).toBe("person.gone");
  });
});
