/** How Debian's Chromium is started, for tests and pictures alike. */
export const CHROMIUM = {
  executablePath: process.env.SAUDADE_CHROMIUM ?? "/usr/bin/chromium",
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
