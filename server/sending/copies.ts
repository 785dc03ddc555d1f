/** Sees to it that the Sent folder holds what was sent: by the server's doing where it does so, else by ours. */
import type { App } from "../app.ts";
import { copiesDue, copyIsKept, serverKeepsCopies, type Touch } from "../db/ledger.ts";
import { type Mailbox, mailboxById, setCopies, setCopyTrouble } from "../db/mailboxes.ts";
import { fullName, prospectById } from "../db/prospects.ts";
import { isDatabaseFault } from "../errors.ts";
import { composeEmail } from "../mail/compose.ts";
import { withDeadline } from "../mail/deadline.ts";
import type { MailDoors } from "../mail/doors.ts";
import { troubleWords } from "../mail/trouble.ts";

/** Servers that copy do so within moments. */
const SERVER_COPIES_WITHIN = 20_000;
const MOST_AT_ONCE = 10;
/** A folder that takes nothing (RFC 5530 NOPERM, OVERQUOTA) is asked again then. */
const AGAIN_AFTER = 30 * 60_000;
const LASTS = 30_000;

/**
 * What cannot be stored is a matter of copies only: it is said at the mailbox once and tried again later, and sending goes on.
 */
export async function keepCopies(app: App, doors: MailDoors, { id }: Mailbox): Promise<void> {
  const { db } = app;
  const mailbox = mailboxById(db, id);
  if (mailbox?.copies === "server") {
    serverKeepsCopies(db, id);
    return;
  }
  const due = copiesDue(db, id, MOST_AT_ONCE);
  if (!mailbox || due.length === 0 || Date.now() < doors.of(mailbox).readAgainAt) return;
  if ((mailbox.copyRetryWall ?? 0) > Date.now()) return;
  try {
    await keepDue(app, doors, mailbox, due);
    setCopyTrouble(db, id, null, null);
  } catch (error) {
    if (isDatabaseFault(error)) throw error;
    const words = troubleWords(error, "incoming", mailbox.imapHost, mailbox.imapPort);
    setCopyTrouble(db, id, words, Date.now() + AGAIN_AFTER);
  }
}

async function keepDue(app: App, doors: MailDoors, mailbox: Mailbox, due: readonly Touch[]): Promise<void> {
  const { db } = app;
  const { id } = mailbox;
  const erased = due.filter(({ recipient }) => recipient === "");
  if (erased.length > 0) {
    copyIsKept(
      db,
      erased.map((touch) => touch.id),
    );
    return;
  }
  const { folders } = doors.of(mailbox);
  const found = await withDeadline(LASTS, folders.sentAmong(due.map(({ messageId }) => messageId)), () =>
    folders.kill(),
  );
  const there = due.filter(({ messageId }) => found?.has(messageId));
  copyIsKept(
    db,
    there.map((touch) => touch.id),
  );
  if (there.length > 0 && mailbox.copies === "unknown") return setCopies(db, id, "server");
  for (const touch of due) {
    if (there.includes(touch)) continue;
    const isFresh = Date.now() - (touch.claimedWall ?? 0) < SERVER_COPIES_WITHIN;
    if (mailbox.copies === "unknown" && isFresh) return;
    setCopies(db, id, "app");
    await withDeadline(LASTS, copy(app, doors, mailbox, touch), () => folders.kill());
    copyIsKept(db, [touch.id]);
  }
}

/** Without what tells opens and clicks: the rep's own look is none. */
async function copy(app: App, doors: MailDoors, mailbox: Mailbox, touch: Touch): Promise<void> {
  const prospect = prospectById(app.db, touch.prospectId);
  const toName = prospect?.email === touch.recipient ? fullName(prospect) : "";
  const { raw } = await composeEmail(app, touch, mailbox, {
    toName,
    tracksOpens: false,
    tracksClicks: false,
    optOutHeader: "always",
  });
  await doors.of(mailbox).folders.keepCopy(raw, touch.sentAt ?? Date.now());
}
