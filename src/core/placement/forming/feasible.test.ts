/** Hard wishes: kept, or a smallest set that contradicts is named. Source: semantics.md section 3. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import type { Forming, HardWish } from "../../plan/forming.ts";
import { formedOf, groupsOf, ids, inputOf } from "../../tests/forming.ts";
import { contradiction, placeBlocks } from "./feasible.ts";
import { formNow } from "./form.ts";
import type { FormingInput } from "./input.ts";

describe("hard wishes", () => {
  test("sizes within a scope differ by at most one, and no group mixes scopes", () => {
    const formed = groupsOf(formedOf(inputOf({ into: { by: "size", number: 4 } }, [ids(18), ids(9, 100)])));
    expect(formed.map((groups) => groups.map(({ length }) => length).sort())).toEqual([
      [3, 3, 4, 4, 4],
      [4, 5],
    ]);
    expect(formed[0]?.flat().sort()).toEqual(ids(18).sort());
    expect(formed[1]?.flat().sort()).toEqual(ids(9, 100).sort());
  });
  test("limits allow other sizes, and the number of groups follows them", () => {
    const limits = { min: 3, max: 6 };
    const by = (number: number) =>
      groupsOf(formedOf(inputOf({ into: { by: "size", number }, limits }, [ids(20)])))[0]?.map(({ length }) => length);
    for (const sizes of [by(2), by(9)]) for (const size of sizes ?? []) expect(size >= 3 && size <= 6).toBe(true);
    expect([by(2)?.length, by(9)?.length]).toEqual([6, 4]);
  });
  test("apart, together and held are kept", () => {
    const input = inputOf(
      {
        into: { by: "groups", number: 3 },
        apart: [["p0", "p1", "p2"]],
        together: [
          ["p0", "p5"],
          ["p5", "p6"],
        ],
      },
      [ids(10)],
    );
    (input.scopes[0] as FormingInput["scopes"][0]).held = [{ person: "p7", bin: 2 }];
    for (const seed of [1, 2, 3]) {
      const groups = groupsOf(formedOf(input, seed))[0] as string[][];
      const of = (id: string) => groups.findIndex((people) => people.includes(id));
      expect(new Set(["p0", "p1", "p2"].map(of)).size).toBe(3);
      expect([of("p5"), of("p6"), of("p7")]).toEqual([of("p0"), of("p0"), 2]);
    }
  });
  const why = (forming: Partial<Forming>, people: number, held: { person: string; bin: number }[] = []) => {
    const input = inputOf(forming, [ids(people)]);
    (input.scopes[0] as FormingInput["scopes"][0]).held = held;
    const made = formNow(input, 1);
    return "unformed" in made ? { proved: made.proved, wishes: made.wishes } : null;
  };
  test("a smallest set that contradicts is named, and nothing else", () => {
    const both = [["p0", "p1"]];
    expect(why({ apart: [...both, ["p4", "p5"]], together: [["p2", "p3"], ...both] }, 8)).toEqual({
      proved: true,
      wishes: [
        { kind: "apart", people: ["p0", "p1"] },
        { kind: "together", people: ["p0", "p1"] },
      ],
    });
    // Five who are all kept apart, and four groups: with one wish a pair, ten wishes; left out none.
    expect(why({ into: { by: "groups", number: 4 }, apart: [ids(5)] }, 20)?.wishes).toEqual([
      { kind: "apart", people: ids(5) },
    ]);
    expect(why({ into: { by: "groups", number: 4 }, together: [ids(6)] }, 20)?.wishes).toEqual([
      { kind: "together", people: ids(6) },
      { kind: "sizes" },
    ]);
    const held = [
      { person: "p0", bin: 1 },
      { person: "p1", bin: 1 },
      { person: "p9", bin: 0 },
    ];
    expect(why({ into: { by: "groups", number: 4 }, apart: both }, 20, held)?.wishes).toEqual([
      { kind: "apart", people: ["p0", "p1"] },
      held[0] && { kind: "held", ...held[0] },
      held[1] && { kind: "held", ...held[1] },
    ]);
    expect(why({ limits: { min: 4, max: 4 }, into: { by: "groups", number: 3 } }, 10)?.wishes).toEqual([
      { kind: "sizes" },
    ]);
  });
  test("together across two scopes contradicts the scope", () => {
    const made = formNow(inputOf({ together: [["p0", "p100"]] }, [ids(8), ids(8, 100)]), 1);
    expect(made).toMatchObject({ proved: true, wishes: [{ kind: "together" }, { kind: "scope" }] });
  });

  const wish = fc.oneof(
    fc.uniqueArray(fc.integer({ min: 0, max: 6 }), { minLength: 2, maxLength: 3 }).map(
      (people): HardWish => ({
        kind: "apart",
        people: people.map((at) => `p${at}`),
      }),
    ),
    fc.uniqueArray(fc.integer({ min: 0, max: 6 }), { minLength: 2, maxLength: 3 }).map(
      (people): HardWish => ({
        kind: "together",
        people: people.map((at) => `p${at}`),
      }),
    ),
    fc.tuple(fc.integer({ min: 0, max: 6 }), fc.integer({ min: 0, max: 2 })).map(
      ([at, bin]): HardWish => ({
        kind: "held",
        person: `p${at}`,
        bin,
      }),
    ),
  );
  /** Every assignment there is. */
  function* assignments(people: number, bins: number): Generator<number[]> {
    for (let code = 0; code < bins ** people; code++)
      yield Array.from({ length: people }, (_, at) => Math.floor(code / bins ** at) % bins);
  }
  const holds = (bin: number[], wishes: HardWish[], bins: number) =>
    wishes.every((one) => {
      const of = (id: string) => bin[Number(id.slice(1))] as number;
      if (one.kind === "apart") return new Set(one.people.map(of)).size === one.people.length;
      if (one.kind === "together") return new Set(one.people.map(of)).size === 1;
      if (one.kind === "held") return of(one.person) === one.bin;
      const sizes = Array.from({ length: bins }, (_, at) => bin.filter((own) => own === at).length);
      return Math.max(...sizes) - Math.min(...sizes) <= 1;
    });
  test("what can be and what cannot is what trying everything says, and a smallest contradiction is one", () => {
    fc.assert(
      fc.property(fc.array(wish, { maxLength: 6 }), fc.integer({ min: 2, max: 3 }), (some, bins) => {
        const wishes: HardWish[] = [...some.filter((one) => one.kind !== "held" || one.bin < bins), { kind: "sizes" }];
        const people = ids(7);
        const shape = { people, bins, low: Math.floor(7 / bins), high: Math.ceil(7 / bins), above: 7 % bins };
        const instance = { ...shape, wishes: [], numbers: [], categories: [], pairs: [] };
        const all = [...assignments(7, bins)];
        const can = (subset: HardWish[]) => all.some((bin) => holds(bin, subset, bins));
        const placed = placeBlocks(instance, wishes);
        expect(placed === "impossible").toBe(!can(wishes));
        const named = contradiction(instance, wishes);
        if (!named) {
          expect(can(wishes)).toBe(true);
          return;
        }
        expect(can(named)).toBe(false);
        // Nothing smaller contradicts: neither one alone nor, of three or more, any two.
        if (named.length > 1) for (const one of wishes) expect(can([one])).toBe(true);
        if (named.length > 2)
          for (const [at, a] of wishes.entries()) for (const b of wishes.slice(at + 1)) expect(can([a, b])).toBe(true);
      }),
      { numRuns: 60 },
    );
  });
});
