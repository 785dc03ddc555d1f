/** Whose a thing is, and what somebody is told who may look at it but not change it. */
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { mayChange } from "./roles.ts";
import type { User } from "./session.ts";

export type Thing =
  | { sequenceId: number }
  | { mailboxOfReply: number }
  | { importId: number }
  | { prospectIds: readonly number[] };

interface Owner {
  id: number | null;
  name: string | null;
}

/** Null if the user may change it, or it is not there; else a sentence that says whose it is. */
export function whyNotYours({ db }: App, user: User, thing: Thing): string | null {
  if (user.role === "manager") return null;
  if ("prospectIds" in thing) {
    const others =
      sql<{ ids: string; userId: number }, { count: number }>(
        db,
        `SELECT count(*) AS count FROM prospects
         WHERE id IN (SELECT value FROM json_each(@ids)) AND owner_id IS NOT NULL AND owner_id != @userId`,
      ).get({ ids: JSON.stringify(thing.prospectIds), userId: user.id })?.count ?? 0;
    if (others === 0) return null;
    return thing.prospectIds.length === 1
      ? "This person is a colleague's. They, or a manager, can change this."
      : `${others} of these ${thing.prospectIds.length} people are colleagues'. They, or a manager, can change them.`;
  }
  const owner =
    "sequenceId" in thing
      ? ownerOf("sequences t ON t.user_id = u.id WHERE t.id = @id", thing.sequenceId)
      : "importId" in thing
        ? ownerOf("imports t ON t.user_id = u.id WHERE t.id = @id", thing.importId)
        : ownerOf(
            "mailboxes t ON t.user_id = u.id JOIN replies r ON r.mailbox_id = t.id WHERE r.id = @id",
            thing.mailboxOfReply,
          );
  if (!owner || mayChange(user, owner.id)) return null;
  return `This is ${owner.name}'s. They, or a manager, can change it.`;

  function ownerOf(join: string, id: number): Owner | undefined {
    return sql<{ id: number }, Owner>(db, `SELECT u.id, u.name FROM users u JOIN ${join}`).get({ id });
  }
}
