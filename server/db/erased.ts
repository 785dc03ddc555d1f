/** People who were erased for good: of their address a one-way hash remains, so that no file brings them back. */
import { createHmac } from "node:crypto";
import { type Db, sql } from "./open.ts";

/** The database, and the key of the hash. */
interface Keyed {
  db: Db;
  key: Buffer;
}

/** Keyed, so that nobody who finds the database can try addresses against it. */
export const addressHash = (key: Buffer, email: string): string =>
  createHmac("sha256", key).update(`erased ${email}`).digest("hex");

/** Stands for somebody without an address; no other entry, in whatever copy of the database, has both numbers. */
export const personKey = ({ id, createdAt }: { id: number; createdAt: number }): string =>
  `person ${id} ${createdAt}`;

/** `who`: an address, or a `personKey`. */
export function rememberErased({ db, key }: Keyed, who: string, now: number): void {
  sql(
    db,
    `INSERT INTO erased_addresses (hash, at, newest_import) VALUES (@hash, @now, coalesce((SELECT max(id) FROM imports), 0))
     ON CONFLICT DO NOTHING`,
  ).run({ hash: addressHash(key, who), now });
}

/** A check that costs nothing as long as nobody was erased. `sinceImport`: only those who were when this import's file was here. */
export function erasedCheck({ db, key }: Keyed, sinceImport = 0): (email: string) => boolean {
  const hashes = new Set(
    sql(db, "SELECT hash FROM erased_addresses WHERE newest_import >= @sinceImport")
      .all<{ hash: string }>({ sinceImport })
      .map((row) => row.hash),
  );
  return (email) => hashes.size > 0 && email !== "" && hashes.has(addressHash(key, email));
}
