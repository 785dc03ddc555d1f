/** Jobs as pages show them: how far they are, and the button that ends them. */
import { type By, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { cancelJob, type Job, type JobKind, latestJob } from "../db/jobs.ts";
import { done, type Outcome } from "../errors.ts";

export type JobState = Pick<Job, "id" | "state" | "done" | "total" | "problem">;

export const isRunning = (job: JobState | null) => job?.state === "waiting" || job?.state === "working";

/** The newest job of a kind about an import or a list. */
export function jobAbout(
  { db }: App,
  kind: JobKind,
  key: "importId" | "listId",
  id: number,
): JobState | null {
  return latestJob(db, kind, { key, value: id });
}

/** The newest job of a kind, whatever about. */
export const latestOf = ({ db }: App, kind: JobKind): JobState | null => latestJob(db, kind);

/** Ends a job at its next step; what it has done stays, but for an import, which takes itself back. */
export function stopJob(app: App, by: By, id: number): Outcome<null> {
  const no = mayNot(app, by, "job.stop", id);
  if (no) return no;
  cancelJob(app.db, id);
  return done(null);
}
