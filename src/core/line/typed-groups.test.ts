/** Groups as people have them: names, names with people, rows of a spreadsheet; what fits nobody is left over. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { addSection, addStudent, coursePlan } from "../tests/fixture.ts";
import { readTypedGroups } from "./typed-groups.ts";

function course() {
  const plan = coursePlan();
  addSection(plan, "D1");
  for (const [id, givenName, familyName] of [
    ["ada", "Ada", "Lovelace"],
    ["ben", "Ben", "Ode"],
    ["cy", "Cy", "Reed"],
  ] as const) {
    addStudent(plan, id, ["D1"]);
    Object.assign(plan.people[id] as object, {
      givenName,
      familyName,
      sourcedId: `id-${id}`,
      email: `${id}@x.example`,
    });
  }
  return plan;
}
const plan = course();
const names = { plan, personIds: ["ada", "ben", "cy"] };
const read = (text: string) => readTypedGroups(names, text);

describe("typed groups", () => {
  test("a name a line, and names with people", () => {
    expect(read("Reeds\nMarsh: Ada Lovelace (lead), id-ben\n\n  Bank:  \n").groups).toEqual([
      { name: "Reeds", personIds: [], leads: [], pattern: [] },
      { name: "Marsh", personIds: ["ada", "ben"], leads: ["ada"], pattern: [] },
      { name: "Bank", personIds: [], leads: [], pattern: [] },
    ]);
    expect(read("Bank: Ode, Ben; Reed, Cy (leader)").groups[0]).toMatchObject({
      personIds: ["ben", "cy"],
      leads: ["cy"],
    });
    expect(read("Marsh: cy@x.example*").groups[0]).toMatchObject({ personIds: ["cy"], leads: ["cy"] });
  });
  test("when it meets stands behind the name; other brackets belong to the name", () => {
    const [morning, north] = read("Morning (Mon Wed 09:00-10:15): id-ada\nWeirs (north): id-ben").groups;
    expect(morning).toMatchObject({ name: "Morning", personIds: ["ada"] });
    expect(morning?.pattern.map(({ weekday, start, end }) => [weekday, start, end])).toEqual([
      [1, "09:00", "10:15"],
      [3, "09:00", "10:15"],
    ]);
    expect(north).toMatchObject({ name: "Weirs (north)", personIds: ["ben"], pattern: [] });
  });
  test("whoever fits nobody is left over, and the others are not lost", () => {
    const { groups, unclear } = read("Marsh: Nobody Here, id-ben");
    expect(groups).toEqual([{ name: "Marsh", personIds: ["ben"], leads: [], pattern: [] }]);
    expect(unclear.map(({ text }) => text)).toEqual(["Nobody Here"]);
  });
  test("rows of a spreadsheet read alike in any order of columns, with headings or without", () => {
    const rows = [
      { Group: "Reeds", Student: "id-ada", Lead: "lead" },
      { Group: "Reeds", Student: "Ode, Ben", Lead: "" },
      { Group: "Marsh", Student: "cy@x.example", Lead: "x" },
    ];
    const wanted = [
      { name: "Reeds", personIds: ["ada", "ben"], leads: ["ada"], pattern: [] },
      { name: "Marsh", personIds: ["cy"], leads: ["cy"], pattern: [] },
    ];
    fc.assert(
      fc.property(
        fc.shuffledSubarray(["Group", "Student", "Lead"] as const, { minLength: 3 }),
        fc.boolean(),
        (order, headed) => {
          const lines = rows.map((row) => order.map((column) => row[column]).join("\t"));
          const { groups, unclear } = read([...(headed ? [order.join("\t")] : []), ...lines].join("\n"));
          expect(groups).toEqual(wanted);
          expect(unclear).toEqual([]);
        },
      ),
    );
  });
});
