import { defineConfig } from "vitest/config";

/** The core's own tests, as the mutants are tried on them: in threads, which begin sooner. */
export default defineConfig({
  test: { include: ["src/core/**/*.test.ts"], testTimeout: 300_000, hookTimeout: 300_000 },
});
