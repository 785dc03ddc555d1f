/**
 * When a mailbox should rest by itself. Receiving servers count how much of a sender's mail is for
 * people who do not exist; past a few percent they file the rest as junk.
 */
export const REST_WINDOW_DAYS = 7;
/** Below this many emails one bounce proves nothing. */
const FEWEST_SENT = 25;
const FEWEST_BOUNCES = 3;
/** Large receivers publish 0.3 % for complaints and tolerate about ten times that in bounces. */
const HIGHEST_SHARE = 0.04;
export const REST_WORKING_DAYS = 5;

export interface RestReason {
  sent: number;
  bounced: number;
}

/** The counts that call for a rest, or null. */
export function needsRest(sent: number, bounced: number): RestReason | null {
  if (sent < FEWEST_SENT || bounced < FEWEST_BOUNCES) return null;
  return bounced / sent >= HIGHEST_SHARE ? { sent, bounced } : null;
}
