/** Writes that come at the same moment share one commit: each waits for the disk only once for all. */

import { isBusy } from "../errors.ts";
import type { Db, Tx } from "./open.ts";

const TRIES_EVERY = 100;

interface Waiting {
  work: (db: Tx) => unknown;
  resolve: (value: never) => void;
  reject: (error: unknown) => void;
}

const waiting = new WeakMap<Db, Waiting[]>();

/** Runs `work` in a transaction of its own inside the shared one, so that one that throws takes back only itself. */
export function inOneCommit<T>(db: Db, work: (db: Tx) => T): Promise<T> {
  return new Promise<T>((resolve, reject) => {
    const line = waiting.get(db);
    const item: Waiting = { work, resolve: resolve as (value: never) => void, reject };
    if (line) {
      line.push(item);
      return;
    }
    const all = [item];
    waiting.set(db, all);
    setImmediate(() => {
      waiting.delete(db);
      commit(db, all);
    });
  });
}

/** What is written here must not be lost to somebody who holds the database for a while: it is tried until they let go. */
function commit(db: Db, all: readonly Waiting[]): void {
  const done: (() => void)[] = [];
  try {
    db.transaction(() => {
      const [first] = all;
      if (first && all.length === 1) {
        // Nobody else's work has to be kept apart from it.
        const value = first.work(db as Tx) as never;
        done.push(() => first.resolve(value));
      } else
        for (const each of all)
          try {
            const value = db.transaction(() => each.work(db as Tx))() as never;
            done.push(() => each.resolve(value));
          } catch (error) {
            done.push(() => each.reject(error));
          }
    }).immediate();
  } catch (error) {
    if (isBusy(error)) setTimeout(commit, TRIES_EVERY, db, all);
    else for (const each of all) each.reject(error);
    return;
  }
  for (const tell of done) tell();
}
