/** The open connections to the mailboxes' servers, kept from tick to tick, and how long to leave a failing one alone. */
import type { App } from "../app.ts";
import type { Mailbox } from "../db/mailboxes.ts";
import { credentialsOf } from "./credentials.ts";
import { MailFolders } from "./imap.ts";
import { openSender, type Sender } from "./smtp.ts";

export interface Door {
  sender: Sender;
  folders: MailFolders;
  /** By the machine's clock: until then its incoming server is left alone. */
  readAgainAt: number;
  failures: number;
  /** By the machine's clock: when its folders were last read to their ends. */
  readAt: number;
  /** The settings that the connections were opened with. */
  settings: string;
}

/** A server tells of news in INBOX by itself (RFC 2177); of other folders it is asked. */
const ASKED_EVERY = 30_000;
const FIRST_PAUSE = 5_000;
const LONGEST_PAUSE = 60 * 60_000;

export class MailDoors {
  private readonly doors = new Map<number, Door>();

  constructor(
    private readonly app: App,
    private readonly onNews: () => void = () => {},
  ) {}

  /** A mailbox's connections; new ones once its settings were saved, which also ends every pause. */
  of(mailbox: Mailbox): Door {
    const { smtpHost, smtpPort, smtpSecurity, imapHost, imapPort, imapSecurity, username, imapUsername } =
      mailbox;
    const settings = JSON.stringify([
      ...[smtpHost, smtpPort, smtpSecurity, imapHost, imapPort, imapSecurity, username, imapUsername],
      ...[mailbox.certificate, mailbox.auth, mailbox.tokenUrl, mailbox.clientId, mailbox.revision],
      // A refresh token changes by itself.
      mailbox.auth === "password" ? mailbox.passwordSealed : "",
    ]);
    const known = this.doors.get(mailbox.id);
    if (known?.settings === settings) return known;
    if (known) void this.shut(known);
    const signIn = credentialsOf(this.app, mailbox);
    const door: Door = {
      sender: openSender(mailbox, signIn),
      folders: new MailFolders(mailbox, signIn, this.onNews),
      readAgainAt: 0,
      failures: 0,
      readAt: Number.NEGATIVE_INFINITY,
      settings,
    };
    this.doors.set(mailbox.id, door);
    return door;
  }

  /**
   * Whether a mailbox's server may hold something that was not read. Without `wall` only if it was not read to its end
   * the last time: whoever asks knows that nothing came since.
   */
  wantsLook(mailbox: Mailbox, wall: number | null): boolean {
    const { folders, readAt, failures } = this.of(mailbox);
    if (wall === null) return failures > 0 || readAt === Number.NEGATIVE_INFINITY;
    return folders.mayHaveNews || wall - readAt >= ASKED_EVERY || wall < readAt;
  }

  private shut(door: Door): Promise<void> {
    door.sender.close();
    return door.folders.close();
  }

  async close(): Promise<void> {
    await Promise.all([...this.doors.values()].map((door) => this.shut(door)));
    this.doors.clear();
  }
}

/** Leaves a server alone for a while that doubles with each failure in a row, up to an hour. */
export function pauseAfterFailure(door: Door, wall: number): void {
  door.readAgainAt = wall + Math.min(LONGEST_PAUSE, FIRST_PAUSE * 2 ** door.failures);
  door.failures += 1;
}

/** All its folders were read to their ends. */
export function noFailure(door: Door, wall: number): void {
  door.failures = 0;
  door.readAgainAt = 0;
  door.readAt = wall;
}
