/** An invitee's yes or no to a meeting, as their calendar program sends it. */
import { recordEvent } from "../db/events.ts";
import { type Db, sql } from "../db/open.ts";
import type { ParsedMessage } from "../mail/parse.ts";

/** Run it in a transaction. False if the message answers none of our invitations. */
export function takeInvitationAnswer(db: Db, { invitation, fromAddress, at }: ParsedMessage): boolean {
  const token = invitation?.uid.match(/^([\w-]+)@saudade$/)?.[1];
  if (!invitation || !token) return false;
  // Only the invited person speaks for themselves.
  const meeting = sql<Record<string, unknown>, { prospectId: number | null; userId: number }>(
    db,
    `UPDATE meetings SET attendance = @says WHERE token = @token AND cancelled_at IS NULL
       AND lower(email) IN (@attendee, @from) RETURNING prospect_id AS prospectId, user_id AS userId`,
  ).get({ token, says: invitation.says, attendee: invitation.attendee, from: fromAddress });
  if (meeting && meeting.prospectId !== null)
    recordEvent(db, {
      at,
      kind: "invitation_answered",
      prospectId: meeting.prospectId,
      userId: meeting.userId,
      detail: invitation.says,
    });
  return meeting !== undefined;
}
