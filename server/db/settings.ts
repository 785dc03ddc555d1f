/** Settings of the whole installation, by name. */
import { type Db, sql } from "./open.ts";

export function readSetting(db: Db, name: string): string | null {
  return (
    sql<{ name: string }, { value: string }>(db, "SELECT value FROM settings WHERE name = @name").get({
      name,
    })?.value ?? null
  );
}

export function writeSetting(db: Db, name: string, value: string): void {
  sql<{ name: string; value: string }>(
    db,
    "INSERT INTO settings (name, value) VALUES (@name, @value) ON CONFLICT (name) DO UPDATE SET value = @value",
  ).run({ name, value });
}
