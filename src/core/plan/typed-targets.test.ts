/** Whom people mean by what they type or paste. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { addLayer, addSection, addStudent, coursePlan } from "../tests/fixture.ts";
import { readTargets } from "./typed-targets.ts";
import type { Plan, Target } from "./types.ts";

function course(): Plan {
  const plan = coursePlan();
  addSection(plan, "D1");
  addSection(plan, "EV");
  addLayer(plan, "Banks", ["North bank", "South bank"]);
  addLayer(plan, "Teams", ["EV"]);
  const names: [string, string, string][] = [
    ["ada", "Ada", "Lovelace"],
    ["ben", "Ben", "Ode"],
    ["bea", "Bea", "Ode"],
    ["zoe", "Zoë", "van der Berg"],
  ];
  names.forEach(([id, givenName, familyName], at) => {
    addStudent(plan, id, ["D1"]);
    Object.assign(plan.people[id] as object, {
      givenName,
      familyName,
      sourcedId: `0024003${at}`,
      username: id,
      email: `${id}@weave.example`,
    });
  });
  return plan;
}
const plan = course();
const names = { plan, personIds: Object.keys(plan.people) };
const say = ({ kind, id }: Target) => `${kind} ${id}`;
const read = (text: string) => {
  const { targets, unclear } = readTargets(names, text);
  return [targets.map(say), unclear.map(({ text: part, likely }) => [part, likely.map(say)])];
};

describe("what is typed or pasted", () => {
  test("names either way round, ids with their zeros, logins and addresses, each once", () => {
    const everyWay = ["Ada Lovelace", "Lovelace, Ada", "lovelace ada", "00240030", "ADA", "Ada <ada@weave.example>"];
    for (const text of everyWay) expect([text, ...read(text)]).toEqual([text, ["person ada"], []]);
    expect(read(everyWay.join("\n"))).toEqual([["person ada"], []]);
    expect(read("zoe\u0308 van der berg")).toEqual([["person zoe"], []]);
  });
  test("several on a line, with commas, semicolons or only blanks between them", () => {
    expect(read("Lovelace, Ada, Ode, Ben; 00240032")).toEqual([["person ada", "person ben", "person bea"], []]);
    expect(read("00240030 00240031")).toEqual([["person ada", "person ben"], []]);
    expect(read("North bank, D1")).toEqual([["group North bank", "section D1"], []]);
  });
  test("rows of a spreadsheet are whom they are of, not the section that stands beside", () => {
    expect(read("00240030\tLovelace\tAda\tD1\r\n00240031\tOde\tBen\tD1\r\n")).toEqual([
      ["person ada", "person ben"],
      [],
    ]);
  });
  test("exact comes before partial; what fits several or nobody is told with the likely ones", () => {
    expect(read("lovel")).toEqual([["person ada"], []]);
    expect(read("Ode")).toEqual([[], [["Ode", ["person ben", "person bea"]]]]);
    expect(read("EV")).toEqual([[], [["EV", ["group EV", "section EV"]]]]);
    expect(read("Bert Ode")).toEqual([[], [["Bert Ode", ["person ben", "person bea"]]]]);
    expect(read("Nobody Here")).toEqual([[], [["Nobody Here", []]]]);
  });
  test("any of their texts, in any order and with any space and separators, means them all", () => {
    const textsOf = (id: string) => {
      const { givenName, familyName, sourcedId, username, email } = plan.people[id] as Plan["people"][string];
      return [`${givenName} ${familyName}`, `${familyName}, ${givenName}`, sourcedId, username, email].filter(
        (text): text is string => text !== null,
      );
    };
    const one = fc
      .constantFrom(...names.personIds)
      .chain((id) => fc.tuple(fc.constant(id), fc.constantFrom(...textsOf(id))));
    const separator = fc.constantFrom("\n", "\r\n", "; ", " , ", ",", "\n\n");
    fc.assert(
      fc.property(fc.array(one, { minLength: 1, maxLength: 6 }), separator, (some, between) => {
        const { targets, unclear } = readTargets(names, some.map(([, text]) => text).join(between));
        expect(unclear).toEqual([]);
        expect(targets.map(({ id }) => id)).toEqual([...new Set(some.map(([id]) => id))]);
      }),
      { numRuns: 300 },
    );
  });
});
