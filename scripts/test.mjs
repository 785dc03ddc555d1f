/** Lint, types, unit and browser tests, one after the other; all of them run even if one fails. Ends with the counts of all. */
import { spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";

const root = join(import.meta.dirname, "..");
const folder = mkdtempSync(join(tmpdir(), "saudade-test-"));
const env = { ...process.env, FORCE_COLOR: process.stdout.isTTY ? "1" : "0" };
let passed = 0;
let failed = 0;

function run(title, command, more = {}) {
  console.log(`\n── ${title}`);
  return (
    spawnSync(command, { cwd: root, stdio: "inherit", shell: true, env: { ...env, ...more } }).status === 0
  );
}

/** A step that counts as one. */
function check(title, command) {
  if (run(title, command)) passed++;
  else failed++;
}

/** A step whose report says how many tests it ran; a run without a report, or one that fails though all its tests pass, counts as a failure. */
function tests(title, command, report, read, more = {}) {
  const fine = run(title, command, more);
  try {
    const counts = read(JSON.parse(readFileSync(report, "utf8")));
    passed += counts.passed;
    failed += counts.failed || (fine && counts.passed > 0 ? 0 : 1);
  } catch {
    failed++;
  }
}

// Types first: they write what the routes import, which lint looks for.
check("types", "npm run --silent types");
check("lint", "npm run --silent lint");
const unit = join(folder, "unit.json");
tests(
  "unit and integration tests",
  `npx vitest run --reporter=default --reporter=json --outputFile.json=${unit}`,
  unit,
  ({ numPassedTests, numFailedTests }) => ({ passed: numPassedTests, failed: numFailedTests }),
);
const browser = join(folder, "browser.json");
tests(
  "browser tests",
  "npx playwright test --reporter=list,json",
  browser,
  ({ stats }) => ({ passed: stats.expected + stats.flaky, failed: stats.unexpected }),
  { PLAYWRIGHT_JSON_OUTPUT_NAME: browser },
);
rmSync(folder, { recursive: true, force: true });
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
