/** Settings of the whole installation, by name. */
import { Kept } from "../../core/kept.ts";
import { type Db, sql } from "./open.ts";

export function readSetting(db: Db, name: string): string | null {
  return (
    sql(db, "SELECT value FROM settings WHERE name = @name").get<{ value: string }>({
      name,
    })?.value ?? null
  );
}

export function writeSetting(db: Db, name: string, value: string): void {
  sql(
    db,
    "INSERT INTO settings (name, value) VALUES (@name, @value) ON CONFLICT (name) DO UPDATE SET value = @value",
  ).run({ name, value });
}

/** A reader of one setting that parses each of its texts once; `parse` gets "{}" for one that was never set. What it returns is shared: change none of it. */
export function settingReader<T>(name: string, parse: (value: unknown) => T): (db: Db) => T {
  const parsed = new Kept<T>();
  return (db) => {
    const text = readSetting(db, name) ?? "{}";
    return parsed.get(text, () => parse(JSON.parse(text)));
  };
}
