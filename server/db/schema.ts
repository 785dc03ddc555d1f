/** The schema as it is after every migration, for readers: written to docs/schema.sql by `npm run schema`, compared in a test. */
import type { Db } from "./open.ts";

interface Piece {
  type: "table" | "index" | "trigger" | "view";
  name: string;
  tbl_name: string;
  sql: string;
}

/** Every table with its indexes and triggers below it, the tables by name. What SQLite keeps for itself is left out. */
export function schemaOf(db: Db): string {
  const pieces = db
    .prepare<[], Piece>(
      `SELECT type, name, tbl_name, sql FROM sqlite_schema m WHERE sql IS NOT NULL AND name NOT LIKE 'sqlite_%'
         AND NOT EXISTS (SELECT 1 FROM sqlite_schema v WHERE v.sql LIKE 'CREATE VIRTUAL TABLE%' AND m.name LIKE v.name || '\\_%' ESCAPE '\\')
       ORDER BY tbl_name, type != 'table', type, name`,
    )
    .all();
  const tables = [...new Set(pieces.map(({ tbl_name }) => tbl_name))];
  return [
    "-- The database as it is now. Made from the migrations (server/db/migrations) by `npm run schema`; nobody has to read these.\n",
    ...tables.map((table) =>
      pieces
        .filter(({ tbl_name }) => tbl_name === table)
        .map(({ sql }) => `${sql};\n`)
        .join(""),
    ),
  ].join("\n");
}
