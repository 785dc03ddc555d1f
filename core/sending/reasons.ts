/**
 * Why a journey waits: a closed list. The core decides, the server records, the screen words it.
 */

export const WAIT_REASONS = [
  /** The working days after the step before are not over. */
  "wait_days",
  /** It is night, a weekend or outside the sending hours where the prospect is. */
  "outside_hours",
  /** Its mailboxes have sent all they may today. */
  "mailbox_limit",
  /** Its turn comes today; some minutes pass between two emails of a mailbox. */
  "in_line",
  /** The email left the ledger; what became of it is being looked up. */
  "settling",
  /** Nobody can tell whether the last email left: the rep decides. */
  "undecided",
  /** Somebody of the company seems to have answered: the rep says whether it is an answer. */
  "likely_reply",
  /** A merge field without a fallback is empty. */
  "merge_field_empty",
  /** The text cannot be filled in. */
  "text_broken",
  "sequence_paused",
  "mailbox_paused",
  /** Too many of its emails came back. */
  "mailbox_resting",
  /** The mailbox's server cannot be reached or refuses the password. */
  "mailbox_unreachable",
  /** The mailbox's server refuses its emails by its rules or settings, until a person has looked at it. */
  "mailbox_stopped",
  "no_mailbox",
  /** The receiving server said "later" (4xx). */
  "refused_for_now",
  /** The address is not as sure as the sequence asks. */
  "address_not_good",
  "no_address",
] as const;
export type WaitReason = (typeof WAIT_REASONS)[number];

/** Why a journey ended before its last step. */
export type StopReason =
  | "replied"
  | "bounced"
  | "opted_out"
  | "booked"
  | "blocked"
  | "stopped_by_rep"
  | "refused"
  | "left_company"
  | "complained"
  | "merged"
  | "erased";

export interface Wait {
  reason: WaitReason;
  /** The instant at which it goes on, as far as known. */
  until: number | null;
  /** What the reason is about: the empty field, the server's words. */
  detail: string | null;
}
