import { defineConfig } from "vitest/config";

export default defineConfig({
  test: {
    include: ["{core,server,standins,demo,app}/**/*.test.{ts,tsx}"],
    pool: "forks",
    maxWorkers: 2,
    // The tests of the engine speak SMTP and IMAP to a stand-in process that
    // has to start first; on a busy two-core machine that takes seconds.
    testTimeout: 60_000,
    hookTimeout: 60_000,
  },
});
