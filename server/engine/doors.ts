/** The open connections to the mailboxes' servers, kept from tick to tick. */
import type { App } from "../app.ts";
import type { Mailbox } from "../db/mailboxes.ts";
import { Inbox } from "../mail/imap.ts";
import { openSender, type Sender } from "../mail/smtp.ts";
import { unseal } from "../secrets.ts";

interface Door {
  sender: Sender;
  inbox: Inbox;
  /** The settings that the connections were opened with. */
  settings: string;
}

export class MailDoors {
  private readonly doors = new Map<number, Door>();

  constructor(private readonly app: App) {}

  of(mailbox: Mailbox): Door {
    const { smtpHost, smtpPort, smtpSecurity, imapHost, imapPort, imapSecurity, username, passwordSealed } =
      mailbox;
    const settings = JSON.stringify([
      smtpHost,
      smtpPort,
      smtpSecurity,
      imapHost,
      imapPort,
      imapSecurity,
      username,
      passwordSealed,
    ]);
    const known = this.doors.get(mailbox.id);
    if (known?.settings === settings) return known;
    if (known) this.shut(known);
    const password = unseal(passwordSealed, this.app.key);
    const door = { sender: openSender(mailbox, password), inbox: new Inbox(mailbox, password), settings };
    this.doors.set(mailbox.id, door);
    return door;
  }

  private shut(door: Door): Promise<void> {
    door.sender.close();
    return door.inbox.close();
  }

  async close(): Promise<void> {
    await Promise.all([...this.doors.values()].map((door) => this.shut(door)));
    this.doors.clear();
  }
}
