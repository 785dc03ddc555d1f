/**
 * Speaks IMAP for one mailbox: what is new in its folders, headers before bodies; what the Sent folder holds. One
 * connection, on which INBOX stays selected: NOOP and IDLE tell of what arrives (RFC 9051 6.1.2, 6.3.13). STATUS of a
 * selected folder may be answered from an old snapshot (6.3.11), so it is asked of the others only.
 */
import { ImapFlow, type ListResponse } from "imapflow";
import type { Mailbox, ReadMark } from "../db/mailboxes.ts";
import type { Credentials } from "./credentials.ts";
import { tlsOptions } from "./trouble.ts";

export interface MessageHead {
  uid: number;
  /** Bytes of the whole message. */
  size: number;
  /** Message-IDs of In-Reply-To and References. */
  answers: string[];
  fromAddress: string;
  subject: string;
  /** The header fields by their names in small letters, as far as HEADS asks for them. */
  fields: Map<string, string>;
}

export interface FetchedMessage {
  uid: number;
  source: Buffer;
  arrivedAt: number;
}

/** A message in the Sent folder. */
export interface SentHead {
  messageId: string;
  to: string[];
  subject: string;
  at: number;
}

export interface Folders {
  junk: string | null;
  sent: string | null;
  all: string[];
}

const CONNECT_PATIENCE = 15_000;
/** No byte for so long: nobody is there any more. */
const SILENCE = 30_000;
/** When a server numbers its messages anew, this much is read again; known Message-IDs are passed over. */
const REREAD = 14 * 24 * 3_600_000;
/** INBOX is looked through again after this even if the server told of nothing. */
const LOOK_AGAIN = 10 * 60_000;
/** More of a message is not fetched: what decides stands at its beginning. */
export const MOST_BYTES = 1024 * 1024;
const IDLE_AFTER = 300;
const SENT_AT_ONCE = 500;
/** Folders come and go (a Junk folder with the first letter in it): they are listed again after this. */
const LIST_AGAIN = 10 * 60_000;

/** What decides whether a message may be ours. */
const HEADS = [
  "message-id",
  "in-reply-to",
  "references",
  "from",
  "subject",
  "content-type",
  "auto-submitted",
  "return-path",
  "x-failed-recipients",
];

export function imapOptions(mailbox: Mailbox, credentials: Credentials) {
  return {
    host: mailbox.imapHost,
    port: mailbox.imapPort,
    secure: mailbox.imapSecurity === "tls",
    doSTARTTLS:
      mailbox.imapSecurity === "starttls" ? true : mailbox.imapSecurity === "none" ? false : undefined,
    auth: { ...credentials, user: mailbox.imapUsername || credentials.user },
    connectionTimeout: CONNECT_PATIENCE,
    greetingTimeout: CONNECT_PATIENCE,
    socketTimeout: SILENCE,
    autoIdleDelay: IDLE_AFTER,
    tls: tlsOptions(mailbox.certificate),
    logger: false as const,
  };
}

export class MailFolders {
  private client: ImapFlow | null = null;
  private known: Folders | null = null;
  private listedAt = 0;
  private inboxMayHaveNews = true;
  private lookedAt = 0;

  constructor(
    private readonly mailbox: Mailbox,
    private readonly signIn: () => Promise<Credentials>,
    /** Called when the server tells of a new message while nobody asks. */
    private readonly onNews: () => void = () => {},
  ) {}

  async folders(): Promise<Folders> {
    const client = await this.connected();
    if (this.known === null || Date.now() - this.listedAt > LIST_AGAIN) {
      this.known = sortFolders(await client.list());
      this.listedAt = Date.now();
    }
    return this.known;
  }

  /**
   * The UIDs of a folder's messages since the mark, and where it ends. Without a mark those since the day of an instant,
   * or none: what came before is not ours.
   */
  async since(
    path: string,
    mark: ReadMark | null,
    now: number,
    unmarkedFrom: number | null = null,
  ): Promise<{ uids: number[]; end: ReadMark }> {
    const client = await this.connected();
    if (path !== "INBOX") {
      const status = await client.status(path, { uidNext: true, uidValidity: true });
      const end = status && { uidValidity: Number(status.uidValidity), lastUid: (status.uidNext ?? 1) - 1 };
      if (end && mark?.uidValidity === end.uidValidity && mark.lastUid >= end.lastUid)
        return { uids: [], end };
    }
    const lock = await client.getMailboxLock(path);
    try {
      if (path === "INBOX") await client.noop();
      const selected = client.mailbox;
      if (!selected) throw new Error(`The server does not open the folder ${path}.`);
      const uidValidity = Number(selected.uidValidity);
      if (!mark) {
        const end = { uidValidity, lastUid: await lastUid(client) };
        const wanted =
          unmarkedFrom !== null && (unmarkedFrom === 0 ? { all: true } : { since: new Date(unmarkedFrom) });
        const found = (wanted && (await client.search(wanted, { uid: true }))) || [];
        return { uids: found.toSorted((a, b) => a - b), end };
      }
      const isSame = mark.uidValidity === uidValidity;
      const mayHaveNews =
        path !== "INBOX" || this.inboxMayHaveNews || Date.now() - this.lookedAt > LOOK_AGAIN;
      if (isSame && !mayHaveNews) return { uids: [], end: mark };
      this.lookedAt = Date.now();
      if (path === "INBOX") this.inboxMayHaveNews = false;
      const found = await client.search(
        isSame ? { uid: `${mark.lastUid + 1}:*` } : { since: new Date(now - REREAD) },
        { uid: true },
      );
      // "n:*" finds the last message even if its UID is below n.
      const uids = (found || []).filter((uid) => !isSame || uid > mark.lastUid).toSorted((a, b) => a - b);
      const end = uids.at(-1) ?? (isSame ? mark.lastUid : await lastUid(client));
      return { uids, end: { uidValidity, lastUid: Math.max(end, isSame ? mark.lastUid : 0) } };
    } catch (error) {
      this.inboxMayHaveNews = true;
      throw error;
    } finally {
      lock.release();
    }
  }

  /** Whether INBOX may hold something new: the server said so, was not asked yet, or is one that tells nothing by itself. */
  get mayHaveNews(): boolean {
    return this.inboxMayHaveNews || !this.client?.usable || !this.client.capabilities.has("IDLE");
  }

  /** To be told again of what was not read to its end. */
  lookAgain(): void {
    this.inboxMayHaveNews = true;
  }

  async heads(path: string, uids: readonly number[]): Promise<MessageHead[]> {
    const client = await this.connected();
    const lock = await client.getMailboxLock(path);
    const heads: MessageHead[] = [];
    try {
      for await (const { uid, size, headers } of client.fetch(
        uids.join(),
        { uid: true, size: true, headers: HEADS },
        { uid: true },
      ))
        heads.push({ uid, size: size ?? 0, ...readHead(headers ?? Buffer.alloc(0)) });
    } finally {
      lock.release();
    }
    return heads;
  }

  /** Whole messages, each cut at MOST_BYTES. */
  async sources(
    path: string,
    heads: readonly Pick<MessageHead, "uid" | "size">[],
    now: number,
  ): Promise<FetchedMessage[]> {
    const client = await this.connected();
    const lock = await client.getMailboxLock(path);
    const messages: FetchedMessage[] = [];
    const fetch = async (some: typeof heads, source: true | { start: number; maxLength: number }) => {
      if (some.length === 0) return;
      const range = some.map(({ uid }) => uid).join();
      for await (const message of client.fetch(
        range,
        { uid: true, source, internalDate: true },
        { uid: true },
      ))
        if (message.source)
          messages.push({
            uid: message.uid,
            source: message.source.subarray(0, MOST_BYTES),
            arrivedAt: new Date(message.internalDate ?? now).getTime(),
          });
    };
    try {
      await fetch(
        heads.filter(({ size }) => size <= MOST_BYTES),
        true,
      );
      await fetch(
        heads.filter(({ size }) => size > MOST_BYTES),
        { start: 0, maxLength: MOST_BYTES },
      );
    } finally {
      lock.release();
    }
    return messages;
  }

  /** Which of these Message-IDs the Sent folder holds; null if there is no such folder. */
  async sentAmong(messageIds: readonly string[]): Promise<Set<string> | null> {
    const { sent } = await this.folders();
    if (sent === null) return null;
    const client = await this.connected();
    const found = new Set<string>();
    const lock = await client.getMailboxLock(sent);
    try {
      await client.noop();
      for (const messageId of messageIds) {
        const uids = await client.search({ header: { "message-id": messageId } }, { uid: true });
        if (Array.isArray(uids) && uids.length > 0) found.add(messageId);
      }
    } finally {
      lock.release();
    }
    return found;
  }

  /** What the Sent folder got since an instant; nothing if there is no such folder. */
  async sentSince(since: number): Promise<SentHead[]> {
    const { sent } = await this.folders();
    if (sent === null) return [];
    const client = await this.connected();
    const lock = await client.getMailboxLock(sent);
    const heads: SentHead[] = [];
    try {
      await client.noop();
      // By whole days of the server's own zone (RFC 9051 6.4.4): a day more is read, and told apart here.
      const found = await client.search({ since: new Date(since - 24 * 3_600_000) }, { uid: true });
      const uids = found || [];
      for (let from = 0; from < uids.length; from += SENT_AT_ONCE)
        for await (const { envelope, internalDate } of client.fetch(
          uids.slice(from, from + SENT_AT_ONCE).join(),
          { uid: true, envelope: true, internalDate: true },
          { uid: true },
        )) {
          const at = new Date(internalDate ?? envelope?.date ?? since).getTime();
          if (envelope?.messageId && at >= since)
            heads.push({
              messageId: envelope.messageId.trim(),
              to: (envelope.to ?? []).map(({ address }) => (address ?? "").toLowerCase()).filter(Boolean),
              subject: (envelope.subject ?? "").slice(0, 1_000),
              at,
            });
        }
    } finally {
      lock.release();
    }
    return heads;
  }

  /** INBOX is what the server tells about while nobody asks. */
  async backToInbox(): Promise<void> {
    if (!this.client?.usable || !this.client.mailbox || this.client.mailbox.path === "INBOX") return;
    (await this.client.getMailboxLock("INBOX")).release();
  }

  /** Puts a copy into the Sent folder, which is made if there is none. */
  async keepCopy(raw: Buffer, at: number): Promise<void> {
    const client = await this.connected();
    let { sent } = await this.folders();
    if (sent === null) {
      ({ path: sent } = await client.mailboxCreate("Sent"));
      this.known = null;
    }
    if (!(await client.append(sent, raw, ["\\Seen"], new Date(at))))
      throw new Error("The server does not take a copy into the Sent folder.");
  }

  /** Ends the connection at once, whatever it is at. */
  kill(): void {
    this.client?.close();
    this.client = null;
  }

  async close(): Promise<void> {
    const client = this.client;
    this.client = null;
    if (client?.usable) await client.logout().catch(() => client.close());
    else client?.close();
  }

  private async connected(): Promise<ImapFlow> {
    if (this.client?.usable) return this.client;
    this.client?.close();
    const client = new ImapFlow(imapOptions(this.mailbox, await this.signIn()));
    // Without a listener a broken connection would end the process; `usable` tells it at the next use.
    client.on("error", () => {});
    client.on("mailboxOpen", ({ path }) => {
      if (path === "INBOX") this.inboxMayHaveNews = true;
    });
    client.on("exists", ({ path }) => {
      if (path !== "INBOX") return;
      this.inboxMayHaveNews = true;
      this.onNews();
    });
    this.client = client;
    this.known = null;
    this.inboxMayHaveNews = true;
    await client.connect();
    return client;
  }
}

function sortFolders(folders: readonly ListResponse[]): Folders {
  const usable = folders.filter(({ flags }) => !flags.has("\\Noselect") && !flags.has("\\NonExistent"));
  const find = (use: string, name: RegExp) =>
    (usable.find(({ specialUse }) => specialUse === use) ?? usable.find(({ name: own }) => name.test(own)))
      ?.path ?? null;
  return {
    // Without special use (RFC 6154) folders are known by their usual names.
    junk: find("\\Junk", /^(junk|spam|bulk mail|junk e-?mail)$/i),
    sent: find("\\Sent", /^sent( items| messages| mail)?$/i),
    all: usable.map(({ path }) => path),
  };
}

async function lastUid(client: ImapFlow): Promise<number> {
  const next = client.mailbox ? client.mailbox.uidNext : undefined;
  if (next) return Number(next) - 1;
  const found = (await client.search({ all: true }, { uid: true })) || [];
  return found.at(-1) ?? 0;
}

const MESSAGE_ID = /<[^<>\s]{1,250}>/g;

function readHead(raw: Buffer): Omit<MessageHead, "uid" | "size"> {
  const fields = new Map<string, string>();
  let last = "";
  for (const line of raw.subarray(0, 65_536).toString("utf8").split(/\r?\n/)) {
    if (/^[ \t]/.test(line)) {
      if (last !== "") fields.set(last, `${fields.get(last)} ${line.trim()}`);
      continue;
    }
    const colon = line.indexOf(":");
    if (colon <= 0) continue;
    last = line.slice(0, colon).trim().toLowerCase();
    fields.set(last, line.slice(colon + 1).trim());
  }
  const from = fields.get("from") ?? "";
  const open = from.lastIndexOf("<");
  const address = open >= 0 ? from.slice(open + 1).split(">")[0] : from;
  return {
    answers: `${fields.get("in-reply-to") ?? ""} ${fields.get("references") ?? ""}`.match(MESSAGE_ID) ?? [],
    fromAddress: (address ?? "").trim().toLowerCase().slice(0, 320),
    subject: fields.get("subject") ?? "",
    fields,
  };
}
