/** Speaks IMAP for one mailbox: reads what is new, and looks up what was sent. */
import { ImapFlow } from "imapflow";
import type { Mailbox } from "../db/mailboxes.ts";

export interface FetchedMessage {
  uid: number;
  source: Buffer;
  arrivedAt: Date;
}

/** How far an inbox has been read; UIDs mean nothing under another validity (RFC 9051 2.3.1.1). */
export interface ReadMark {
  uidValidity: number | null;
  lastUid: number;
}

const PATIENCE = 15_000;
/** When a server numbers its messages anew, this much is read again; known Message-IDs are passed over. */
const REREAD = 14 * 24 * 3_600_000;

export function imapOptions(mailbox: Mailbox, password: string) {
  return {
    host: mailbox.imapHost,
    port: mailbox.imapPort,
    secure: mailbox.imapSecurity === "tls",
    doSTARTTLS:
      mailbox.imapSecurity === "starttls" ? true : mailbox.imapSecurity === "none" ? false : undefined,
    auth: { user: mailbox.username, pass: password },
    connectionTimeout: PATIENCE,
    greetingTimeout: PATIENCE,
    logger: false as const,
    disableAutoIdle: true,
  };
}

export class Inbox {
  private client: ImapFlow | null = null;
  private sentFolder: string | null = null;

  constructor(
    private readonly mailbox: Mailbox,
    private readonly password: string,
  ) {}

  /** New messages since the mark, and the mark to keep. A mailbox's first reading takes nothing but the mark: what came before is not ours. */
  async readNew(mark: ReadMark, now: number): Promise<{ messages: FetchedMessage[]; mark: ReadMark }> {
    const client = await this.connected();
    const status = await client.status("INBOX", { uidNext: true, uidValidity: true });
    if (!status) throw new Error("The server gives no status of the inbox.");
    const uidValidity = Number(status.uidValidity);
    const newest = (status.uidNext ?? 1) - 1;
    if (mark.uidValidity === null) return { messages: [], mark: { uidValidity, lastUid: newest } };
    const renumbered = mark.uidValidity !== uidValidity;
    if (!renumbered && newest <= mark.lastUid) return { messages: [], mark };

    const lock = await client.getMailboxLock("INBOX");
    try {
      const range = renumbered
        ? ((await client.search({ since: new Date(now - REREAD) }, { uid: true })) || []).join()
        : `${mark.lastUid + 1}:*`;
      const messages: FetchedMessage[] = [];
      if (range !== "")
        // "n:*" gives the last message even if its UID is below n.
        for await (const { uid, source, internalDate } of client.fetch(
          range,
          { uid: true, source: true, internalDate: true },
          { uid: true },
        ))
          if (source && (renumbered || uid > mark.lastUid))
            messages.push({ uid, source, arrivedAt: new Date(internalDate ?? now) });
      messages.sort((a, b) => a.uid - b.uid);
      const lastUid = Math.max(newest, ...messages.map(({ uid }) => uid));
      return { messages, mark: { uidValidity, lastUid } };
    } finally {
      lock.release();
    }
  }

  /** Whether the provider put an email with this Message-ID into the Sent folder. */
  async hasSent(messageId: string): Promise<boolean> {
    const client = await this.connected();
    this.sentFolder ??= await findSentFolder(client);
    const lock = await client.getMailboxLock(this.sentFolder);
    try {
      const found = await client.search({ header: { "message-id": messageId } }, { uid: true });
      return Array.isArray(found) && found.length > 0;
    } finally {
      lock.release();
    }
  }

  async close(): Promise<void> {
    const client = this.client;
    this.client = null;
    if (client?.usable) await client.logout().catch(() => client.close());
    else client?.close();
  }

  private async connected(): Promise<ImapFlow> {
    if (this.client?.usable) return this.client;
    const client = new ImapFlow(imapOptions(this.mailbox, this.password));
    // Without a listener a broken connection would end the process; `usable` tells it at the next use.
    client.on("error", () => {});
    await client.connect();
    this.client = client;
    return client;
  }
}

async function findSentFolder(client: ImapFlow): Promise<string> {
  const folders = await client.list();
  const sent =
    folders.find(({ specialUse }) => specialUse === "\\Sent") ??
    folders.find(({ path }) => /^sent/i.test(path));
  return sent?.path ?? "Sent";
}
