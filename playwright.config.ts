import { defineConfig } from "@playwright/test";
import { browserPath } from "./scripts/lib/machine.mjs";

/** End-to-end tests drive the built application; scripts/test.mjs starts one for each worker. */
export default defineConfig({
  testDir: "src/tests",
  // The jobs change the course that they are done in: they have an application of their own.
  testMatch: process.env.AMBER_JOBS ? "jobs/*.job.ts" : "*.spec.ts",
  workers: JSON.parse(process.env.AMBER_TEST_APPLICATIONS ?? "[0]").length,
  // Of a test that hangs, on a machine that does other work: what is quick enough is the bench's to say.
  timeout: 240_000,
  expect: { timeout: 30_000 },
  reporter: [
    ["list"],
    ["json", { outputFile: process.env.AMBER_JOBS ? "test-results/jobs.json" : "test-results/report.json" }],
  ],
  use: {
    actionTimeout: 60_000,
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: browserPath() ?? "chromium",
      args: [
        "--no-sandbox",
        "--disable-gpu",
        "--disable-background-networking",
        "--disable-component-update",
        "--no-first-run",
      ],
    },
    screenshot: "only-on-failure",
  },
});
