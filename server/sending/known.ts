/** What the rules of core/sending/may-go.ts ask of somebody who is about to get a touch, each part read when it is asked for. */

import { alwaysOpen } from "../../core/calendar.ts";
import type { Known } from "../../core/sending/may-go.ts";
import type { WaitReason } from "../../core/sending/reasons.ts";
import type { Sender } from "../../core/sending/sender.ts";
import type { EmailStep } from "../../core/sequence/path.ts";
import { isBlocked } from "../db/block-list.ts";
import type { ActiveJourney } from "../db/journeys.ts";
import type { TouchState } from "../db/ledger.ts";
import { type Mailbox, standingOf } from "../db/mailboxes.ts";
import { type Db, sql } from "../db/open.ts";
import type { Sequence } from "../db/sequences.ts";
import { isApproved, needsYes } from "../sequences/consider.ts";
import { calendarFor } from "../sequences/walk.ts";
import { readSendingSettings } from "./rules.ts";
import { domainsLately, paceOf } from "./spent.ts";

/** What is asked of every touch of a journey, whichever way it goes. */
class KnownTouch {
  constructor(
    protected readonly db: Db,
    readonly journey: ActiveJourney,
    readonly sequence: Sequence,
    protected readonly now: number,
  ) {}

  get person(): Known["person"] {
    return { isBlocked: isBlocked(this.db, this.journey.email ?? ""), held: this.journey.held };
  }

  get hours(): Known["hours"] {
    return calendarFor(this.sequence, this.journey.prospectZone, this.journey.prospectCountry, this.now);
  }

  get team(): Known["team"] {
    const { lastTouchAt, prospectZone } = this.journey;
    const { daysBetween } = readSendingSettings(this.db);
    return { daysBetween, lastTouchAt, zone: prospectZone ?? this.sequence.zone };
  }
}

export class KnownEmail extends KnownTouch {
  readonly sender: Sender;

  constructor(
    db: Db,
    journey: ActiveJourney,
    sequence: Sequence,
    readonly mailbox: Mailbox,
    private readonly step: EmailStep,
    now: number,
  ) {
    super(db, journey, sequence, now);
    this.sender = standingOf(db, mailbox, now);
  }

  get address(): Known["address"] {
    const { email, addressState: state } = this.journey;
    return { email, state, writesTo: this.sequence.writesTo, isNeeded: true };
  }

  get place(): Known["place"] {
    const { db, sequence, journey } = this;
    return {
      touch: waitingState(journey.placeState),
      wakeAt: null,
      account: null,
      isOpenFork: false,
      comesAfterFirstOnes: comesAfterFirstOnes(db, sequence, journey),
    };
  }

  get approval(): Known["approval"] {
    const { db, sequence, step, journey } = this;
    return { isMissing: journey.placeState === null && needsYes(db, sequence, step, journey) };
  }

  get pace(): Known["pace"] {
    return { pace: paceOf(this.db, this.sequence, this.now), isFirst: this.journey.mailboxId === null };
  }

  get domain(): Known["domain"] {
    const most = readSendingSettings(this.db).domainADay;
    const domain = (this.journey.email ?? "").split("@")[1] ?? "";
    return {
      most,
      sentAt: most === null ? [] : (domainsLately(this.db, this.now, domain).get(domain) ?? []),
    };
  }

  override get hours(): Known["hours"] {
    return this.sequence.kind === "single" && this.step.anyHour === true
      ? alwaysOpen(super.hours)
      : super.hours;
  }
}

export class KnownSocial extends KnownTouch {
  constructor(
    db: Db,
    journey: ActiveJourney,
    sequence: Sequence,
    readonly account: Known["account"],
    now: number,
  ) {
    super(db, journey, sequence, now);
  }
}

/** Of what became of a step, what can still keep it from going. */
export const waitingState = (state: TouchState | null): Known["place"]["touch"] =>
  state === "draft" || state === "open" ? state : null;

/** Why one person's email does not come up; it holds nobody else. */
const OWN_TROUBLE: readonly WaitReason[] = [
  ...([
    "merge_field_empty",
    "line_unread",
    "picture_unmade",
    "text_broken",
    "no_address",
    "address_not_good",
    "refused_for_now",
  ] as const),
  ...(["paused_by_rep", "colleague_replied", "away", "came_back_twice", "challenged"] as const),
  ...(["refused_by_host", "after_restore", "likely_reply", "undecided"] as const),
];

/**
 * With "the first N by hand", the others wait until somebody has decided about the first email of each of those. Whoever has a
 * yes from before the start goes; and of the N nobody is waited for whose email cannot come up, for a trouble of their own.
 * `known`: by sequence, whether the first ones are open, where many are asked about at once.
 */
export function comesAfterFirstOnes(
  db: Db,
  { id, settings }: Sequence,
  { mailboxId, placeId, placeState, prospectId }: ActiveJourney,
  known = new Map<number, boolean>(),
): boolean {
  if (settings.approval !== "first" || mailboxId !== null || placeState !== null) return false;
  if (isApproved(db, id, placeId ?? "", prospectId)) return false;
  let open = known.get(id);
  if (open === undefined) {
    open =
      sql(
        db,
        `SELECT 1 FROM (SELECT id, prospect_id, state, wait_reason FROM journeys WHERE sequence_id = @id ORDER BY id LIMIT @first) j
         WHERE j.state = 'active' AND coalesce(j.wait_reason, '') NOT IN (SELECT value FROM json_each(@own))
           AND NOT EXISTS (SELECT 1 FROM approvals a WHERE a.sequence_id = @id AND a.prospect_id = j.prospect_id)
           AND NOT EXISTS (
             SELECT 1 FROM touches t WHERE t.journey_id = j.id AND t.kind IN ('email', 'approved_email') AND t.state != 'draft')
         LIMIT 1`,
      ).get({ id, first: settings.approveFirst, own: JSON.stringify(OWN_TROUBLE) }) !== undefined;
    known.set(id, open);
  }
  return open;
}
