import type { App } from "../../app.ts";
import { type Mailbox, mailboxById } from "../../db/mailboxes.ts";
import { sql } from "../../db/open.ts";

export type OpenedMailbox = Omit<Mailbox, "passwordSealed" | "clientSecretSealed"> & {
  /** Journeys whose thread is here and goes on. */
  threads: number;
};

/** A mailbox for its page; its secrets stay behind. */
export function openMailbox({ db }: App, id: number): OpenedMailbox | null {
  const mailbox = mailboxById(db, id);
  if (!mailbox) return null;
  const { passwordSealed: _password, clientSecretSealed: _secret, ...open } = mailbox;
  const threads = sql<{ id: number }, { count: number }>(
    db,
    "SELECT count(*) AS count FROM journeys WHERE mailbox_id = @id AND state = 'active'",
  ).get({ id });
  return { ...open, trouble: mailbox.trouble ?? mailbox.smtpTrouble, threads: threads?.count ?? 0 };
}

export function countMailboxes({ db }: App): number {
  return sql<[], { count: number }>(db, "SELECT count(*) AS count FROM mailboxes").get([])?.count ?? 0;
}
