import { defineConfig } from "@playwright/test";
import { CHROMIUM } from "./demo/chromium.ts";
import { DEMO_URL } from "./e2e/addresses.ts";

const APART = /(access|first-run)\.spec\.ts$/;

export default defineConfig({
  testDir: "e2e",
  globalSetup: "./e2e/start-demo.ts",
  // One world with one clock: the jobs are done one after the other. What only looks at it, or starts a
  // world of its own, goes on beside them.
  workers: 2,
  fullyParallel: false,
  projects: [
    { name: "jobs", testIgnore: APART, workers: 1 },
    { name: "apart", testMatch: APART, workers: 1 },
  ],
  // A morning of the demo passes in ten seconds, or in a minute on a busy machine.
  timeout: 150_000,
  expect: { timeout: 15_000 },
  reporter: [["list"]],
  outputDir: "test-results",
  use: {
    baseURL: DEMO_URL,
    viewport: { width: 1280, height: 800 },
    timezoneId: "Europe/Lisbon",
    locale: "en-GB",
    // Without moving pictures: they cost more than the tests themselves.
    trace: { mode: "retain-on-failure", screenshots: false, snapshots: true, sources: false },
    screenshot: "only-on-failure",
    launchOptions: CHROMIUM,
  },
});
