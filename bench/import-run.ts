/** One import of the file that is named, as the worker does it; prints how long it took and the most memory, as JSON. */
import { readFileSync } from "node:fs";
import { importById } from "../server/prospects/imports/imports.ts";
import { lookThrough } from "../server/prospects/imports/look-through.ts";
import { runImport } from "../server/prospects/imports/run-import.ts";
import { uploadImport } from "../server/prospects/imports/upload-import.ts";
import { freshApp } from "./fresh-app.ts";

export interface Took {
  /** The look through the whole file that the rep sees before; ms. */
  look: number;
  /** Matching, cleaning, duplicate search and insert; ms. */
  import: number;
  megabytes: number;
  added: number;
}

async function main(file: string): Promise<Took> {
  const { app, close } = freshApp();
  let most = 0;
  const watch = () => {
    most = Math.max(most, process.memoryUsage.rss());
    return false;
  };
  const began = performance.now();
  const uploaded = uploadImport(app, null, { name: "bench.csv", bytes: readFileSync(file) });
  if (!uploaded.ok) throw new Error(JSON.stringify(uploaded.errors));
  const matched = performance.now();
  await lookThrough(app, uploaded.value, watch);
  const looked = performance.now();
  await runImport(app, uploaded.value, watch);
  const ended = performance.now();
  watch();
  const added = importById(app, uploaded.value)?.report.added ?? 0;
  close();
  return {
    look: looked - matched,
    import: ended - looked + (matched - began),
    megabytes: Math.round(most / 1024 / 1024),
    added,
  };
}

const file = process.argv[2];
if (file) console.log(JSON.stringify(await main(file)));
