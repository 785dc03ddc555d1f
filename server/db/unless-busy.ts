import { isBusy } from "../errors.ts";
import type { Db } from "./open.ts";

/** Writes at once, or not at all where somebody else writes: a look must not wait for what the next look can write too. */
export function unlessBusy(db: Db, write: () => void): void {
  const patience = db.pragma("busy_timeout", { simple: true }) as number;
  db.pragma("busy_timeout = 0");
  try {
    write();
  } catch (error) {
    if (!isBusy(error)) throw error;
  } finally {
    db.pragma(`busy_timeout = ${patience}`);
  }
}
