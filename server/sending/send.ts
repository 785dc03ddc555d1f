/**
 * Sends what is due from one mailbox: each email is claimed in a transaction that looks at everything once more, then
 * SMTP is spoken, then it is settled as soon as its own answer is there.
 */
import { randomUUID } from "node:crypto";
import { journeyHold, mailboxHold } from "../../core/sending/hold.ts";
import type { PlannedTouch } from "../../core/sending/plan.ts";
import type { WaitReason } from "../../core/sending/reasons.ts";
import { isSameThread } from "../../core/sequence/steps.ts";
import { readCompany } from "../accounts/company.ts";
import type { App } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import { isBlocked } from "../db/block-list.ts";
import { activeJourney, recordDecision } from "../db/journeys.ts";
import {
  claimQueued,
  enterTouch,
  releaseClaim,
  settleRefused,
  type Touch,
  touchById,
  touchesInState,
  touchesOfJourney,
} from "../db/ledger.ts";
import { isShut, type Mailbox, mailboxById, sentToday } from "../db/mailboxes.ts";
import { inOneCommit } from "../db/one-commit.ts";
import { fullName, prospectById } from "../db/prospects.ts";
import { sequenceById } from "../db/sequences.ts";
import { isDatabaseFault } from "../errors.ts";
import { composeEmail } from "../mail/compose.ts";
import type { MailDoors } from "../mail/doors.ts";
import { CONNECTIONS, type ReadyConnection, type Sender, type SendResult } from "../mail/smtp.ts";
import { renderStep } from "../sequences/render-step.ts";
import { putOff, settle } from "./settle.ts";

/** Emails of one mailbox in one tick: between two of them its replies are read. */
const MOST_AT_ONCE = 100;

interface Claimed {
  touch: Touch;
  mailbox: Mailbox;
  toName: string;
  tracks: boolean;
}

/** Sends a mailbox's planned touches that are due, and the reps' own answers. Returns how many emails left. */
export async function sendFrom(
  app: App,
  doors: MailDoors,
  mailboxId: number,
  due: readonly PlannedTouch[],
  now: number,
): Promise<number> {
  const answers = touchesInState(app.db, "queued")
    .filter((touch) => touch.mailboxId === mailboxId)
    .map(
      ({ id }) =>
        () =>
          claimAnswer(app, id, now),
    );
  const steps = due.slice(0, MOST_AT_ONCE).map((planned) => () => claimStep(app, planned, now));
  const line = [...answers, ...steps];
  let sent = 0;
  const mailbox = mailboxById(app.db, mailboxId);
  if (!mailbox || line.length === 0) return 0;
  const { sender } = doors.of(mailbox);
  /** One connection's work: the last email is settled in the same commit that claims the next. */
  const sendInTurn = async (): Promise<void> => {
    let settleLast: (() => void) | null = null;
    const settled = async () => {
      const settleIt = settleLast;
      settleLast = null;
      if (settleIt) await inOneCommit(app.db, settleIt);
    };
    while (line.length > 0) {
      // The server first, then the claim: a crash while it is reached leaves nothing open.
      let ready: Awaited<ReturnType<Sender["open"]>> | null = sender.openKept();
      if (!ready) {
        await settled();
        ready = await sender.open();
      }
      if ("result" in ready) {
        // What follows would meet the same; it is planned anew.
        line.length = 0;
        const { words } = ready;
        await inOneCommit(app.db, () => putOff(app.db, mailboxId, words, now));
        return;
      }
      const [settleIt, claim] = [settleLast, line.shift()] as [
        (() => void) | null,
        (typeof line)[number] | undefined,
      ];
      settleLast = null;
      const claimed = await inOneCommit(app.db, () => {
        settleIt?.();
        return claim?.() ?? null;
      });
      if (!claimed) {
        sender.release(ready);
        continue;
      }
      const { result, write } = await sendClaimed(app, sender, ready, claimed, now);
      settleLast = write;
      if (result === "sent") sent++;
      else if (result === "unreachable") line.length = 0;
    }
    await settled();
  };
  await Promise.all(Array.from({ length: CONNECTIONS }, sendInTurn));
  return sent;
}

/** What became of a claimed email, and how it is written down. */
async function sendClaimed(
  app: App,
  sender: Sender,
  ready: ReadyConnection,
  { touch, mailbox, toName, tracks }: Claimed,
  now: number,
): Promise<{ result: SendResult["result"] | "broken"; write: () => void }> {
  const { db } = app;
  let email: Awaited<ReturnType<typeof composeEmail>>;
  try {
    const { optOutHeader } = readCompany(db);
    email = await composeEmail(app, touch, mailbox, { toName, tracks, optOutHeader });
  } catch (error) {
    if (isDatabaseFault(error)) throw error;
    sender.release(ready);
    return { result: "broken", write: () => setTextAside(app, touch, error) };
  }
  const outcome = await sender.send(email, ready);
  return { result: outcome.result, write: () => settle(db, touch, mailbox, outcome, now) };
}

/** An email that cannot be put together is one prospect's matter, and waits for the rep. */
function setTextAside({ db }: App, touch: Touch, error: unknown): void {
  const detail = `The email cannot be put together: ${error instanceof Error ? error.message : String(error)}`;
  if (touch.journeyId === null) {
    settleRefused(db, touch.id, detail);
    return;
  }
  releaseClaim(db, touch);
  const wait = { reason: "text_broken" as const, detail, until: null };
  recordDecision(db, {
    id: touch.journeyId,
    stepId: touch.stepId,
    at: null,
    mailboxId: touch.mailboxId,
    wait,
  });
}

function claimAnswer({ db }: App, id: number, now: number): Claimed | null {
  const touch = touchById(db, id);
  const mailbox = touch && mailboxById(db, touch.mailboxId);
  const prospect = touch && prospectById(db, touch.prospectId);
  if (!touch || !mailbox || isShut(mailbox, now) || !prospect || !claimQueued(db, id, now, Date.now()))
    return null;
  if (isBlocked(db, touch.recipient)) {
    settleRefused(db, id, "The address has been on the block list since.");
    return null;
  }
  const toName = touch.recipient === prospect.email ? fullName(prospect) : "";
  return { touch: touchById(db, id) as Touch, mailbox, toName, tracks: false };
}

/** Null if nothing is to be sent: a stop, a pause or a limit that came after the plan was made wins. */
function claimStep(app: App, planned: PlannedTouch, now: number): Claimed | null {
  const { db } = app;
  const journey = activeJourney(db, planned.journeyId);
  const prospect = journey && prospectById(db, journey.prospectId);
  const sequence = journey && sequenceById(db, journey.sequenceId);
  const mailbox = mailboxById(db, planned.mailboxId);
  const step = sequence?.steps.find(({ id }) => id === planned.stepId);
  if (!journey || !prospect || !sequence || !mailbox || !step) return null;
  if (journey.mailboxId !== null && journey.mailboxId !== mailbox.id) return null;
  if (isBlocked(db, prospect.email)) {
    apply(db, { kind: "blocked" }, { at: now, prospectId: prospect.id });
    return null;
  }
  if (journeyHold(journey, sequence) || mailboxHold(mailbox, now)) return null;
  if (mailbox.state === "resting" && (mailbox.restUntil ?? now) > now) return null;
  if (sentToday(db, mailbox, now).count >= mailbox.dailyLimit) return null;

  const rendered = renderStep(app, { sequence, step, prospect, mailbox });
  if (!rendered.ok) {
    const reason: WaitReason = rendered.emptyField === null ? "text_broken" : "merge_field_empty";
    const detail = rendered.emptyField ?? rendered.error;
    const wait = { reason, detail, until: null };
    recordDecision(db, { id: journey.id, stepId: step.id, at: null, mailboxId: mailbox.id, wait });
    return null;
  }

  const earlier = touchesOfJourney(db, journey.id).filter(
    ({ state }) => state === "sent" || state === "claimed",
  );
  const last = earlier.at(-1);
  const inThread = last !== undefined && isSameThread(sequence.steps, sequence.steps.indexOf(step));
  const id = enterTouch(db, {
    kind: "step",
    journeyId: journey.id,
    stepId: step.id,
    version: sequence.version,
    prospectId: prospect.id,
    mailboxId: mailbox.id,
    recipient: prospect.email,
    state: "claimed",
    messageId: `<${randomUUID()}@${mailbox.address.split("@")[1]}>`,
    inReplyTo: inThread ? last.messageId : null,
    references: inThread ? `${last.references} ${last.messageId}`.trim() : "",
    subject: inThread ? `Re: ${last.subject.replace(/^Re: /, "")}` : rendered.subject,
    body: rendered.body,
    markup: rendered.markup === rendered.body ? null : rendered.markup,
    claimedAt: now,
    claimedWall: Date.now(),
  });
  if (id === null) return null;
  return { touch: touchById(db, id) as Touch, mailbox, toName: fullName(prospect), tracks: sequence.tracks };
}
