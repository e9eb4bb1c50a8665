/**
 * Mutants of the core, and what the tests make of them: `npm run test:mutants -- FOLDER…`, by night or a folder at a time.
 * What was found before is kept in .data/mutants and asked again only where code or tests changed.
 */
export default {
  testRunner: "vitest",
  vitest: { configFile: "scripts/mutants/vitest.config.ts", related: true },
  plugins: ["@stryker-mutator/vitest-runner"],
  mutate: ["src/core/**/*.ts", "!src/core/**/*.test.ts", "!src/core/tests/**"],
  coverageAnalysis: "perTest",
  ignoreStatic: true,
  incremental: true,
  incrementalFile: ".data/mutants/known.json",
  tempDirName: ".data/mutants/work",
  ignorePatterns: [".data", "dist", "docs/screenshots", "test-results", "scripts/nodes/node_modules"],
  reporters: ["clear-text", "json"],
  jsonReporter: { fileName: ".data/mutants/report.json" },
  clearTextReporter: { allowColor: false, reportTests: false, reportScoreTable: true },
  // A mutant that loops is given up after this many times its test's own time, and this many milliseconds.
  timeoutFactor: 3,
  timeoutMS: 20_000,
  concurrency: 2,
  checkers: [],
  // Of all tests once, oracles among them, on a machine that does other work.
  dryRunTimeoutMinutes: 30,
};
