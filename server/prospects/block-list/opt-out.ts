import type { App } from "../../app.ts";
import { apply } from "../../consequences/apply.ts";
import { emailTheyHave, noteLinkFollowed } from "../../db/ledger.ts";
import { transact } from "../../db/open.ts";
import { prospectById, remainingProspect } from "../../db/prospects.ts";
import { AppError } from "../../errors.ts";
import { readLink } from "../../secrets.ts";

/**
 * The address an opt-out link belongs to, partly hidden, since links get forwarded, and whose it is; null for somebody who
 * was erased. Throws `link_invalid`.
 */
export function optOutAddress(
  app: App,
  token: string,
): { address: string; prospectId: number } | { address: null; prospectId: null } {
  const prospect = remainingProspect(app.db, prospectIdOf(app, token));
  return prospect
    ? { address: prospect.email.replace(/^(.).*(@.*)$/, "$1…$2"), prospectId: prospect.id }
    : { address: null, prospectId: null };
}

/** Stops everything for a prospect and puts the address on the block list; doing so again changes nothing. Throws `link_invalid`. */
export function optOut(app: App, token: string): void {
  optOutProspect(app, prospectIdOf(app, token));
}

/** The same, where the link was read. Who was merged opts out with every address they had. */
export function optOutProspect({ db, clock }: App, prospectId: number): void {
  const now = clock.now();
  transact({ db: db }, ({ db }) => {
    const id = remainingProspect(db, prospectId)?.id;
    if (id === undefined) return;
    noteLinkFollowed(db, id);
    const touch = emailTheyHave(db, id);
    const about = { journeyId: touch?.journeyId ?? null, touchId: touch?.id ?? null };
    apply(db, { kind: "opted_out" }, { at: now, prospectId: id, ...about });
  });
}

function prospectIdOf({ db, key }: App, token: string): number {
  const payload = readLink("opt-out", token, key);
  const id = Number(payload);
  if (!payload || !prospectById(db, id)) throw new AppError("link_invalid");
  return id;
}
