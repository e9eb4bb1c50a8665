import { defineConfig } from "vitest/config";

/** Of a test that hangs, on a machine that does other work. */
const shared = { testTimeout: 300_000, hookTimeout: 300_000 };
export default defineConfig({
  test: {
    projects: [
      {
        test: {
          ...shared,
          name: "core",
          // Of pure functions: files share what they import, which none of them changes.
          isolate: false,
          pool: "threads",
          include: [
            "src/core/**/*.test.ts",
            "src/api/**/*.test.ts",
            "demo/**/*.test.ts",
            "src/interface/**/*.test.ts",
            "scripts/**/*.test.mjs",
          ],
        },
      },
      // One real database for all of these, so they run one after another.
      {
        test: {
          ...shared,
          name: "server",
          include: ["src/server/**/*.test.ts"],
          globalSetup: "src/tests/database-setup.ts",
          fileParallelism: false,
        },
      },
    ],
  },
});
