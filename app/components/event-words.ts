/** What happened, in the words of a story. */
import type { EventKind } from "../../core/events";

export const EVENT_WORDS: Record<EventKind, string> = {
  journey_started: "Started",
  journey_stopped: "Stopped",
  journey_finished: "Got the last step",
  email_sent: "Email sent",
  email_refused: "Email refused",
  opened: "Opened",
  clicked: "Clicked a link",
  replied: "Replied",
  away: "Automatic answer",
  bounced: "Bounced",
  opted_out: "Opted out",
  booked: "Booked a call",
  answered: "You answered",
  left_company: "Has left the company",
  complained: "Reported as unwanted",
  likely_reply: "May have answered",
  booking_cancelled: "Cancelled the call",
  booking_moved: "Moved the call",
  unblocked: "Taken off the block list",
  touch_done: "Done by you",
  touch_skipped: "Skipped by you",
  accepted: "Accepted the invitation",
  approved: "You said yes to the email",
  labelled: "Label set",
  label_undone: "Label taken back",
  stage_set: "Stage changed",
  handed_over: "Handed over",
  challenged: "Their server asks for a confirmation",
  journey_resumed: "Goes on",
  meeting_held: "The call took place",
  meeting_missed: "Did not come to the call",
  invitation_answered: "Answered the invitation",
  page_visited: "Looked at their page",
  film_watched: "Watched the film",
  file_opened: "Looked at a file",
  file_saved: "Saved a file",
  booking_begun: "Began to choose a time",
};

const SHARES: Record<string, string> = {
  "0": "Began to watch the film",
  "25": "Watched a quarter of the film",
  "50": "Watched half of the film",
  "75": "Watched three quarters of the film",
  "100": "Watched the film to its end",
};

/** The same with how much it was, or of what. */
export const eventWords = ({ kind, detail }: { kind: EventKind; detail: string | null }): string =>
  kind === "film_watched"
    ? (SHARES[detail ?? ""] ?? EVENT_WORDS[kind])
    : (kind === "file_opened" || kind === "file_saved") && detail
      ? EVENT_WORDS[kind].replace("a file", detail)
      : EVENT_WORDS[kind];
