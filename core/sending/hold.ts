/** Whether a journey's next email may go, as far as it is not a matter of hours and turns. Said once, for the plan and for the claim. */
import { mayWriteTo, type Verdict, type WritesTo } from "../prospects/verdict.ts";
import type { Wait, WaitReason } from "./reasons.ts";

export interface MailboxStanding {
  address: string;
  state: "active" | "paused" | "resting";
  restUntil: number | null;
  /** Why its inbox cannot be read. */
  trouble: string | null;
  smtpTrouble: string | null;
  smtpRetryAt: number | null;
  smtpStopped: 0 | 1;
  /** When its inbox was first read to the end; null: it has never connected. */
  connectedWall?: number | null;
  removedAt?: number | null;
}

export interface JourneyStanding {
  /** 1 while an email of it is claimed and not settled, 2 if nobody can tell whether it left. */
  settling: 0 | 1 | 2;
  /** "" or null if none is known. */
  email: string | null;
  verdict: Verdict | null;
  waitReason: WaitReason | null;
  waitDetail: string | null;
  /** A hold of its own, of the prospect or of the company, that is on. */
  held: { reason: WaitReason; detail: string | null; until: number | null } | null;
}

const NEVER_CONNECTED = "Its mailbox has not connected yet.";

/** Holds that only a person ends. */
const ASKED: readonly WaitReason[] = ["merge_field_empty", "text_broken", "likely_reply"];

const hold = (reason: WaitReason, detail: string | null = null): Wait => ({ reason, until: null, detail });

/** Why nothing goes from a mailbox now, or null. One that rests until an instant is left to the plan, which knows its hours. */
export function mailboxHold(mailbox: MailboxStanding | undefined, now: number): Wait | null {
  if (!mailbox || mailbox.removedAt != null) return hold("no_mailbox");
  if (mailbox.state === "paused") return hold("mailbox_paused", mailbox.address);
  if (mailbox.state === "resting" && mailbox.restUntil === null)
    return hold("mailbox_resting", mailbox.address);
  if (mailbox.smtpStopped === 1) return hold("mailbox_stopped", mailbox.smtpTrouble);
  if (mailbox.connectedWall === null) return hold("mailbox_unreachable", NEVER_CONNECTED);
  // A mailbox whose replies cannot be read must not send: it could write after a stop.
  if (mailbox.trouble) return hold("mailbox_unreachable", mailbox.trouble);
  if (mailbox.smtpTrouble && (mailbox.smtpRetryAt ?? 0) > now)
    return { reason: "mailbox_unreachable", until: mailbox.smtpRetryAt, detail: mailbox.smtpTrouble };
  return null;
}

/** Whether nothing goes from a mailbox now, for a hold or for a rest: then a thread of it may go on from another, where the sequence says so. */
export const isSilent = (mailbox: MailboxStanding | undefined, now: number): boolean =>
  mailboxHold(mailbox, now) !== null ||
  (mailbox?.state === "resting" && (mailbox.restUntil === null || mailbox.restUntil > now));

/** Why a journey does not go, whatever its mailbox; null if nothing holds it. */
export function journeyHold(
  journey: JourneyStanding,
  sequence: { state: "draft" | "running" | "paused"; writesTo: WritesTo },
): Wait | null {
  if (journey.settling !== 0) return hold(journey.settling === 2 ? "undecided" : "settling");
  if (sequence.state !== "running") return hold("sequence_paused");
  if (journey.held) return journey.held;
  if (journey.waitReason !== null && ASKED.includes(journey.waitReason))
    return hold(journey.waitReason, journey.waitDetail);
  if (!journey.email) return hold("no_address");
  return mayWriteTo(sequence.writesTo, journey.verdict)
    ? null
    : hold("address_not_good", journey.verdict ?? "unchecked");
}
