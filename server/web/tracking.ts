/** Opens and clicks, as far as mail programs let them be seen. */
import type { App } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import { type Touch, touchById } from "../db/ledger.ts";
import { sql, transact } from "../db/open.ts";
import { isBusy } from "../errors.ts";
import { readLink } from "../secrets.ts";

/** One transparent pixel. */
export const PIXEL = Buffer.from("R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7", "base64");

/** So many loads of one email's pixel or links are events of their own; more are only counted. */
const MOST_EVENTS = 5;

/** Counts a load; whoever is writing does not make the reader's mail program wait for its picture. */
function record(
  { db, clock }: App,
  touch: Touch | undefined,
  kind: "opened" | "clicked",
  detail: string | null,
): void {
  if (!touch) return;
  const { prospectId, journeyId, mailboxId, id: touchId } = touch;
  try {
    transact({ db: db }, ({ db }) => {
      const tally = sql(
        db,
        `INSERT INTO load_tallies (touch_id, kind, loads) VALUES (@touchId, @kind, 1)
         ON CONFLICT (touch_id, kind) DO UPDATE SET loads = loads + 1 RETURNING loads`,
      ).get<{ loads: number }>({ touchId, kind });
      if ((tally?.loads ?? 1) <= MOST_EVENTS)
        apply(db, kind === "opened" ? { kind } : { kind, url: detail ?? "" }, {
          at: clock.now(),
          prospectId,
          journeyId,
          mailboxId,
          touchId,
        });
    });
  } catch (error) {
    if (!isBusy(error)) throw error;
  }
}

export function recordOpen(app: App, token: string): void {
  const payload = readLink("open", token, app.key);
  if (payload) record(app, touchById(app.db, Number(payload)), "opened", null);
}

/** Records a click and returns where it leads; null for a link that we did not sign, so that nobody can misuse the address. */
export function recordClick(app: App, token: string): string | null {
  const payload = readLink("click", token, app.key);
  if (!payload) return null;
  const space = payload.indexOf(" ");
  const url = payload.slice(space + 1);
  record(app, touchById(app.db, Number(payload.slice(0, space))), "clicked", url);
  return url;
}
