import fc from "fast-check";
import { expect, test } from "vitest";
import { isolated, sayNames } from "./names.ts";

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

test("a name from right to left is kept apart from what stands beside it, and no other is touched", () => {
  expect(sayNames(["Day 1", "العلي, ليلى"])).toBe("Day 1 and \u2068العلي, ليلى\u2069");
  expect(["כהן, נועה", "Ng, Ada", ""].map(isolated)).toEqual(["\u2068כהן, נועה\u2069", "Ng, Ada", ""]);
});
