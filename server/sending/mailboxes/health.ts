/** How each mailbox does: what came of its mail in 7 and 30 days, and what that means. */
import { DAY } from "../../../core/calendar.ts";
import { type HealthVerdict, healthOf, NOTHING_SENT, type SentCounts } from "../../../core/sending/rest.ts";
import type { App } from "../../app.ts";
import { allMailboxes } from "../../db/mailboxes.ts";
import { readSendingSettings } from "../rules.ts";
import { sentCounts } from "./rest.ts";

export interface MailboxHealth {
  id: number;
  address: string;
  verdict: HealthVerdict;
  week: SentCounts;
  month: SentCounts;
}

export function mailboxHealth({ db, clock }: App): MailboxHealth[] {
  const now = clock.now();
  const rules = readSendingSettings(db).rest;
  const [week, month] = [sentCounts(db, now - 7 * DAY), sentCounts(db, now - 30 * DAY)];
  const judged = rules.windowDays === 7 ? week : sentCounts(db, now - rules.windowDays * DAY);
  return allMailboxes(db).map(({ id, address, state }) => ({
    id,
    address,
    verdict: healthOf(judged.get(id) ?? NOTHING_SENT, state === "resting", rules),
    week: week.get(id) ?? NOTHING_SENT,
    month: month.get(id) ?? NOTHING_SENT,
  }));
}
