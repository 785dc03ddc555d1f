import { readdirSync } from "node:fs";
import { defineConfig } from "@playwright/test";
import { CHROMIUM } from "./demo/chromium.ts";

/** Those that take longest. Begun last, one would keep one core waiting for the other. */
const LONGEST = [
  "access",
  "spine",
  "rep",
  "replies",
  "sequences",
  "accounts",
  "lists",
  "stops",
  "first-run",
  "undo",
  "first-hour",
  "crm",
];
/** Those whose tests leave nothing behind that another of them could meet: two workers share them. */
const SHARED = ["access"];
const rank = (name: string) => (LONGEST.includes(name) ? LONGEST.indexOf(name) : LONGEST.length);
const files = readdirSync("e2e")
  .filter((name) => name.endsWith(".spec.ts"))
  .map((name) => name.replace(".spec.ts", ""))
  .sort((one, other) => rank(one) - rank(other));

export default defineConfig({
  testDir: "e2e",
  globalSetup: "./e2e/make-world.ts",
  // Most of a test is waiting for what the demo does next: two cores carry four.
  workers: 4,
  fullyParallel: false,
  // A project's tests share a worker, and with it a world and its clock (e2e/world.ts): each file has its own.
  projects: files.map((name) => ({
    name,
    testMatch: `${name}.spec.ts`,
    fullyParallel: SHARED.includes(name),
    workers: SHARED.includes(name) ? 2 : 1,
  })),
  // A morning of the demo passes in ten seconds, or in a minute on a busy machine.
  timeout: 720_000,
  expect: { timeout: 45_000 },
  reporter: [["list"]],
  outputDir: "test-results",
  use: {
    viewport: { width: 1280, height: 800 },
    timezoneId: "Europe/Lisbon",
    locale: "en-GB",
    screenshot: "only-on-failure",
    // What is not there after this time does not come.
    actionTimeout: 90_000,
    launchOptions: CHROMIUM,
  },
});
