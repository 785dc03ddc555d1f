/** Opens and clicks, as far as mail programs let them be seen. */
import type { App } from "../app.ts";
import { recordEvent } from "../db/events.ts";
import { type Touch, touchById } from "../db/ledger.ts";
import { readLink } from "../secrets.ts";

/** One transparent pixel. */
export const PIXEL = Buffer.from("R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7", "base64");

function record(app: App, touch: Touch | undefined, kind: "opened" | "clicked", detail: string | null): void {
  if (!touch) return;
  const { prospectId, journeyId, mailboxId, id } = touch;
  recordEvent(app.db, { at: app.clock.now(), kind, prospectId, journeyId, mailboxId, touchId: id, detail });
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
