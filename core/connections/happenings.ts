/** What other programs are told of: a closed list, by the names under which webhooks carry it. */

/** By name, in the words of the pages; each says what has happened. */
export const HAPPENINGS = {
  "journey.started": "somebody was started on a sequence",
  "journey.stopped": "what was planned for somebody was stopped",
  "journey.finished": "somebody came to the end of a sequence",
  "email.sent": "an email was sent",
  "email.opened": "somebody opened an email; programs that load it are left out",
  "email.clicked": "somebody followed a link",
  "email.bounced": "an email came back",
  "page.visited": "somebody looked at the page that is theirs; programs are left out",
  "film.watched": "somebody watched the film there: its beginning, a quarter, half, three quarters, the end",
  "file.opened": "somebody looked at a file",
  "file.saved": "somebody saved a file",
  "reply.received": "somebody answered",
  "reply.labelled": "an answer got its label",
  "prospect.opted_out": "somebody wants no more mail",
  "prospect.added": "somebody was added",
  "prospect.stage_changed": "somebody came to another stage",
  "meeting.booked": "a call was booked",
  "meeting.moved": "a call was moved",
  "meeting.cancelled": "a call was cancelled",
  "meeting.held": "a call took place",
  "meeting.missed": "somebody did not come to a call",
  "mailbox.rests": "a mailbox was put to rest, since too much of its mail came back",
} as const;
export type HappeningKind = keyof typeof HAPPENINGS;
export const HAPPENING_KINDS = Object.keys(HAPPENINGS) as [HappeningKind, ...HappeningKind[]];
