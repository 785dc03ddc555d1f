import type { App } from "../../app.ts";
import { remember } from "../../consequences/remember.ts";
import { ofCompanyMerge } from "../../consequences/scopes.ts";
import { type Db, sql, transact } from "../../db/open.ts";

/** Moves everybody to one company; the other's domain leads there from now on. Returns the id by which it is undone, or null. */
export function mergeCompanies(
  { db, clock }: App,
  { keepId, goneId }: { keepId: number; goneId: number },
  userId: number | null,
): number | null {
  if (keepId === goneId) return null;
  return transact({ db }, ({ db }) => {
    const name = sql(db, "SELECT name FROM companies WHERE id = @id");
    const [kept, gone] = [
      name.get<{ name: string }>({ id: keepId }),
      name.get<{ name: string }>({ id: goneId }),
    ];
    if (!kept || !gone) return null;
    const about = {
      kind: "merge_companies" as const,
      prospectId: null,
      userId,
      of: [keepId, goneId],
      what: `${gone.name} became one company with ${kept.name}`,
      at: clock.now(),
    };
    return remember(db, about, ofCompanyMerge(keepId, goneId), () => intoOne(db, keepId, goneId));
  });
}

function intoOne(db: Db, keepId: number, goneId: number): void {
  const ids = { keepId, goneId };
  const domain = sql(db, "SELECT domain FROM companies WHERE id = @id");
  // The one that remains takes over a domain if it has none: its people are found by it.
  const theirs = domain.get<{ domain: string | null }>({ id: goneId })?.domain ?? null;
  if (theirs !== null && domain.get<{ domain: string | null }>({ id: keepId })?.domain === null) {
    sql(db, "UPDATE companies SET domain = NULL WHERE id = @goneId").run({ goneId });
    sql(db, "UPDATE companies SET domain = @domain WHERE id = @keepId").run({
      keepId,
      domain: theirs,
    });
  }
  // What was found out about either is known of both; where both have it, the one that remains keeps its own.
  sql(db, "UPDATE OR IGNORE column_values SET company_id = @keepId WHERE company_id = @goneId").run(ids);
  sql(
    db,
    `UPDATE prospects SET company_id = @keepId, company = (SELECT name FROM companies WHERE id = @keepId)
     WHERE company_id = @goneId`,
  ).run(ids);
  sql(db, "UPDATE companies SET merged_into = @keepId WHERE id = @goneId OR merged_into = @goneId").run(ids);
}
