import type { App } from "../../app.ts";
import { type Mailbox, mailboxById } from "../../db/mailboxes.ts";
import { sql } from "../../db/open.ts";
import { type Pause, pauseOf } from "../../db/pauses.ts";
import { type MailboxHealth, mailboxHealth } from "./health.ts";

export type OpenedMailbox = Omit<Mailbox, "passwordSealed" | "clientSecretSealed"> & {
  /** Journeys whose thread is here and goes on. */
  threads: number;
  /** Emails that are to leave it today and on the next working day. */
  planned: number;
  pools: string[];
  health: MailboxHealth | null;
  pause: Pause | null;
};

/** A mailbox for its page; its secrets stay behind. */
export function openMailbox(app: App, id: number): OpenedMailbox | null {
  const { db } = app;
  const mailbox = mailboxById(db, id);
  if (!mailbox || mailbox.removedAt !== null) return null;
  const { passwordSealed: _password, clientSecretSealed: _secret, ...open } = mailbox;
  const threads = sql(
    db,
    "SELECT count(*) AS count FROM journeys WHERE mailbox_id = @id AND state = 'active'",
  ).get<{ count: number }>({ id });
  const planned = sql(
    db,
    "SELECT count(*) AS count FROM journeys WHERE next_mailbox_id = @id AND state = 'active' AND next_at IS NOT NULL AND next_at != due_at",
  ).get<{ count: number }>({ id });
  return {
    ...open,
    trouble: mailbox.trouble ?? mailbox.smtpTrouble,
    threads: threads?.count ?? 0,
    planned: planned?.count ?? 0,
    pools: sql(
      db,
      "SELECT name FROM pools JOIN pool_mailboxes ON pool_id = id WHERE mailbox_id = @id ORDER BY name",
    )
      .all<{ name: string }>({ id })
      .map(({ name }) => name),
    pause: pauseOf(db, "mailbox", id),
    health: mailboxHealth(app).find((each) => each.id === id) ?? null,
  };
}

export function countMailboxes({ db }: App): number {
  return (
    sql(db, "SELECT count(*) AS count FROM mailboxes WHERE removed_at IS NULL").get<{ count: number }>([])
      ?.count ?? 0
  );
}
