import { z } from "zod";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";

const form = z.object({ kind: z.enum(["next_event", "next_morning"]) });

/** Asks the engine to move the demo's clock; false outside the demo or while a move goes on. */
export function askMove({ db, config }: App, input: unknown): boolean {
  const read = form.safeParse(input);
  if (!config.demo || !read.success) return false;
  return (
    sql(
      db,
      `INSERT INTO clock_moves (kind) SELECT @kind
       WHERE NOT EXISTS (SELECT 1 FROM clock_moves WHERE state IN ('asked', 'moving'))`,
    ).run({ kind: read.data.kind }).changes === 1
  );
}

/** Stops a move where it is. */
export function cancelMove({ db }: App): void {
  sql(db, "UPDATE clock_moves SET state = 'cancelled' WHERE state IN ('asked', 'moving')").run([]);
}
