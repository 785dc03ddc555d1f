/** What can happen, by name: a closed list, which the database checks and the screens word. */
export type EventKind =
  | "journey_started"
  | "journey_stopped"
  | "journey_finished"
  | "email_sent"
  | "email_refused"
  | "opened"
  | "clicked"
  | "replied"
  | "away"
  | "bounced"
  | "opted_out"
  | "booked"
  | "answered"
  | "left_company"
  | "complained"
  | "likely_reply"
  | "booking_cancelled"
  | "booking_moved"
  | "unblocked"
  | "touch_done"
  | "touch_skipped"
  | "accepted"
  | "approved"
  | "labelled"
  | "label_undone"
  | "stage_set"
  | "handed_over"
  | "challenged"
  | "journey_resumed"
  | "meeting_held"
  | "meeting_missed"
  | "invitation_answered";

/** Why an email came back: the address's fault, the mailbox's, or for now. */
export const BOUNCE_KINDS = ["hard", "policy", "soft"] as const;
export type BounceKind = (typeof BOUNCE_KINDS)[number];
