/** The worker's process: does the jobs that would take a page too long. */
import { openApp } from "../app.ts";
import { CrmCarrier } from "../crm/carry.ts";
import { copyIsDue, newestCopyAt, nightlyCopy } from "../db/backup.ts";
import { noteFailure } from "../db/failures.ts";
import {
  endJob,
  isCancelled,
  type Job,
  type JobKind,
  reportProgress,
  requeueJobs,
  takeJob,
} from "../db/jobs.ts";
import { migrate } from "../db/open.ts";
import { keepWords } from "../db/words.ts";
import { AppError, isBusy } from "../errors.ts";
import type { Report } from "../jobs/report.ts";
import { log } from "../log.ts";
import { sweepFiles } from "../mail/files.ts";
import { readDueCalendars } from "../meetings/calendars.ts";
import { endOnUncaught } from "../orderly-end.ts";
import { askForPictures, sweepMedia } from "../pages/make-pictures.ts";
import { sayReady } from "../processes.ts";
import { sweepTraces } from "../prospects/privacy/sweep-traces.ts";
import { readAgain } from "../replies/second-reading.ts";
import { sweepPictures } from "../research/run-column.ts";
import { learnMailHosts } from "../sending/domains/mail-hosts.ts";
import { Carrier, sweepHappenings } from "../webhooks/carry.ts";
import { runJob } from "./run-job.ts";

const app = openApp();
migrate(app.db);
// A job that is cut off waits for the next worker and goes on from its last step.
for (const signal of ["SIGINT", "SIGTERM"] as const) process.on(signal, () => process.exit(0));
endOnUncaught(app, "worker", () => Promise.resolve());

/** Between two looks at whether a job was cancelled, and two reports of how far it is. */
const REPORT_EVERY = 150;
const LOOK_EVERY = 150;

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** Those that compute run one after the other, and beside them those that wait for somebody's server. */
const LANES: JobKind[][] = [
  ["look_through", "import", "duplicates", "learn", "archive"],
  ["search", "verify", "find_addresses"],
  ["research"],
  // Five to try a column on, while a list of thousands is worked out.
  ["try_research"],
  ["page_pictures"],
];

function reporter(job: Job): Report {
  let last = 0;
  return (done, total) => {
    const now = performance.now();
    if (now - last < REPORT_EVERY && done < total) return false;
    last = now;
    reportProgress(app.db, job.id, done, total);
    // Lets the other lane have its turn.
    return new Promise((resolve) => setImmediate(() => resolve(isCancelled(app.db, job.id))));
  };
}

/** None while the database is locked by somebody: the next look finds it. */
function nextJob(kinds: JobKind[]): Job | null {
  try {
    return takeJob(app.db, kinds, Date.now());
  } catch (error) {
    if (!isBusy(error)) noteFailure(app.db, "job", "take", error);
    return null;
  }
}

/** Does it again for as long as somebody else holds the database: a job goes on from its last step. */
async function untilFree<T>(work: () => T | Promise<T>): Promise<T> {
  for (;;)
    try {
      return await work();
    } catch (error) {
      if (!isBusy(error)) throw error;
      await pause(LOOK_EVERY);
    }
}

async function work(kinds: JobKind[]): Promise<void> {
  while (true) {
    const job = nextJob(kinds);
    if (!job) {
      await pause(LOOK_EVERY);
      continue;
    }
    try {
      await untilFree(() => runJob(app, job, reporter(job)));
      await untilFree(() => endJob(app.db, job.id, "done"));
    } catch (error) {
      const problem =
        error instanceof AppError ? error.message : "Something went wrong here; the server's log says more.";
      // What a service outside or a file is to blame for is said to whoever asked; it is no failure of ours.
      if (error instanceof AppError)
        log.warn({ job: job.id, kind: job.kind, reason: error.code }, "job ended");
      else noteFailure(app.db, "job", job.kind, error);
      await untilFree(() => endJob(app.db, job.id, "failed", problem));
    }
  }
}

/** How often it is asked whether the night's copy is due. */
const COPY_LOOK_EVERY = 10 * 60_000;

async function keepCopies(folder: string): Promise<void> {
  for (;;) {
    try {
      if (copyIsDue(newestCopyAt(folder), Date.now()))
        await nightlyCopy(app.config.database, app.key, folder, Date.now());
    } catch (error) {
      noteFailure(app.db, "copy", "nightly", error);
    }
    await pause(COPY_LOOK_EVERY);
  }
}
if (app.config.backups !== null) void keepCopies(app.config.backups);

/** How often it is asked whether somebody was erased, and whether files are used by nothing any more. */
const SWEEP_EVERY = 20_000;
const FILES_EVERY = 6 * 3_600_000;
let filesNotBefore = Date.now() + SWEEP_EVERY;

async function keepSweeping(): Promise<void> {
  for (;;) {
    try {
      keepWords(app.db);
      await sweepTraces(app);
      if (Date.now() >= filesNotBefore) {
        filesNotBefore = Date.now() + FILES_EVERY;
        sweepFiles(app);
        sweepPictures(app);
        sweepMedia(app);
      }
    } catch (error) {
      if (!isBusy(error)) noteFailure(app.db, "job", "sweep-traces", error);
    }
    await pause(SWEEP_EVERY);
  }
}
void keepSweeping();

/** How often it is asked whose mail exchanger nobody knows yet, and how often while there are many. */
const HOSTS_EVERY = 60_000;
const HOSTS_SOON = 2_000;

async function keepMailHosts(): Promise<void> {
  for (;;) {
    let asked = 0;
    try {
      asked = await learnMailHosts(app);
    } catch (error) {
      if (!isBusy(error)) noteFailure(app.db, "outside", "mail-hosts", error);
    }
    await pause(asked > 0 ? HOSTS_SOON : HOSTS_EVERY);
  }
}
void keepMailHosts();

/** How often it is asked whether a calendar is due, or a reply for the assistant. */
const OUTSIDE_EVERY = 20_000;

async function keepAsking(name: string, ask: () => Promise<unknown>): Promise<void> {
  for (;;) {
    try {
      await ask();
    } catch (error) {
      if (!isBusy(error)) noteFailure(app.db, "outside", name, error);
    }
    await pause(OUTSIDE_EVERY);
  }
}
// Beside each other: what keeps one of them waiting holds up no other.
void keepAsking("calendars", () => readDueCalendars(app));
void keepAsking("assistant", () => readAgain(app));

/** How often it is asked whether an email is to show a picture that nobody has drawn. */
const PICTURES_EVERY = 1_000;

async function keepDrawing(): Promise<void> {
  for (;;) {
    try {
      askForPictures(app);
    } catch (error) {
      if (!isBusy(error)) noteFailure(app.db, "job", "page-pictures", error);
    }
    await pause(PICTURES_EVERY);
  }
}
void keepDrawing();

/** How often it is asked whether something is to be told, and how often what is old goes. */
const TELL_EVERY = 400;
const SWEEP_TOLD_EVERY = 60_000;

async function keepTelling(): Promise<void> {
  const carrier = new Carrier(app, (error) => noteFailure(app.db, "outside", "webhooks", error));
  const crm = new CrmCarrier(app, (error) => {
    if (!isBusy(error)) noteFailure(app.db, "outside", "crm", error);
  });
  let sweptAt = 0;
  for (;;) {
    try {
      await carrier.look();
      crm.look();
      if (Date.now() - sweptAt > SWEEP_TOLD_EVERY) {
        sweptAt = Date.now();
        sweepHappenings(app);
      }
    } catch (error) {
      if (!isBusy(error)) noteFailure(app.db, "outside", "webhooks", error);
    }
    await pause(TELL_EVERY);
  }
}
void keepTelling();

requeueJobs(app.db);
sayReady();
await Promise.all(LANES.map(work));
