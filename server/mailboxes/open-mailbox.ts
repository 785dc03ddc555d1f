import type { App } from "../app.ts";
import { type Mailbox, mailboxById } from "../db/mailboxes.ts";
import { sql } from "../db/open.ts";

export type OpenedMailbox = Omit<Mailbox, "passwordSealed" | "uidValidity" | "lastUid"> & {
  /** Journeys whose thread is here and goes on. */
  threads: number;
};

/** A mailbox for its page; its password stays behind. */
export function openMailbox({ db }: App, id: number): OpenedMailbox | null {
  const mailbox = mailboxById(db, id);
  if (!mailbox) return null;
  const { passwordSealed: _password, uidValidity: _validity, lastUid: _uid, ...open } = mailbox;
  const threads = sql<{ id: number }, { count: number }>(
    db,
    "SELECT count(*) AS count FROM journeys WHERE mailbox_id = @id AND state = 'active'",
  ).get({ id });
  return { ...open, trouble: mailbox.trouble ?? mailbox.smtpTrouble, threads: threads?.count ?? 0 };
}
