import { z } from "zod";
import { findAddresses } from "../addresses/find-addresses.ts";
import { verifyAddresses } from "../addresses/verify-addresses.ts";
import type { App } from "../app.ts";
import type { Job, JobKind } from "../db/jobs.ts";
import { findAndMerge } from "../duplicates/find-and-merge.ts";
import { lookThrough } from "../imports/look-through.ts";
import { runImport } from "../imports/run-import.ts";
import { runSearch } from "../searches/search.ts";
import type { Report } from "./report.ts";

const id = z.number().int();
const imported = z.object({ importId: id });

/** What each kind of job does with its input. */
const WORK: Record<JobKind, (app: App, input: unknown, report: Report) => Promise<unknown>> = {
  look_through: (app, input, report) => lookThrough(app, imported.parse(input).importId, report),
  import: (app, input, report) => runImport(app, imported.parse(input).importId, report),
  search: (app, input, report) => runSearch(app, z.object({ searchId: id }).parse(input).searchId, report),
  verify: (app, input, report) =>
    verifyAddresses(
      app,
      z
        .object({ listId: id.nullish(), prospectIds: z.array(id).optional(), anew: z.boolean().optional() })
        .parse(input),
      report,
    ),
  find_addresses: (app, input, report) =>
    findAddresses(app, z.object({ listId: id.nullable() }).parse(input).listId, report),
  duplicates: (app) => findAndMerge(app, { importId: null }),
};

export async function runJob(app: App, job: Job, report: Report): Promise<void> {
  await WORK[job.kind](app, JSON.parse(job.input), report);
}
