/** What a question tells of itself, by examples worked by hand. */
import { expect, test } from "vitest";
import { type Earned, figuresOf, isAgainst } from "./figures.ts";

test("how many earned all of it, and how much on average; what is to be marked aside", () => {
  const attempts: Earned[] = [{ q: 2, r: 1 }, { q: 1, r: 0 }, { q: 0, r: 0 }, { q: null, r: 1 }, { r: 1 }];
  expect(figuresOf("q", 2, attempts)).toEqual({ n: 3, right: 1, share: 0.5, toMark: 1, discrimination: null });
  expect(figuresOf("q", 0, [{ q: 0 }])).toMatchObject({ n: 1, right: 0, share: null });
  expect(figuresOf("q", 2, [])).toEqual({ n: 0, right: 0, share: null, toMark: 0, discrimination: null });
});

test("tells who knows where it goes with the rest: 1 as the rest, -1 against it, nothing where all earned the same", () => {
  const rest = [0, 1, 2, 3, 4];
  expect(
    figuresOf(
      "q",
      4,
      rest.map((r) => ({ q: r, r })),
    ).discrimination,
  ).toBeCloseTo(1);
  expect(
    figuresOf(
      "q",
      4,
      rest.map((r) => ({ q: 4 - r, r })),
    ).discrimination,
  ).toBeCloseTo(-1);
  expect(
    figuresOf(
      "q",
      4,
      rest.map((r) => ({ q: 4, r })),
    ).discrimination,
  ).toBeNull();
  expect(
    figuresOf(
      "q",
      4,
      rest.slice(1).map((r) => ({ q: r, r })),
    ).discrimination,
  ).toBeNull();
  // (0,1,0,1,1) with (1,2,3,4,5): covariance 0.5, deviations 0.5477 and 1.5811.
  const some = [
    [0, 1],
    [1, 2],
    [0, 3],
    [1, 4],
    [1, 5],
  ];
  expect(
    figuresOf(
      "q",
      1,
      some.map(([q, r]) => ({ q: q as number, r: r as number })),
    ).discrimination,
  ).toBeCloseTo(0.577, 3);
});

test("a question is against those who know where that is more than chance", () => {
  const figures = (n: number, discrimination: number | null) => ({ n, discrimination, right: 0, share: 0, toMark: 0 });
  expect([isAgainst(figures(100, -0.21)), isAgainst(figures(100, -0.2)), isAgainst(figures(100, null))]).toEqual([
    true,
    false,
    false,
  ]);
  expect([isAgainst(figures(5, -0.5)), isAgainst(figures(400, -0.11))]).toEqual([false, true]);
});
