/**
 * Undoes what an earlier version did where a mail server refused the mailbox and not the address: it took every refusal
 * for the recipient's fault, and put the address on the block list for good.
 */

import { faultOf } from "../../core/sending/refusal.ts";
import { type By, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import { unblockEntry } from "../db/block-list.ts";
import { sql, transact } from "../db/open.ts";
import { done, type Outcome } from "../errors.ts";

interface Mistake {
  touchId: number;
  address: string;
  prospectId: number;
  journeyId: number | null;
}

/** Blocked addresses whose only bounce is a refusal that was about us. */
function mistakes({ db }: App): Mistake[] {
  return sql(
    db,
    `SELECT t.id AS touchId, b.value AS address, t.prospect_id AS prospectId, t.journey_id AS journeyId,
       t.refused_words AS words
     FROM block_list b JOIN touches t ON t.recipient = b.value AND t.state = 'refused' AND t.refused_words IS NOT NULL
     WHERE b.kind = 'address' AND b.reason = 'bounced'
       AND NOT EXISTS (SELECT 1 FROM replies r JOIN touches x ON x.id = r.touch_id
         WHERE r.kind = 'bounce' AND x.recipient = b.value)
     ORDER BY t.id`,
  )
    .all<Mistake & { words: string }>([])
    .filter(({ words }) => {
      const code = Number(words.match(/(?:^|\D)(5\d\d)(?:\D|$)/)?.[1] ?? 0);
      const fault = faultOf({ code, words, command: "RCPT", hasSent: true });
      return code > 0 && (fault === "sender" || fault === "policy");
    });
}

export const countMistakenBlocks = (app: App): number => mistakes(app).length;

/** Takes them off the block list and lets their sequences go on with the email that was refused. Returns how many. */
export function undoMistakenBlocks(app: App, userId: By): Outcome<number> {
  const { clock } = app;
  const no = mayNot(app, userId, "blocks.mend");
  if (no) return no;
  const now = clock.now();
  return transact(app, (app): Outcome<number> => {
    const { db } = app;
    const found = mistakes(app);
    for (const { touchId, address, prospectId, journeyId } of found) {
      unblockEntry(db, { kind: "address", value: address, why: "blocked by mistake", userId, now });
      // The refused row would count as this step's email.
      if (apply(db, { kind: "unblocked" }, { at: now, prospectId, journeyId, userId }))
        clearTouch(app, touchId);
    }
    return done(found.length);
  });
}

function clearTouch({ db }: App, touchId: number): void {
  // Events point to it and stay; so it is kept, without its place in the sequence.
  sql(db, "UPDATE touches SET kind = 'answer', journey_id = NULL, step_id = NULL WHERE id = @touchId").run({
    touchId,
  });
}
