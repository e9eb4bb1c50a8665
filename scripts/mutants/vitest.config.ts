import { defineConfig } from "vitest/config";

/** Folders of the core whose tests are run; all of them where none is named. */
const folders = process.env.AMBER_MUTANT_TESTS?.split(" ") ?? ["."];
/** The core's own tests, as the mutants are tried on them. Oracles are asked fewer random cases than in npm test. */
export default defineConfig({
  test: {
    include: folders.map((folder) => `src/core/${folder}/**/*.test.ts`),
    testTimeout: 300_000,
    hookTimeout: 300_000,
    env: { AMBER_RUNS: "60" },
  },
});
