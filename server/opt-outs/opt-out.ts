import type { App } from "../app.ts";
import { blockAddress } from "../db/block-list.ts";
import { recordEvent } from "../db/events.ts";
import { stopJourneys } from "../db/journeys.ts";
import { latestTouchTo } from "../db/ledger.ts";
import { sql } from "../db/open.ts";
import { AppError } from "../errors.ts";
import { readLink } from "../secrets.ts";

/** The address an opt-out link belongs to, partly hidden, since links get forwarded. Throws `link_invalid`. */
export function optOutAddress(app: App, token: string): string {
  const { email } = prospectOf(app, token);
  return email.replace(/^(.).*(@.*)$/, "$1…$2");
}

/** Stops everything for a prospect and puts the address on the block list; doing so again changes nothing. */
export function optOut(app: App, token: string): void {
  const { id } = prospectOf(app, token);
  optOutProspect(app, id, null);
}

/** The same on a rep's word, when somebody asked for it in a reply. */
export function optOutProspect({ db, clock }: App, prospectId: number, userId: number | null): void {
  const now = clock.now();
  db.transaction(() => {
    const known = sql<{ prospectId: number }, unknown>(
      db,
      "SELECT 1 FROM events WHERE prospect_id = @prospectId AND kind = 'opted_out'",
    ).get({ prospectId });
    if (known) return;
    const touch = latestTouchTo(db, prospectId, 0);
    recordEvent(db, {
      at: now,
      kind: "opted_out",
      prospectId,
      journeyId: touch?.journeyId ?? null,
      touchId: touch?.id ?? null,
      userId,
    });
    stopJourneys(db, prospectId, "opted_out", null, now);
    blockAddress(db, prospectId, "opted_out", now);
  }).immediate();
}

function prospectOf({ db, key }: App, token: string): { id: number; email: string } {
  const payload = readLink("opt-out", token, key);
  const prospect =
    payload &&
    sql<{ id: number }, { id: number; email: string }>(
      db,
      "SELECT id, email FROM prospects WHERE id = @id",
    ).get({
      id: Number(payload),
    });
  if (!prospect) throw new AppError("link_invalid");
  return prospect;
}
