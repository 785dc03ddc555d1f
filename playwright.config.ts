import { defineConfig } from "@playwright/test";
import { CHROMIUM } from "./demo/chromium.ts";
import { DEMO_URL } from "./e2e/addresses.ts";

/** These move the demo's clock, or tell what it shows at a moment. */
const CLOCK = /(desk|rep|sending|spine|stops|weeks)\.spec\.ts$/;

export default defineConfig({
  testDir: "e2e",
  globalSetup: "./e2e/start-demo.ts",
  // One world with one clock: what moves it is done one after the other. What has people and lists of its
  // own goes on beside it.
  workers: 2,
  fullyParallel: false,
  projects: [
    { name: "clock", testMatch: CLOCK, workers: 1 },
    { name: "beside", testIgnore: CLOCK },
  ],
  // A morning of the demo passes in ten seconds, or in a minute on a busy machine.
  timeout: 480_000,
  expect: { timeout: 45_000 },
  reporter: [["list"]],
  outputDir: "test-results",
  use: {
    baseURL: DEMO_URL,
    viewport: { width: 1280, height: 800 },
    timezoneId: "Europe/Lisbon",
    locale: "en-GB",
    screenshot: "only-on-failure",
    // What is not there after this time does not come.
    actionTimeout: 90_000,
    launchOptions: CHROMIUM,
  },
});
