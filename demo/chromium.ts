/** How Debian's Chromium is started, for tests and pictures alike. */
import { existsSync } from "node:fs";

/** Without its windows it does the same with less work. */
const SHELL = "/usr/bin/chromium-headless-shell";

export const CHROMIUM = {
  executablePath: process.env.SAUDADE_CHROMIUM ?? (existsSync(SHELL) ? SHELL : "/usr/bin/chromium"),
  args: [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
  ],
};
