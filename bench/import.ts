/** Import of a list against a bare papaparse and one transaction that inserts the same rows. */
import { execFileSync } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import Papa from "papaparse";
import { SPARING } from "../server/processes.ts";
import type { Figure } from "./figure.ts";
import { freshApp } from "./fresh-app.ts";
import type { Took } from "./import-run.ts";
import { type BenchPerson, inventRows } from "./people.ts";

const COLUMNS: Record<string, keyof BenchPerson> = {
  "First name": "first",
  "Last name": "last",
  Email: "email",
  Company: "company",
  Website: "website",
  "Job title": "title",
  City: "city",
  Country: "country",
  Phone: "phone",
  Rooms: "rooms",
};

const csvOf = (people: BenchPerson[]) =>
  Papa.unparse({
    fields: Object.keys(COLUMNS),
    data: people.map((person) => Object.values(COLUMNS).map((field) => person[field])),
  });

/** What has to be done at the very least: the file parsed, and its rows in the table with its indexes. */
function bare(text: string): number {
  const { app, close } = freshApp();
  const began = performance.now();
  const rows = Papa.parse<string[]>(text).data.slice(1);
  const insert = app.db.prepare(
    `INSERT INTO prospects (first_name, last_name, email, company, title, city, country, phone, custom, created_at)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, 0)`,
  );
  app.db.transaction(() => {
    for (const [first, last, email, company, website, title, city, country, phone, rooms] of rows)
      insert.run(
        first,
        last,
        email,
        company,
        title,
        city,
        country,
        phone,
        JSON.stringify({ website, rooms }),
      );
  })();
  const took = performance.now() - began;
  close();
  return took;
}

/** The same file in a process of its own, whose memory is then the import's. */
function ours(file: string, rows: number): Took {
  const said = execFileSync(
    process.execPath,
    [...SPARING, "--import", "tsx", join(import.meta.dirname, "import-run.ts"), file],
    {
      encoding: "utf8",
    },
  );
  const took = JSON.parse(said) as Took;
  if (took.added !== rows) throw new Error(`the import took ${took.added} of ${rows} rows`);
  return took;
}

async function measure(bench: string, rows: number, limit: number, rounds: number): Promise<Figure> {
  const text = csvOf(inventRows(rows));
  const folder = mkdtempSync(join(tmpdir(), "saudade-bench-"));
  const file = join(folder, "bench.csv");
  writeFileSync(file, text);
  const baselines: number[] = [];
  const measured: Took[] = [];
  for (let round = 0; round < rounds; round++) {
    baselines.push(bare(text));
    measured.push(ours(file, rows));
  }
  rmSync(folder, { recursive: true, force: true });
  const megabytes = Math.max(...measured.map((took) => took.megabytes));
  if (megabytes > MOST_MEGABYTES)
    throw new Error(`the import took ${megabytes} MB, and may take ${MOST_MEGABYTES}`);
  // The fastest round of each: what else the machine does only ever adds.
  const ms = Math.min(...measured.map((took) => took.import));
  const baseline = Math.min(...baselines);
  return {
    bench,
    ratio: Number((ms / baseline).toFixed(2)),
    limit,
    kind: "most",
    rows,
    ms: Math.round(ms),
    baselineMs: Math.round(baseline),
    lookMs: Math.round(Math.min(...measured.map(({ look }) => look))),
    megabytes,
  };
}

/** Nearly all of it is SQLite's, with every index and trigger: names, companies and titles were read by the look before. */
const MOST = 3.8;
const MOST_MEGABYTES = 450;

/** 100,000 rows as exports are: a third of them to be cleaned in some way. */
export const benchImport = () => measure("import", 100_000, MOST, 3);
/** 20,000 rows, the size of a large list. */
export const benchImportList = () => measure("import-list", 20_000, MOST, 3);
