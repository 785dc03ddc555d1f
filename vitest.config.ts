import { defineConfig } from "vitest/config";
import { BaseSequencer, type TestSpecification } from "vitest/node";

/** Those that start processes again and again. Begun last, each would keep one core waiting for the other. */
const LONG =
  /(outage|any-input|program|desk|season|jobs|lanes|killed|check-connection|engine|audit|suspended)\.test\.ts$/;

class LongestFirst extends BaseSequencer {
  override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const sorted = await super.sort(files);
    const isLong = ({ moduleId }: TestSpecification) => LONG.test(moduleId);
    return [...sorted.filter(isLong), ...sorted.filter((file) => !isLong(file))];
  }
}

export default defineConfig({
  test: {
    globalSetup: "server/tests/build.ts",
    pool: "forks",
    maxWorkers: 2,
    sequence: { sequencer: LongestFirst },
    // The tests of the engine speak SMTP and IMAP to a stand-in process that
    // has to start first; on a busy two-core machine that takes seconds.
    testTimeout: 180_000,
    hookTimeout: 180_000,
    projects: [
      {
        extends: true,
        // Nothing in the core remembers anything, so its tests share what they load.
        test: { name: "core", include: ["core/**/*.test.ts"], isolate: false },
      },
      {
        extends: true,
        // What a process keeps, it keeps by its database, and each test has one of its own: so they share what they load, too.
        test: {
          name: "server",
          include: ["{server,standins,demo}/**/*.test.ts"],
          exclude: ["server/tests/**"],
          isolate: false,
        },
      },
      {
        extends: true,
        // These answer as the web process does, which has one database for good.
        test: {
          name: "app",
          include: ["{app,server/tests}/**/*.test.{ts,tsx}"],
          // Real mail servers have to be there: vitest.mail.config.ts.
          exclude: ["server/tests/lab/**"],
        },
      },
    ],
  },
});
