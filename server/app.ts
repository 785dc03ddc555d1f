/** What every use case needs: the database, the key, the clock, the settings. */
import { type Clock, clockOf } from "./clock.ts";
import { type Config, readConfig } from "./config.ts";
import { type Db, holdsData, openDb, type Tx } from "./db/open.ts";
import { loadKey } from "./secrets.ts";

export interface App {
  db: Db;
  key: Buffer;
  clock: Clock;
  config: Config;
}

/** Within a transaction. */
export type AppTx = App & { db: Tx };

/** Throws `key_missing` where the database has data and its key is not there. */
export function openApp(config: Config = readConfig()): App {
  const db = openDb(config.database, config.standin !== null);
  return { db, key: loadKey(config, holdsData(db)), clock: clockOf(db), config };
}

let shared: App | null = null;
/** The web process's own, opened at the first request. */
export function webApp(): App {
  shared ??= openApp();
  return shared;
}

/**
 * Reads all of it as it stands at one instant. Between two statements another process may write, and what was read
 * before would not fit what is read after: work that is shown as going on, of which nothing goes on any more. `read` writes nothing.
 */
export const readTogether = <T>({ db }: App, read: () => T): T => db.transaction(read).deferred();
