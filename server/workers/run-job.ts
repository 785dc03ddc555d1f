import { z } from "zod";
import type { App } from "../app.ts";
import { makeArchive } from "../archive/make-archive.ts";
import type { Job, JobKind } from "../db/jobs.ts";
import type { Report } from "../jobs/report.ts";
import { makePictures } from "../pages/make-pictures.ts";
import { findAddresses } from "../prospects/addresses/find-addresses.ts";
import { verifyAddresses } from "../prospects/addresses/verify-addresses.ts";
import { findAndMerge } from "../prospects/duplicates/find-and-merge.ts";
import { lookThrough } from "../prospects/imports/look-through.ts";
import { runImport } from "../prospects/imports/run-import.ts";
import { runSearch } from "../prospects/searches/search.ts";
import { learn } from "../replies/learn.ts";
import { runColumn } from "../research/run-column.ts";

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
  archive: (app, _input, report) => makeArchive(app, report),
  research: (app, input, report) => runColumn(app, z.object({ runId: id }).parse(input).runId, report),
  try_research: (app, input, report) => runColumn(app, z.object({ runId: id }).parse(input).runId, report),
  page_pictures: (app, input, report) =>
    makePictures(app, z.object({ templateId: id.nullable() }).parse(input), report),
  learn: (app, input, report) => learn(app, z.object({ userId: id.nullable() }).parse(input).userId, report),
};

export async function runJob(app: App, job: Job, report: Report): Promise<void> {
  await WORK[job.kind](app, JSON.parse(job.input), report);
}
