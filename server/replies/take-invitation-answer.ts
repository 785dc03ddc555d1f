/** An invitee's yes or no to a meeting, as their calendar program sends it. */
import { recordEvent } from "../db/events.ts";
import { sql, type Tx } from "../db/open.ts";
import type { ParsedMessage } from "../mail/parse.ts";

export interface Invited {
  prospectId: number | null;
  /** The address that the invitation went to. */
  email: string;
}

/**
 * Whose meeting it is, or null if it answers none of our invitations. The UID is a secret that
 * only the invitation tells: who answers with it from an alias is the invited person too.
 */
export function takeInvitationAnswer(db: Tx, { invitation, at }: ParsedMessage): Invited | null {
  const token = invitation?.uid.match(/^([\w-]+)@saudade$/)?.[1];
  if (!invitation || !token) return null;
  const meeting = sql(
    db,
    `UPDATE meetings SET attendance = @says WHERE token = @token AND cancelled_at IS NULL
     RETURNING prospect_id AS prospectId, user_id AS userId, email`,
  ).get<Invited & { userId: number }>({ token, says: invitation.says });
  if (!meeting) return null;
  const { prospectId, userId, email } = meeting;
  if (prospectId !== null)
    recordEvent(db, { at, kind: "invitation_answered", prospectId, userId, detail: invitation.says });
  return { prospectId, email };
}
