/** Applies what follows from what happened to a prospect (core/replies/consequences.ts). Nothing else stops, blocks or raises. */
import { consequences, type Happening } from "../../core/replies/consequences.ts";
import { blockEntry } from "../db/block-list.ts";
import { recordEvent } from "../db/events.ts";
import {
  addErrand,
  holdCompany,
  leaveAlone,
  leaveUntil,
  releaseCompanyOf,
  setHold,
  settingsFor,
} from "../db/holds.ts";
import { holdJourneys, raiseStage, resumeJourney, setStage, stopJourneys } from "../db/journeys.ts";
import { addToList } from "../db/lists.ts";
import type { Tx } from "../db/open.ts";
import { addressesOf, prospectById } from "../db/prospects.ts";
import { addReminder } from "../db/reminders.ts";

export interface About {
  at: number;
  prospectId: number;
  journeyId?: number | null;
  touchId?: number | null;
  mailboxId?: number | null;
  replyId?: number | null;
  userId?: number | null;
  /** The address that the email in question went to; "" or left out if there is none. */
  recipient?: string;
}

/**
 * Returns whether anything changed but the record; an opt-out of somebody who has opted out
 * already is not recorded again.
 */
export function apply(db: Tx, happening: Happening, about: About): boolean {
  const { at, prospectId, recipient = "" } = about;
  let changed = false;
  for (const each of consequences(happening, settingsFor(db, prospectId, about.journeyId)))
    switch (each.do) {
      case "record": {
        if (happening.kind === "opted_out" && !changed) break;
        const { recipient: _recipient, ...event } = about;
        recordEvent(db, { ...event, kind: each.kind, detail: each.detail, bounce: each.bounce });
        break;
      }
      case "stop":
        // Who has another address by now is written to there.
        if (each.ifAddress && prospectById(db, prospectId)?.email !== recipient) break;
        if (stopJourneys(db, prospectId, each.reason, each.detail, at).length > 0) changed = true;
        break;
      case "hold":
        holdJourneys(db, prospectId, each.reason);
        changed = true;
        break;
      case "leave_alone":
        leaveAlone(db, prospectId, each.days, at);
        break;
      case "hold_company":
        holdCompany(db, prospectId, at);
        break;
      case "errand":
        addErrand(db, { prospectId, journeyId: about.journeyId ?? null, text: each.text, at });
        break;
      case "hold_person":
        setHold(db, {
          scope: "prospect",
          scopeId: prospectId,
          reason: each.reason,
          detail: each.detail,
          since: at,
          until: null,
          causeProspectId: null,
        });
        break;
      case "leave_until":
        leaveUntil(db, prospectId, each.day, at);
        break;
      case "resume":
        if (resumeJourney(db, about.journeyId ?? 0, { ...each, now: at })) changed = true;
        break;
      case "release_company":
        releaseCompanyOf(db, prospectId, at);
        break;
      case "set_stage":
        if (setStage(db, prospectId, each.to, about)) changed = true;
        break;
      case "add_to_list":
        addToList(db, each.listId, prospectId);
        break;
      case "remind":
        addReminder(db, {
          ...about,
          replyId: about.replyId ?? null,
          userId: about.userId ?? null,
          kind: each.kind,
          text: each.text,
          day: each.day,
        });
        break;
      case "raise":
        raiseStage(db, prospectId, each.to);
        break;
      case "block": {
        const addresses =
          each.whose === "person" ? addressesOf(db, prospectId) : recipient === "" ? [] : [recipient]; // "": erased since
        const userId = about.userId ?? null;
        for (const value of addresses)
          if (blockEntry(db, { kind: "address", value, reason: each.reason, at, userId })) changed = true;
        break;
      }
      default:
        each satisfies never;
    }
  return changed;
}
