/** Whether mail servers are asked about addresses: a rep's choice, off until somebody makes it. */
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";

/** In the demo the servers are our own, so it begins switched on. */
export function isProbeOn({ db, config }: App): boolean {
  const value = sql<[], { value: string }>(db, "SELECT value FROM settings WHERE name = 'probe'").get(
    [],
  )?.value;
  return value === undefined ? config.demo : value === "on";
}

export function setProbe({ db }: App, on: boolean): void {
  sql<{ value: string }>(
    db,
    "INSERT INTO settings (name, value) VALUES ('probe', @value) ON CONFLICT (name) DO UPDATE SET value = @value",
  ).run({ value: on ? "on" : "off" });
}

/** Pause between two questions to one server, in milliseconds: as slow as a person would type, but for our own servers. */
export const probePause = ({ config }: App) => (config.demo ? 0 : 1_500);
