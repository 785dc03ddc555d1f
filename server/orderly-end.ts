/** Ends a process whose state nobody can vouch for any more, in order: what is under way first, within a time. */
import type { App } from "./app.ts";
import { noteFailure } from "./db/failures.ts";

/** In-flight answers and emails take no longer, or are cut off. */
const ENDS_WITHIN = 8_000;

/**
 * What nobody caught (https://nodejs.org/api/process.html#warning-using-uncaughtexception-correctly) is logged and
 * counted; then `end` finishes what is under way, and the supervisor starts the process anew.
 */
export function endOnUncaught({ db }: App, name: string, end: () => Promise<void>): void {
  let ending = false;
  const fail = (error: unknown) => {
    noteFailure(db, "uncaught", name, error);
    if (ending) return;
    ending = true;
    setTimeout(() => process.exit(1), ENDS_WITHIN).unref();
    void end().then(
      () => process.exit(1),
      () => process.exit(1),
    );
  };
  process.on("uncaughtException", fail);
  process.on("unhandledRejection", fail);
}
