/** Import of a list against a bare papaparse and one transaction that inserts the same rows. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import Papa from "papaparse";
import { openApp } from "../server/app.ts";
import { readConfig } from "../server/config.ts";
import { migrate } from "../server/db/open.ts";
import { importProspects } from "../server/prospects/import-prospects.ts";
import { type Figure, median } from "./figure.ts";

const ROWS = 20_000;
const ROUNDS = 5;

function csv(): string {
  const lines = ["Email,First name,Last name,Organisation,Title,City,Country,Time zone,Budget"];
  for (let row = 0; row < ROWS; row++)
    lines.push(
      `person${row}@museum-${row % 6000}.example,Ilse,Brandt ${row},"Museum ${row % 6000}, Nord",Registrar,Hamburg,DE,Europe/Berlin,${row}`,
    );
  return lines.join("\n");
}

function freshApp() {
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

function bare(text: string): number {
  const { app, close } = freshApp();
  const began = performance.now();
  const rows = Papa.parse<string[]>(text).data.slice(1);
  const insert = app.db.prepare(
    `INSERT INTO prospects (email, first_name, last_name, title, city, country, time_zone, custom, created_at)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, 0)`,
  );
  app.db.transaction(() => {
    for (const [email, first, last, company, title, city, country, zone, budget] of rows)
      insert.run(email, first, last, title, city, country, zone, JSON.stringify({ company, budget }));
  })();
  const took = performance.now() - began;
  close();
  return took;
}

function ours(text: string): number {
  const { app, close } = freshApp();
  const bytes = new TextEncoder().encode(text);
  const began = performance.now();
  const outcome = importProspects(app, null, bytes, {
    listName: "Bench",
    fileName: "bench.csv",
    uses: [
      "email",
      "first_name",
      "last_name",
      "company",
      "title",
      "city",
      "country",
      "time_zone",
      "custom:budget",
    ],
  });
  const took = performance.now() - began;
  if (!outcome.ok || outcome.value.added !== ROWS) throw new Error("the import did not take every row");
  close();
  return took;
}

export async function benchImport(): Promise<Figure> {
  const text = csv();
  const baselines: number[] = [];
  const measured: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    baselines.push(bare(text));
    measured.push(ours(text));
  }
  return {
    bench: "import",
    ratio: Number((median(measured) / median(baselines)).toFixed(2)),
    limit: 3,
    kind: "most",
    rows: ROWS,
    ms: Math.round(median(measured)),
    baselineMs: Math.round(median(baselines)),
  };
}
