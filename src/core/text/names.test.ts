import fc from "fast-check";
import { expect, test } from "vitest";
import { sayNames } from "./names.ts";

test("names stand as one would write them, and of many the first few and how many more", () => {
  expect([[], ["a"], ["a", "b"], ["a", "b", "c"], ["a", "b", "c", "d"]].map((names) => sayNames(names))).toEqual([
    "",
    "a",
    "a and b",
    "a, b and c",
    "a, b, c and d",
  ]);
  expect(sayNames(["a", "b", "c", "d", "e", "f"])).toBe("a, b, c and 3 more");
  expect(sayNames(["a", "b", "c"], 2)).toBe("a and 2 more");
});

test("what is named and what is counted are all there are", () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 50 }), fc.integer({ min: 2, max: 6 }), (count, most) => {
      const said = sayNames(Array(count).fill("x"), most);
      const named = said.match(/x/g)?.length ?? 0;
      const more = Number(/(\d+) more/.exec(said)?.[1] ?? 0);
      expect(named + more).toBe(count);
      expect(named).toBeLessThanOrEqual(most);
    }),
  );
});
