/** What every use case needs: the database, the key, the clock, the settings. */
import { type Clock, clockOf } from "./clock.ts";
import { type Config, readConfig } from "./config.ts";
import { type Db, holdsData, openDb } from "./db/open.ts";
import { loadKey } from "./secrets.ts";

export interface App {
  db: Db;
  key: Buffer;
  clock: Clock;
  config: Config;
}

/** Throws `key_missing` where the database has data and its key is not there. */
export function openApp(config: Config = readConfig()): App {
  const db = openDb(config.database);
  return { db, key: loadKey(config, holdsData(db)), clock: clockOf(db), config };
}

let shared: App | null = null;
/** The web process's own, opened at the first request. */
export function webApp(): App {
  shared ??= openApp();
  return shared;
}
