import { defineConfig } from "vitest/config";
import { BaseSequencer, type TestSpecification } from "vitest/node";

/** Those that start processes again and again. Begun last, each would keep one core waiting for the other. */
const LONG = /(outage|killed|jobs|web|proxy|engine|holds|season|audit|desk|social|hostile)\.test\.ts$/;

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
        test: {
          name: "app",
          include: ["{server,standins,demo,app}/**/*.test.{ts,tsx}"],
          // Real mail servers have to be there: vitest.mail.config.ts.
          exclude: ["server/tests/lab/**"],
        },
      },
    ],
  },
});
