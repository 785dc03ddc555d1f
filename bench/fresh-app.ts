import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { openApp } from "../server/app.ts";
import { readConfig } from "../server/config.ts";
import { migrate } from "../server/db/open.ts";

/** An app on an empty database of its own. */
export function freshApp() {
  const folder = mkdtempSync(join(tmpdir(), "saudade-bench-"));
  const app = openApp(readConfig({ SAUDADE_DB: join(folder, "bench.db"), SAUDADE_KEY: "0".repeat(64) }));
  migrate(app.db);
  return {
    app,
    close() {
      app.db.close();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
