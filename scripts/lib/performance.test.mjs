import { readFileSync } from "node:fs";
import { expect, test } from "vitest";
import { performancePage } from "./performance.mjs";

const results = {
  at: "2026-12-02T05:00:00.000Z",
  node: "v20.0.0",
  processor: "a processor",
  cores: 2,
  rows: [
    {
      name: "Reach | all",
      note: "5,000 students",
      ours: 30,
      memory: 1200,
      against: [
        { name: "an AND", milliseconds: 20, kind: "floor" },
        { name: "a loop", milliseconds: 60, kind: "peer" },
      ],
    },
    {
      name: "The whole audit",
      note: "",
      ours: 30_000,
      against: [],
      growth: [
        { students: 500, milliseconds: 200 },
        { students: 5000, milliseconds: 2500 },
        { students: 50_000, milliseconds: 30_000 },
      ],
    },
  ],
};

test("each thing beside what it is held against, with the ratio", () => {
  const page = performancePage(results);
  expect(page).toContain("| Reach \\| all | 5,000 students | 30 ms | an AND (floor) | 20 ms | 1.50 |");
  expect(page).toContain("| a loop (peer) | 60 ms | 0.50 |");
  expect(page).toContain("Reach | all (5,000 students): at most 1,200 MB of memory.");
  expect(page).toContain("2 cores of a processor with Node.js v20.0.0");
});

test("growth is told at each size, and how much more than linear it is", () => {
  const page = performancePage(results);
  expect(page).toContain("| what | 500 students | 5,000 students | 50,000 students | from 500 | from 5,000 |");
  expect(page).toContain("| The whole audit | 200 ms | 2500 ms | 30.0 s | 1.50 | 1.20 |");
});

test("the page that is kept names every measure of growth", () => {
  const page = readFileSync("docs/performance.md", "utf8");
  const clocked = [...readFileSync("benchmarks/growth.ts", "utf8").matchAll(/clock\("([^"]+)"/g)].map(
    ([, name]) => name,
  );
  expect(clocked.length).toBeGreaterThan(8);
  for (const name of clocked) expect(page).toContain(`| ${name} | `);
});
