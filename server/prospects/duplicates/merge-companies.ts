import type { App } from "../../app.ts";
import { sql } from "../../db/open.ts";

/** Moves everybody to one company; the other's domain leads there from now on. */
export function mergeCompanies({ db }: App, { keepId, goneId }: { keepId: number; goneId: number }): void {
  if (keepId === goneId) return;
  const ids = { keepId, goneId };
  db.transaction(() => {
    // The one that remains takes over a domain if it has none: its people are found by it.
    const gone = sql<{ goneId: number }, { domain: string | null }>(
      db,
      "SELECT domain FROM companies WHERE id = @goneId",
    ).get({ goneId });
    const kept = sql<{ keepId: number }, { domain: string | null }>(
      db,
      "SELECT domain FROM companies WHERE id = @keepId",
    ).get({ keepId });
    if (!kept || !gone) return;
    if (kept.domain === null && gone.domain !== null) {
      sql<typeof ids>(db, "UPDATE companies SET domain = NULL WHERE id = @goneId AND @keepId > 0").run(ids);
      sql<Record<string, unknown>>(db, "UPDATE companies SET domain = @domain WHERE id = @keepId").run({
        keepId,
        domain: gone.domain,
      });
    }
    sql<typeof ids>(
      db,
      `UPDATE prospects SET company_id = @keepId, company = (SELECT name FROM companies WHERE id = @keepId)
       WHERE company_id = @goneId`,
    ).run(ids);
    sql<typeof ids>(
      db,
      "UPDATE companies SET merged_into = @keepId WHERE id = @goneId OR merged_into = @goneId",
    ).run(ids);
  })();
}
