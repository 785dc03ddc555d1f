/** Opens and clicks, as far as mail programs let them be seen: noted here, judged by the engine (server/replies/judge-loads.ts). */
import { plainLine } from "../../core/plain-line.ts";
import { networkOf } from "../../core/replies/loads.ts";
import type { App } from "../app.ts";
import { touchById } from "../db/ledger.ts";
import { sql, transact } from "../db/open.ts";
import { isBusy } from "../errors.ts";
import type { Asker } from "../pages/email-before.ts";
import { readLink } from "../secrets.ts";

/** One transparent pixel. */
export const PIXEL = Buffer.from("R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7", "base64");

/** So many loads of one email's pixel, and of its links, are kept to be judged; more are only counted. */
const MOST_KEPT = 12;
const LONGEST_AGENT = 300;

/** Notes a load; whoever is writing does not make the reader's mail program wait for its picture. */
function note(
  { db, clock }: App,
  touchId: number,
  kind: "opened" | "clicked",
  url: string | null,
  asker: Asker,
): void {
  if (!touchById(db, touchId)) return;
  try {
    transact({ db: db }, ({ db }) => {
      const tally = sql(
        db,
        `INSERT INTO load_tallies (touch_id, kind, loads) VALUES (@touchId, @kind, 1)
         ON CONFLICT (touch_id, kind) DO UPDATE SET loads = loads + 1 RETURNING loads`,
      ).get<{ loads: number }>({ touchId, kind });
      if ((tally?.loads ?? 1) > MOST_KEPT) return;
      sql(
        db,
        `INSERT INTO loads (touch_id, kind, at, agent, network, url, is_head, is_own)
         VALUES (@touchId, @kind, @at, @agent, @network, @url, @isHead, @isOwn)`,
      ).run({
        ...{ touchId, kind, url, at: clock.now() },
        ...{ agent: plainLine(asker.agent, LONGEST_AGENT), network: networkOf(asker.ip) },
        ...{ isHead: Number(asker.isHead), isOwn: Number(asker.isOwn) },
      });
    });
  } catch (error) {
    if (!isBusy(error)) throw error;
  }
}

export function recordOpen(app: App, token: string, asker: Asker): void {
  const payload = readLink("open", token, app.key);
  if (payload) note(app, Number(payload), "opened", null, asker);
}

/** Notes a click and returns where it leads; null for a link that we did not sign, so that nobody can misuse the address. */
export function recordClick(app: App, token: string, asker: Asker): string | null {
  const payload = readLink("click", token, app.key);
  if (!payload) return null;
  const space = payload.indexOf(" ");
  const url = payload.slice(space + 1);
  note(app, Number(payload.slice(0, space)), "clicked", url, asker);
  return url;
}
