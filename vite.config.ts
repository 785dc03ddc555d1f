import { reactRouter } from "@react-router/dev/vite";
import { defineConfig, type Plugin } from "vite";

/** What is started as a process or a thread of its own; `build/server` holds each under the same path. */
const PROGRAMS = [
  "server/main",
  "server/backup-command",
  "server/rebuild-results",
  "server/web/main",
  "server/engine/main",
  "server/engine/lease-keeper",
  "server/workers/main",
  "server/mail/parse-worker",
  "server/meetings/calendar-worker",
  "server/research/page-worker",
  "server/pages/film-worker",
  "server/pages/picture-worker",
  "server/sending/forecast-worker",
  "server/results/findings-worker",
  "standins/main",
  "standins/mail/main",
  "standins/dns/main",
  "standins/social/main",
  "standins/directory/main",
  "standins/assistant/main",
  "standins/receiver/main",
  "standins/crm/main",
  "standins/sites/main",
  "demo/main",
];

/** Compiled for this machine, or starting threads from their own folder. */
const OUTSIDE = [
  ...["better-sqlite3", "sharp", "piscina", "hoodiecrow-imap", "i18n-iso-countries"],
  // Bundled they are other modules than Node finds.
  ...["opentype.js", "gifenc"],
];

/** The pages are one of the web server's modules (server/web/main.ts), so all that runs on the server is built together. */
const programs: Plugin = {
  name: "programs",
  configEnvironment: (name) =>
    name === "ssr"
      ? {
          resolve: { noExternal: true, external: OUTSIDE },
          build: {
            sourcemap: true,
            rollupOptions: {
              output: {
                entryFileNames: "[name].js",
                // For the log (server/trace.ts), which needs no texts.
                sourcemapExcludeSources: true,
                // Each process keeps its own text in memory. Names stay as they are: the log says them.
                minify: { compress: false, mangle: false, codegen: true },
              },
            },
          },
        }
      : undefined,
};

export default defineConfig({
  plugins: [reactRouter(), programs],
  environments: {
    ssr: {
      build: {
        rollupOptions: { input: Object.fromEntries(PROGRAMS.map((path) => [path, `${path}.ts`])) },
      },
    },
  },
  build: { chunkSizeWarningLimit: 1_100 },
});
