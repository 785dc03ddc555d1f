/** Reads what arrived in a mailbox's folders: headers first, then the bodies of what may be ours, the mark moving with each. */
import type { App } from "../app.ts";
import { isExchange } from "../db/exchange.ts";
import {
  folderMark,
  type Mailbox,
  noteFolders,
  type ReadMark,
  readToTheEnd,
  setFolderMark,
  setTrouble,
} from "../db/mailboxes.ts";
import { sql, transact } from "../db/open.ts";
import { unreadSince } from "../db/recoveries.ts";
import { isDatabaseFault } from "../errors.ts";
import { log } from "../log.ts";
import { withDeadline } from "../mail/deadline.ts";
import { type Door, type MailDoors, noFailure, pauseAfterFailure } from "../mail/doors.ts";
import type { FetchedMessage, MessageHead } from "../mail/imap.ts";
import type { ParsedMessage } from "../mail/parse.ts";
import { readMessage } from "../mail/read-message.ts";
import { troubleWords } from "../mail/trouble.ts";
import { mayBeOurs } from "./find-email.ts";
import { takeIn } from "./take-in.ts";

/** For each question to the server. One that sends a byte now and then counts as silent. */
const ANSWERS_WITHIN = 30_000;
const HEADS_AT_ONCE = 200;
const BODIES_AT_ONCE = 16;

/** Reads one mailbox. Returns how many messages belonged to a prospect; on trouble none, and the mailbox says why. */
export async function readMailbox(app: App, doors: MailDoors, mailbox: Mailbox): Promise<number> {
  const { db } = app;
  const door = doors.of(mailbox);
  if (Date.now() < door.readAgainAt) return 0;
  try {
    const { junk, all } = await inTime(door, door.folders.folders());
    const appeared = noteFolders(db, mailbox.id, all);
    const lost = unreadSince(db, mailbox);
    const chosen = mailbox.moreFolders.filter((path) => all.includes(path));
    let taken = 0;
    for (const path of new Set(["INBOX", ...(junk === null ? [] : [junk]), ...chosen]))
      taken += await readFolder(app, door, mailbox, path, appeared.has(path) ? 0 : lost);
    noFailure(door, Date.now());
    readToTheEnd(db, mailbox, Date.now());
    return taken;
  } catch (error) {
    if (isDatabaseFault(error)) throw error;
    door.folders.lookAgain();
    pauseAfterFailure(door, Date.now());
    setTrouble(db, mailbox.id, troubleWords(error, "incoming", mailbox.imapHost, mailbox.imapPort));
    return 0;
  }
}

const inTime = <T>(door: Door, question: Promise<T>) =>
  withDeadline(ANSWERS_WITHIN, question, () => door.folders.kill());

async function readFolder(
  app: App,
  door: Door,
  mailbox: Mailbox,
  path: string,
  unmarkedFrom: number | null,
): Promise<number> {
  const { db, clock } = app;
  const mark = folderMark(db, mailbox.id, path);
  const { uids, end } = await inTime(door, door.folders.since(path, mark, clock.now(), unmarkedFrom));
  const moveTo = (lastUid: number) =>
    setFolderMark(db, mailbox.id, path, { uidValidity: end.uidValidity, lastUid });
  const ours = mayBeOurs(db, clock.now());
  let taken = 0;
  for (const chunk of chunksOf(uids, HEADS_AT_ONCE)) {
    const heads = new Map(
      (await inTime(door, door.folders.heads(path, chunk)))
        .filter((head) => !isExchange(db, head.fields.get("message-id"), clock.now()) && ours(head))
        .map((head) => [head.uid, head]),
    );
    for (const some of chunksOf(
      [...heads.keys()].toSorted((a, b) => a - b),
      BODIES_AT_ONCE,
    )) {
      const wanted = some.map((uid) => heads.get(uid) as MessageHead);
      const messages = await inTime(door, door.folders.sources(path, wanted, clock.now()));
      const parsed = await parseAll(messages, (uid, reason) =>
        setAside(app, mailbox, path, heads.get(uid), uid, reason),
      );
      // The mark moves with the messages, so that a crash in between reads them again, not over.
      taken += db
        .transaction(() => {
          moveTo(some.at(-1) as number);
          return parsed.filter((message) => takeInOrSetAside(app, mailbox, path, message)).length;
        })
        .immediate();
    }
    moveTo(chunk.at(-1) as number);
  }
  if (!isSame(mark, end) && uids.length === 0) moveTo(end.lastUid);
  return taken;
}

const isSame = (mark: ReadMark | null, end: ReadMark) =>
  mark?.uidValidity === end.uidValidity && mark.lastUid === end.lastUid;

function* chunksOf<T>(items: readonly T[], size: number): Generator<T[]> {
  for (let from = 0; from < items.length; from += size) yield items.slice(from, from + size);
}

/** One message that cannot be read must not keep the others from being read. */
async function parseAll(
  messages: readonly FetchedMessage[],
  giveUp: (uid: number, reason: string) => void,
): Promise<(ParsedMessage & { uid: number })[]> {
  const parsed: (ParsedMessage & { uid: number })[] = [];
  for (const { uid, source, arrivedAt } of messages.toSorted((a, b) => a.uid - b.uid))
    try {
      parsed.push({ ...(await readMessage(source, arrivedAt)), uid });
    } catch (error) {
      giveUp(uid, error instanceof Error ? error.message : String(error));
    }
  return parsed;
}

function takeInOrSetAside(
  app: App,
  mailbox: Mailbox,
  path: string,
  message: ParsedMessage & { uid: number },
): boolean {
  try {
    return transact(app, (tx) => takeIn(tx, mailbox, message));
  } catch (error) {
    if (isDatabaseFault(error)) throw error;
    const { uid, fromAddress, subject } = message;
    const reason = error instanceof Error ? error.message : String(error);
    setAside(app, mailbox, path, { fromAddress, subject }, uid, reason);
    return false;
  }
}

/** Notes a message for a person to look at in their mail program; Sending shows it. */
function setAside(
  { db, clock }: App,
  mailbox: Mailbox,
  path: string,
  head: Pick<MessageHead, "fromAddress" | "subject"> | undefined,
  uid: number,
  reason: string,
): void {
  log.warn({ mailbox: mailbox.id, path, uid, reason }, "message set aside");
  sql(
    db,
    `INSERT INTO set_aside (mailbox_id, path, uid, from_address, subject, reason, at)
     VALUES (@mailboxId, @path, @uid, @from, @subject, @reason, @now)`,
  ).run({
    mailboxId: mailbox.id,
    path,
    uid,
    from: (head?.fromAddress ?? "").slice(0, 320),
    subject: (head?.subject ?? "").slice(0, 200),
    reason: reason.slice(0, 300),
    now: clock.now(),
  });
}
