/** Sees to it that the Sent folder holds what was sent: by the server's doing where it does so, else by ours. */
import type { App } from "../app.ts";
import { copiesDue, copyIsKept, serverKeepsCopies, type Touch } from "../db/ledger.ts";
import { type Mailbox, mailboxById, setCopies } from "../db/mailboxes.ts";
import { fullName, prospectById } from "../db/prospects.ts";
import { composeEmail } from "../mail/compose.ts";
import { withDeadline } from "../mail/deadline.ts";
import type { MailDoors } from "../mail/doors.ts";

/** Servers that copy do so within moments. */
const SERVER_COPIES_WITHIN = 20_000;
const MOST_AT_ONCE = 10;
const LASTS = 30_000;

/** Throws if the mailbox cannot be asked. */
export async function keepCopies(app: App, doors: MailDoors, { id }: Mailbox): Promise<void> {
  const { db } = app;
  const mailbox = mailboxById(db, id);
  if (mailbox?.copies === "server") return serverKeepsCopies(db, id);
  const due = copiesDue(db, id, MOST_AT_ONCE);
  if (!mailbox || due.length === 0 || Date.now() < doors.of(mailbox).readAgainAt) return;
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
