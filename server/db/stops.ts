/**
 * Who must never be written to again, kept beside the backups: a restored copy knows nothing of whoever was erased or opted
 * out since, and learns it from here. One HMAC a line, of which nobody without the key reads an address.
 */
import { appendFileSync, existsSync, mkdirSync, readFileSync } from "node:fs";
import { dirname, join } from "node:path";
import type { Config } from "../config.ts";
import { addressHash } from "./erased.ts";
import { type Db, sql } from "./open.ts";

export type StopKind = "erased" | "opted_out";

export const stopsFileOf = ({ backups, database }: Pick<Config, "backups" | "database">): string =>
  join(backups ?? dirname(database), "stops.txt");

/** The hashes of a file, by kind; none where there is no file. A line that a crash cut off is none. */
export function readStops(path: string): Record<StopKind, Set<string>> {
  const stops = { erased: new Set<string>(), opted_out: new Set<string>() };
  if (!existsSync(path)) return stops;
  for (const line of readFileSync(path, "utf8").split("\n")) {
    const [kind, hash] = line.split(" ");
    if ((kind === "erased" || kind === "opted_out") && /^[0-9a-f]{64}$/.test(hash ?? ""))
      stops[kind].add(hash as string);
  }
  return stops;
}

/** Writes down who was erased or opted out since the file was last written. Returns how many. */
export function keepStops(db: Db, key: Buffer, path: string): number {
  const known = readStops(path);
  const erased = sql(db, "SELECT hash FROM erased_addresses")
    .all<{ hash: string }>([])
    .map(({ hash }) => hash);
  const optedOut = sql(db, "SELECT value FROM block_list WHERE kind = 'address' AND reason = 'opted_out'")
    .all<{ value: string }>([])
    .map(({ value }) => addressHash(key, value));
  const lines = [
    ...erased.filter((hash) => !known.erased.has(hash)).map((hash) => `erased ${hash}`),
    ...optedOut.filter((hash) => !known.opted_out.has(hash)).map((hash) => `opted_out ${hash}`),
  ];
  if (lines.length === 0) return 0;
  mkdirSync(dirname(path), { recursive: true });
  appendFileSync(path, `${lines.join("\n")}\n`, { mode: 0o600 });
  return lines.length;
}
