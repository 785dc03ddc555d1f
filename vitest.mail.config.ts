import { defineConfig } from "vitest/config";

/** The tests against real mail servers, which scripts/mail-lab.sh starts. */
export default defineConfig({
  test: {
    globalSetup: "server/tests/build.ts",
    include: ["server/tests/lab/**/*.test.ts"],
    pool: "forks",
    maxWorkers: 1,
    testTimeout: 240_000,
    hookTimeout: 240_000,
  },
});
