/** Soft wishes, names and leads, held to semantics.md section 3 and to slow answers. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import type { Forming } from "../../plan/forming.ts";
import { formedOf, groupsOf, ids, inputOf } from "../../tests/forming.ts";
import { lowerBound, roundingLoss } from "./bound.ts";
import { totalOf } from "./cost.ts";
import { type Formed, type Forward, form, formNow, scoreOf } from "./form.ts";
import { GroupsSoFar } from "./groups-so-far.ts";
import { type FormingInput, numberIn } from "./input.ts";
import { instancesOf } from "./instances.ts";
import { chooseLeads, groupNames } from "./names.ts";
import { chance } from "./random.ts";

/** Random courses to form: two scopes, a score, a year, partners. */
const someInput = fc
  .record({
    size: fc.integer({ min: 2, max: 5 }),
    first: fc.integer({ min: 4, max: 14 }),
    second: fc.integer({ min: 0, max: 9 }),
    scores: fc.array(fc.option(fc.integer({ min: 40, max: 99 }), { freq: 8 }), { minLength: 23, maxLength: 23 }),
    years: fc.array(fc.constantFrom("1", "2", "3", ""), { minLength: 23, maxLength: 23 }),
    pairs: fc.array(fc.tuple(fc.integer({ min: 0, max: 22 }), fc.integer({ min: 0, max: 22 })), { maxLength: 12 }),
    apart: fc.array(fc.uniqueArray(fc.integer({ min: 0, max: 13 }), { minLength: 2, maxLength: 2 }), { maxLength: 3 }),
  })
  .map(({ size, first, second, scores, years, pairs, apart }) => {
    const people = ids(first + second);
    const there = new Set(people);
    const name = (at: number) => `p${at}`;
    const soft: Forming["soft"] = [
      { kind: "spread number", column: "Score", weight: 2 },
      { kind: "spread category", column: "Year", weight: 1 },
      { kind: "new partners", layerIds: ["L"], weight: 1 },
      { kind: "gather", column: "Score", weight: 0.5 },
      { kind: "gather", column: "Year", weight: 0.5 },
    ];
    const own = pairs.filter(([a, b]) => a !== b).map(([a, b]): [string, string] => [name(a), name(b)]);
    const unique = [...new Map(own.map((pair) => [[...pair].sort().join(), pair])).values()];
    return inputOf(
      { into: { by: "size", number: size }, soft, apart: apart.map((set) => set.map(name)) },
      second > 0 ? [people.slice(0, first), people.slice(first)] : [people],
      {
        partners: [[], [], unique.filter(([a, b]) => there.has(a) && there.has(b)), [], []],
        values: {
          Score: Object.fromEntries(people.map((id, at) => [id, scores[at] === null ? "" : String(scores[at])])),
          Year: Object.fromEntries(people.map((id, at) => [id, years[at] ?? ""])),
        },
      },
    );
  });

/** The score as the page says it, from the words of the rule and nothing else. */
function slowScore(input: FormingInput, formed: Formed): number[] {
  return input.forming.soft.map((wish, number) => {
    let [cost, worst] = [0, 0];
    for (const [at, { people }] of input.scopes.entries()) {
      const groups = formed.scopes[at]?.groups.map((group) => group.people) ?? [];
      const pairs = (list: readonly string[]) =>
        list.flatMap((a, from) => list.slice(from + 1).map((b) => [a, b] as const));
      if (wish.kind === "new partners") {
        const were = (a: string, b: string) =>
          (input.partners[number] ?? []).some(
            ([one, other]) => (one === a && other === b) || (one === b && other === a),
          );
        cost += groups.flatMap(pairs).filter(([a, b]) => were(a, b)).length;
        worst += pairs(people).filter(([a, b]) => were(a, b)).length;
        continue;
      }
      const text = (id: string) => input.values[wish.column]?.[id] ?? "";
      const filled = people
        .map(text)
        .map(numberIn)
        .filter((value) => value !== null);
      const mean = filled.reduce((sum, value) => sum + value, 0) / Math.max(1, filled.length);
      const from = (id: string) => (numberIn(text(id)) ?? mean) - mean;
      const kinds = [...new Set(people.map(text))];
      if (wish.kind === "spread number") {
        for (const group of groups) cost += Math.abs(group.reduce((sum, id) => sum + from(id), 0));
        worst += people.reduce((sum, id) => sum + Math.abs(from(id)), 0);
      } else if (wish.kind === "spread category") {
        for (const kind of kinds) {
          const share = people.filter((id) => text(id) === kind).length / people.length;
          for (const group of groups)
            cost += Math.abs(group.filter((id) => text(id) === kind).length - group.length * share);
          worst += people.reduce((sum, id) => sum + Math.abs(Number(text(id) === kind) - share), 0);
        }
      } else {
        const ordered = filled.length >= people.length * 0.9;
        const apart = (a: string, b: string) => (ordered ? Math.abs(from(a) - from(b)) : Number(text(a) !== text(b)));
        cost += groups.flatMap(pairs).reduce((sum, [a, b]) => sum + apart(a, b), 0);
        worst += pairs(people).reduce((sum, [a, b]) => sum + apart(a, b), 0) / groups.length;
      }
    }
    return worst > 0 ? (wish.weight * cost) / worst : 0;
  });
}

describe("soft wishes", () => {
  test("are scored as their words say, kept by no hard wish broken, and the same seed gives the same groups", () => {
    fc.assert(
      fc.property(someInput, fc.integer({ min: 0, max: 1000 }), (input, seed) => {
        const made = formNow(input, seed);
        if ("unformed" in made) return;
        const { wishes, total } = scoreOf(input, made);
        for (const [at, slow] of slowScore(input, made).entries()) expect(wishes[at]).toBeCloseTo(slow, 8);
        for (const [at, instance] of instancesOf(input).entries()) {
          const groups = made.scopes[at]?.groups ?? [];
          const bin = instance.people.map((id) => groups.findIndex(({ people }) => people.includes(id)));
          const scores = instance.people.map((id) => numberIn(input.values.Score?.[id] ?? ""));
          expect(lowerBound(instance, [scores])).toBeLessThanOrEqual(totalOf(instance, Int32Array.from(bin)) + 1e-9);
          for (const { people } of groups)
            for (const set of input.forming.apart)
              expect(set.filter((id) => people.includes(id)).length).toBeLessThan(2);
        }
        expect(formNow(input, seed)).toEqual(made);
        expect(total).toBeLessThan(Number.POSITIVE_INFINITY);
      }),
      { numRuns: 15 },
    );
  });
  test("what a step changes is what the totals before and after say", () => {
    fc.assert(
      fc.property(someInput, fc.integer({ min: 0, max: 1e6 }), (input, seed) => {
        const random = chance(seed);
        const [instance] = instancesOf(input) as [ReturnType<typeof instancesOf>[0]];
        const bin = Int32Array.from(instance.people, () => random.below(instance.bins));
        const current = new GroupsSoFar(instance, bin);
        for (let step = 0; step < 12; step++) {
          const [one, other] = [random.below(instance.people.length), random.below(instance.people.length)];
          if (current.bin[one] !== current.bin[other]) {
            const then = totalOf(instance, current.bin);
            const swapped = current.swapChange(one, other);
            current.swap(one, other);
            expect(totalOf(instance, current.bin) - then).toBeCloseTo(swapped, 8);
          }
          const before = totalOf(instance, current.bin);
          const change = current.shift(random.below(instance.people.length), random.below(instance.bins));
          expect(totalOf(instance, current.bin) - before).toBeCloseTo(change, 8);
        }
      }),
    );
  });
  test("means come alike, years are spread, partners are new", () => {
    const people = ids(16);
    const formed = formedOf(
      inputOf(
        {
          into: { by: "groups", number: 4 },
          soft: [
            { kind: "spread number", column: "Score", weight: 1 },
            { kind: "spread category", column: "Year", weight: 1 },
            { kind: "new partners", layerIds: ["L"], weight: 1 },
          ],
        },
        [people],
        {
          values: {
            Score: Object.fromEntries(people.map((id, at) => [id, String(50 + at)])),
            Year: Object.fromEntries(people.map((id, at) => [id, String(at % 4)])),
          },
          partners: [[], [], people.slice(1).map((id, at): [string, string] => [people[at] as string, id])],
        },
      ),
    );
    for (const group of groupsOf(formed)[0] ?? []) {
      const numbers = group.map((id) => Number(id.slice(1)));
      expect(numbers.reduce((sum, at) => sum + at, 0)).toBe(30);
      expect(new Set(numbers.map((at) => at % 4)).size).toBe(4);
      for (const at of numbers) expect(numbers).not.toContain(at + 1);
    }
  });
  test("gathering makes levels", () => {
    const people = ids(12);
    const values = { Score: Object.fromEntries(people.map((id, at) => [id, String(at * at)])) };
    const soft: Forming["soft"] = [{ kind: "gather", column: "Score", weight: 1 }];
    const formed = formedOf(inputOf({ into: { by: "groups", number: 3 }, soft }, [people], { values }));
    const sets = groupsOf(formed)[0]?.map((group) => group.map((id) => Number(id.slice(1))).sort((a, b) => a - b));
    expect(sets?.sort((a, b) => (a[0] as number) - (b[0] as number))).toEqual([
      [0, 1, 2, 3],
      [4, 5, 6, 7],
      [8, 9, 10, 11],
    ]);
  });
  test("the best so far is there between slices of work", () => {
    const people = ids(60);
    const values = { Score: Object.fromEntries(people.map((id, at) => [id, String((at * 37) % 101)])) };
    const soft: Forming["soft"] = [{ kind: "spread number", column: "Score", weight: 1 }];
    const work = form(inputOf({ soft }, [people], { values }), 5);
    const { value } = work.next() as { value: Forward };
    expect(groupsOf(value.best()).flat(2).sort()).toEqual([...people].sort());
  });
});

describe("around", () => {
  test("the least that rounding loses", () => {
    expect(roundingLoss([1.5, 1.5])).toBeCloseTo(1);
    expect(roundingLoss([2, 3])).toBe(0);
    expect(roundingLoss([0.25, 0.25, 0.25, 0.25])).toBeCloseTo(1.5);
  });
  test("numbers as rosters write them", () => {
    expect(["71", "7,5", " 60 %", "-3.25", "1.000,5", "B", ""].map(numberIn)).toEqual([
      71,
      7.5,
      60,
      -3.25,
      null,
      null,
      null,
    ]);
  });
  test("the number restarts in each scope, topics repeat, and names that are there are passed over", () => {
    const pattern = { kind: "pattern" as const, pattern: "{scope} team {n}" };
    expect(groupNames(pattern, "Day 1", 2, new Set())).toEqual(["Day 1 team 1", "Day 1 team 2"]);
    expect(groupNames(pattern, "", 1, new Set(["team 1"]))).toEqual(["team 1 2"]);
    const topics = { kind: "topics" as const, topics: ["Silt", "Weirs"] };
    expect(groupNames(topics, "Evening", 3, new Set())).toEqual(["Silt Evening", "Weirs Evening", "Silt Evening 2"]);
  });
  test("leads: none, anyone, or one who has led least", () => {
    const groups = [["a", "b"], ["c"], []];
    expect(chooseLeads(groups, "none", {}, 1)).toEqual([[], [], []]);
    expect(chooseLeads(groups, "new", { a: 1, c: 2 }, 1)).toEqual([["b"], ["c"], []]);
    const seen = new Set(Array.from({ length: 30 }, (_, seed) => chooseLeads(groups, "random", {}, seed)[0]?.[0]));
    expect([...seen].sort()).toEqual(["a", "b"]);
  });
});
