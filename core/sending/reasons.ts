/**
 * Why a journey waits: a closed list. The core decides, the server records, the screen words it.
 */

export const WAIT_REASONS = [
  /** The working days after the step before are not over. */
  "wait_days",
  /** It is night, a weekend or outside the sending hours where the prospect is. */
  "outside_hours",
  /** A public holiday where the prospect is. */
  "holiday",
  /** Its mailboxes have sent all they may today. */
  "mailbox_limit",
  /** Its mailboxes are young, and may send less than they will later. */
  "ramp",
  /** Its mailboxes have sent all they may within an hour. */
  "hour_limit",
  /** The pauses between two emails leave no more room in their hours today. */
  "gap",
  /** As many have begun the sequence today as it says. */
  "new_a_day",
  /** Follow-ups have had their share of the day. */
  "ratio",
  /** As many have gone to their company's mail domain today as may. */
  "domain_cap",
  /** The sequence's own pace. */
  "pace",
  /** Somebody of the team touched them lately. */
  "touched_lately",
  /** The social account has done all that it may within seven days. */
  "account_limit",
  /** The social account is signed out. */
  "account_signed_out",
  /** The rep paused the social account. */
  "account_paused",
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
  /** A line that the assistant wrote stands in the text, and nobody has read it. */
  "line_unread",
  /** The moving picture that it shows is being made. */
  "picture_unmade",
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
  /** What only the rep can do is open. */
  "task_open",
  /** The email waits for the rep's yes. */
  "draft_open",
  /** The first people's emails are read before the others get theirs. */
  "first_ones",
  /** A fork waits for its answer. */
  "fork_open",
  "paused_by_rep",
  /** Somebody else of the company has answered. */
  "colleague_replied",
  /** They are away. */
  "away",
  /** Two emails in a row came back for now. */
  "came_back_twice",
  /** Their server wants a person to confirm that a person wrote. */
  "challenged",
  /** Their host refused the email again by its rules, while others pass: about this person only. */
  "refused_by_host",
  /** It may have left in the time that a restored database knows nothing of: the rep decides. */
  "after_restore",
] as const;
export type WaitReason = (typeof WAIT_REASONS)[number];

/** These end only when somebody does something; the others by themselves. */
export const WAITS_FOR_SOMEBODY: ReadonlySet<WaitReason> = new Set<WaitReason>([
  "account_signed_out",
  "account_paused",
  "undecided",
  "likely_reply",
  "merge_field_empty",
  "line_unread",
  "text_broken",
  "sequence_paused",
  "mailbox_paused",
  "mailbox_unreachable",
  "mailbox_stopped",
  "no_mailbox",
  "address_not_good",
  "no_address",
  "task_open",
  "draft_open",
  "first_ones",
  "paused_by_rep",
  "colleague_replied",
  "challenged",
  "refused_by_host",
  "after_restore",
]);

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
  | "opened"
  | "clicked"
  /** Their stage says so. */
  | "stage"
  /** A field has the value at which the sequence stops. */
  | "field"
  | "merged"
  | "erased";

export interface Wait {
  reason: WaitReason;
  /** The instant at which it goes on, as far as known. */
  until: number | null;
  /** What the reason is about: the empty field, the server's words. */
  detail: string | null;
}
