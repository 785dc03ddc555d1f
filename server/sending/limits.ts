/** What the claim asks once more before an email goes: every limit, as it stands now. The plan spends from the same budgets. */
import { DAY, dayNumberOf, HOUR, instantOnDay, MINUTE } from "../../core/calendar.ts";
import { RollingBudget } from "../../core/sending/budget.ts";
import type { WaitReason } from "../../core/sending/reasons.ts";
import { limitToday, type Sender } from "../../core/sending/sender.ts";
import type { ActiveJourney } from "../db/journeys.ts";
import { type Mailbox, standingOf } from "../db/mailboxes.ts";
import type { Db } from "../db/open.ts";
import type { Sequence } from "../db/sequences.ts";
import { readSendingSettings } from "./rules.ts";
import { domainsLately, paceOf } from "./situation.ts";

export interface ToSend {
  sequence: Sequence;
  mailbox: Mailbox;
  journey: ActiveJourney;
  email: string;
}

/** The first limit that an email would pass if it went now, or null. `sender`: its mailbox, as it stands now. */
export function passedLimit(
  db: Db,
  { sequence, mailbox, journey, email }: ToSend,
  now: number,
  sender: Sender = standingOf(db, mailbox, now),
): WaitReason | null {
  if (sender.restsUntil !== null && sender.restsUntil > now) return "mailbox_resting";
  const limit = limitToday(sender);
  if (sender.sentToday >= limit) return limit < sender.dailyLimit ? "ramp" : "mailbox_limit";
  if (sender.lastSentAt !== null && now - sender.lastSentAt < sender.gapMinutes.least * MINUTE) return "gap";
  if (sender.hourlyLimit != null && !new RollingBudget(sender.hourlyLimit, HOUR, sender.sentLately).fits(now))
    return "hour_limit";
  const pace = paceOf(db, sequence, now);
  if (pace) {
    if (journey.mailboxId === null && pace.newADay !== null && pace.begunToday >= pace.newADay)
      return "new_a_day";
    if (pace.perHour !== null && !new RollingBudget(pace.perHour, HOUR, pace.sentLately).fits(now))
      return "pace";
    const between = (pace.minutesBetween ?? 0) * MINUTE;
    if (between > 0 && !new RollingBudget(1, between, pace.sentLately).fits(now)) return "pace";
  }
  const { domainADay, daysBetween } = readSendingSettings(db);
  const domain = email.split("@")[1] ?? "";
  if (
    domainADay !== null &&
    !new RollingBudget(domainADay, DAY, domainsLately(db, now, domain).get(domain)).fits(now)
  )
    return "domain_cap";
  if (daysBetween > 0 && journey.lastTouchAt !== null) {
    const zone = journey.prospectZone ?? sequence.zone;
    if (instantOnDay(dayNumberOf(journey.lastTouchAt, zone) + daysBetween, 0, zone) > now)
      return "touched_lately";
  }
  return null;
}
