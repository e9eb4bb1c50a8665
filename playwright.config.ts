import { defineConfig } from "@playwright/test";

/** End-to-end tests drive the built application; scripts/test.mjs starts it with a database of its own. */
export default defineConfig({
  testDir: "src/tests",
  testMatch: "*.spec.ts",
  workers: 1,
  timeout: 60_000,
  expect: { timeout: 10_000 },
  reporter: [["list"], ["json", { outputFile: "test-results/report.json" }]],
  use: {
    baseURL: process.env.AMBER_TEST_URL ?? "http://127.0.0.1:4331",
    actionTimeout: 15_000,
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: "/usr/bin/chromium",
      args: [
        "--no-sandbox",
        "--disable-gpu",
        "--disable-background-networking",
        "--disable-component-update",
        "--no-first-run",
      ],
    },
    trace: "retain-on-failure",
  },
});
