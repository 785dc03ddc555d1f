/**
 * Types, lint, unit tests beside those on real mail servers, and browser tests; all of them run even if one fails. Ends with the
 * counts of all. What uses one core runs beside something else: types beside the build, the making of the demo's world beside the
 * unit tests. The browser tests are alone: they wait for what a user sees, and a busy machine shows it late.
 */
import { spawn } from "node:child_process";
import { existsSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";

const root = join(import.meta.dirname, "..");
const folder = mkdtempSync(join(tmpdir(), "saudade-test-"));
const env = {
  ...process.env,
  FORCE_COLOR: process.stdout.isTTY ? "1" : "0",
  SAUDADE_E2E_FOLDER: join(folder, "worlds"),
};
let passed = 0;
let failed = 0;

/** Whether a command succeeds. `kept`: what it says is said when it has ended, so that two beside each other can be read. */
function run(title, command, { more = {}, kept = false } = {}) {
  if (!kept) console.log(`\n── ${title}`);
  const child = spawn(command, {
    cwd: root,
    stdio: kept ? ["ignore", "pipe", "pipe"] : "inherit",
    shell: true,
    env: { ...env, ...more },
  });
  let said = "";
  for (const stream of [child.stdout, child.stderr]) stream?.on("data", (chunk) => (said += chunk));
  return new Promise((resolve) =>
    child.once("close", (code) => {
      if (kept) console.log(`\n── ${title}\n${said}`);
      resolve(code === 0);
    }),
  );
}

/** A step that counts as one. */
async function check(title, command) {
  if (await run(title, command, { kept: true })) passed++;
  else failed++;
}

/** A step whose report says how many tests it ran; a run without a report, or one that fails though all its tests pass, counts as a failure. */
async function tests(title, command, report, read, options = {}) {
  const fine = await run(title, command, options);
  try {
    const counts = read(JSON.parse(readFileSync(report, "utf8")));
    passed += counts.passed;
    failed += counts.failed || (fine && counts.passed > 0 ? 0 : 1);
  } catch {
    failed++;
  }
}

/** Postfix and Dovecot come from Debian's packages; elsewhere, or without the right to install, they are left out. */
function hasPackages() {
  return process.getuid?.() === 0 && existsSync("/usr/bin/apt-get");
}

// They need no build; what the routes import, which lint looks for, they write.
const types = check("types", "npm run --silent types");
if (!(await run("build", "node scripts/setup.mjs --build --chromium"))) process.exit(1);
const lint = types.then(() => check("lint", "npm run --silent lint"));
const vitest = ({ numPassedTests, numFailedTests }) => ({ passed: numPassedTests, failed: numFailedTests });
const reports = (file) => `--reporter=default --reporter=json --outputFile.json=${file}`;
const unit = join(folder, "unit.json");
const mail = join(folder, "mail.json");
// Beside the others: most of their time they wait for a server.
const realServers = hasPackages()
  ? tests("real mail servers", `npm run --silent test:mail -- ${reports(mail)}`, mail, vitest, { kept: true })
  : console.log(
      "\n── real mail servers: left out, since their packages cannot be installed here (Debian, as root)",
    );
const world = check(
  "the demo's world for the browser tests",
  `npx tsx --eval "import('./e2e/make-world.ts').then((world) => world.default())"`,
);
await tests("unit and integration tests", `npx vitest run ${reports(unit)}`, unit, vitest);
await Promise.all([lint, realServers, world]);
const browser = join(folder, "browser.json");
await tests(
  "browser tests",
  "npx playwright test --reporter=list,json",
  browser,
  ({ stats }) => ({ passed: stats.expected + stats.flaky, failed: stats.unexpected }),
  { more: { PLAYWRIGHT_JSON_OUTPUT_NAME: browser } },
);
rmSync(folder, { recursive: true, force: true });
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
