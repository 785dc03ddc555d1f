import { blockAddress } from "../db/block-list.ts";
import { stopJourneys } from "../db/journeys.ts";
import type { Touch } from "../db/ledger.ts";
import type { Db } from "../db/open.ts";
import { prospectById } from "../db/prospects.ts";

/** After a hard bounce nothing is sent to that address again. Who has another one by now is written to there. */
export function bounced(db: Db, { recipient, prospectId }: Touch, words: string, at: number): void {
  if (recipient === "") return; // erased since
  blockAddress(db, recipient, "bounced", at);
  if (prospectById(db, prospectId)?.email === recipient) stopJourneys(db, prospectId, "bounced", words, at);
}
