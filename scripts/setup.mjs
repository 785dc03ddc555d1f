/** Sets up what is missing: packages, the built interface (--build), Chromium for the browser tests (--chromium). */
import { execSync, spawnSync } from "node:child_process";
import { existsSync, readdirSync, statSync } from "node:fs";
import { join } from "node:path";

const root = join(import.meta.dirname, "..");
const wants = (flag) => process.argv.includes(flag);
const run = (command, options = {}) => execSync(command, { cwd: root, stdio: "inherit", ...options });
const time = (path) => (existsSync(path) ? statSync(path).mtimeMs : 0);

/** What a tool says of its own insides, and no reader of this terminal can mend, is left out. */
const NOISE = /`envFile` option is deprecated/;
function build() {
  const { status, stdout, stderr } = spawnSync("npx react-router build --logLevel warn", {
    cwd: root,
    // Whoever asks may be a test, and the libraries have another half for those.
    env: { ...process.env, NODE_ENV: "production" },
    shell: true,
    encoding: "utf8",
    maxBuffer: 64 * 1024 * 1024,
  });
  const said = `${stdout}${stderr}`.split("\n").filter((line) => line.trim() !== "" && !NOISE.test(line));
  if (said.length > 0) console.log(said.join("\n"));
  if (status !== 0) process.exit(status ?? 1);
  run("node scripts/compress.mjs");
}

/** The latest change of any file below these paths. */
function newest(...paths) {
  let latest = 0;
  for (const path of paths) {
    const full = join(root, path);
    if (!existsSync(full)) continue;
    // Nothing that is built has tests in it.
    if (/\.test\.tsx?$/.test(path)) continue;
    latest = Math.max(latest, time(full));
    if (statSync(full).isDirectory())
      for (const name of readdirSync(full)) latest = Math.max(latest, newest(join(path, name)));
  }
  return latest;
}

if (time(join(root, "node_modules/.package-lock.json")) < time(join(root, "package-lock.json"))) {
  console.log(
    "Installing packages (the database driver is compiled; this takes some minutes the first time) …",
  );
  // Not "npm ci": it refuses a lock that was written where a package's builds for other platforms cannot be had.
  run("npm install --no-audit --no-fund --loglevel error");
}

if (wants("--build")) {
  const built = time(join(root, "build/server/server/web/main.js"));
  if (
    built <
    newest(
      "app",
      "core",
      "server",
      "standins",
      "demo",
      "public",
      "package-lock.json",
      "vite.config.ts",
      "react-router.config.ts",
    )
  ) {
    console.log("Building the interface …");
    build();
  }
}

if (wants("--chromium") && !process.env.SAUDADE_CHROMIUM && !existsSync("/usr/bin/chromium-headless-shell")) {
  console.log("Installing Chromium …");
  const install = (name) =>
    spawnSync(`apt-get update -qq && apt-get install -y -qq --no-install-recommends ${name}`, {
      shell: true,
      stdio: "inherit",
      env: { ...process.env, DEBIAN_FRONTEND: "noninteractive" },
    }).status === 0;
  // The whole browser does as well, and takes half as long again.
  if (!install("chromium-headless-shell") && !existsSync("/usr/bin/chromium") && !install("chromium")) {
    console.error(
      "Chromium could not be installed. Install Debian's package “chromium-headless-shell”, then run npm test again; or say with SAUDADE_CHROMIUM=… where one is.",
    );
    process.exit(1);
  }
}
