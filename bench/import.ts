/** Import of a list against a bare papaparse and one transaction that inserts the same rows. */
import Papa from "papaparse";
import { importById } from "../server/imports/imports.ts";
import { lookThrough } from "../server/imports/look-through.ts";
import { runImport } from "../server/imports/run-import.ts";
import { uploadImport } from "../server/imports/upload-import.ts";
import { type Figure, median } from "./figure.ts";
import { freshApp } from "./fresh-app.ts";
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

interface Took {
  /** The look through the whole file that the rep sees before. */
  look: number;
  /** Matching, cleaning, duplicate search and insert. */
  import: number;
  megabytes: number;
}

async function ours(text: string, rows: number): Promise<Took> {
  const { app, close } = freshApp();
  const bytes = new TextEncoder().encode(text);
  let megabytes = 0;
  const watch = () => {
    megabytes = Math.max(megabytes, process.memoryUsage.rss() / 1024 / 1024);
    return false;
  };
  const began = performance.now();
  const uploaded = uploadImport(app, null, { name: "bench.csv", bytes });
  if (!uploaded.ok) throw new Error(JSON.stringify(uploaded.errors));
  const matched = performance.now();
  await lookThrough(app, uploaded.value, watch);
  const looked = performance.now();
  await runImport(app, uploaded.value, watch);
  const took = performance.now() - looked + (matched - began);
  watch();
  const added = importById(app, uploaded.value)?.report.added;
  if (added !== rows) throw new Error(`the import took ${added} of ${rows} rows`);
  close();
  return { look: looked - matched, import: took, megabytes };
}

async function measure(bench: string, rows: number, limit: number, rounds: number): Promise<Figure> {
  const text = csvOf(inventRows(rows));
  const baselines: number[] = [];
  const measured: Took[] = [];
  for (let round = 0; round < rounds; round++) {
    baselines.push(bare(text));
    measured.push(await ours(text, rows));
  }
  const ms = median(measured.map((took) => took.import));
  return {
    bench,
    ratio: Number((ms / median(baselines)).toFixed(2)),
    limit,
    kind: "most",
    rows,
    ms: Math.round(ms),
    baselineMs: Math.round(median(baselines)),
    lookMs: Math.round(median(measured.map(({ look }) => look))),
    megabytes: Math.round(Math.max(...measured.map(({ megabytes }) => megabytes))),
  };
}

/** 100,000 rows as exports are: a third of them to be cleaned in some way. */
export const benchImport = () => measure("import", 100_000, 6, 3);
/** 20,000 rows, the size of a large list. */
export const benchImportList = () => measure("import-list", 20_000, 6, 3);
