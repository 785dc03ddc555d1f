/**
 * Sends what is due from one mailbox: each email is claimed in a transaction that looks at everything once more, then
 * SMTP is spoken, then it is settled as soon as its own answer is there.
 */
import { isSilent, mayNotGo, type NoAt } from "../../core/sending/may-go.ts";
import type { PlannedTouch } from "../../core/sending/plan-parts.ts";
import { limitToday } from "../../core/sending/sender.ts";
import { holds } from "../../core/sequence/holds.ts";
import { attachedTo, type EmailStep, isEmail, isSameThread, spotsOf } from "../../core/sequence/path.ts";
import type { SequenceSettings } from "../../core/sequence/settings.ts";
import { quoteBelow } from "../../core/writing/quote.ts";
import { readCompany } from "../accounts/company.ts";
import type { App, AppTx } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import { isBlocked } from "../db/block-list.ts";
import { activeJourney, recordDecision } from "../db/journeys.ts";
import {
  claimApproved,
  claimQueued,
  enterTouch,
  isStillClaimed,
  queuedBy,
  releaseClaim,
  settleRefused,
  type Touch,
  touchById,
  touchesOfJourney,
  touchOfStep,
} from "../db/ledger.ts";
import { type Mailbox, mailboxById } from "../db/mailboxes.ts";
import { inOneCommit } from "../db/one-commit.ts";
import { type Db, sql, type Tx } from "../db/open.ts";
import { handOutPage, templateOfSequence } from "../db/pages.ts";
import { fullName, prospectById } from "../db/prospects.ts";
import { pathOfVersion, type Sequence, sequenceById } from "../db/sequences.ts";
import { isDatabaseFault } from "../errors.ts";
import { log } from "../log.ts";
import { type ComposedEmail, composeEmail } from "../mail/compose.ts";
import type { MailDoors } from "../mail/doors.ts";
import { stepMessageId } from "../mail/message-id.ts";
import { CONNECTIONS, type ReadyConnection, type Sender, type SendResult } from "../mail/smtp.ts";
import { mustBeRead, recordPathDecision, skipStep } from "../sequences/consider.ts";
import { lackOf, renderStep } from "../sequences/render-step.ts";
import { factsOf } from "../sequences/walk.ts";
import { KnownEmail } from "./known.ts";
import { readSendingSettings } from "./rules.ts";
import { putOff, settle } from "./settle.ts";

/** Emails of one mailbox in one tick: between two of them its replies are read. */
const MOST_AT_ONCE = 100;
/** And no longer than this, where its server takes its time over each. */
const LONGEST_ROUND = 60_000;

interface Claimed {
  touch: Touch;
  mailbox: Mailbox;
  toName: string;
  tracks: Pick<SequenceSettings, "tracksOpens" | "tracksClicks">;
}

const NOTHING_SEEN = { tracksOpens: false, tracksClicks: false };

/** Sends a mailbox's planned touches that are due, and the reps' own answers. Returns how many emails left. */
export async function sendFrom(
  app: App,
  doors: MailDoors,
  mailboxId: number,
  due: readonly PlannedTouch[],
  now: number,
  /** Asked before each claim: an engine that ends begins nothing new. */
  goesOn: () => boolean = () => true,
): Promise<number> {
  const until = Date.now() + LONGEST_ROUND;
  const answers = queuedBy(app.db, now)
    .filter((touch) => touch.mailboxId === mailboxId)
    .map(
      ({ id }) =>
        (tx: AppTx) =>
          claimAnswer(tx, id, now),
    );
  const steps = due.slice(0, MOST_AT_ONCE).map((planned) => (tx: AppTx) => claimStep(tx, planned, now));
  const line = [...answers, ...steps];
  let sent = 0;
  const mailbox = mailboxById(app.db, mailboxId);
  if (!mailbox || line.length === 0) return 0;
  const { sender } = doors.of(mailbox);
  /** One connection's work: the last email is settled in the same commit that claims the next. */
  const sendInTurn = async (): Promise<void> => {
    let settleLast: ((db: Tx) => void) | null = null;
    const settled = async () => {
      const settleIt = settleLast;
      settleLast = null;
      if (settleIt) await inOneCommit(app.db, settleIt);
    };
    while (line.length > 0 && goesOn() && Date.now() < until) {
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
        ((db: Tx) => void) | null,
        (typeof line)[number] | undefined,
      ];
      settleLast = null;
      const claimed = await inOneCommit(app.db, (db) => {
        settleIt?.(db);
        return claim?.({ ...app, db }) ?? null;
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
): Promise<{ result: SendResult["result"] | "broken"; write: (db: Tx) => void }> {
  const { db } = app;
  let email: Awaited<ReturnType<typeof composeEmail>>;
  try {
    const { optOutHeader } = readCompany(db);
    const copyTo = [mailbox.copyTo, readSendingSettings(db).copyTo];
    email = await composeEmail(app, touch, mailbox, { toName, ...tracks, optOutHeader, copyTo });
  } catch (error) {
    if (isDatabaseFault(error)) throw error;
    sender.release(ready);
    return { result: "broken", write: () => setTextAside(app, touch, error) };
  }
  // The machine may have slept since the claim: before the first byte, and again before the final dot, it must still be
  // our own, and younger than the time after which another engine decides about it.
  const isOurs = () =>
    Date.now() - (touch.claimedWall ?? 0) < app.config.settleSeconds * 1000 && isStillClaimed(db, touch);
  const outcome = await sender.send(email, ready, isOurs);
  if (outcome.result === "sent" && email.copies) await sendCopies(sender, email.copies);
  return { result: outcome.result, write: (tx) => settle({ ...app, db: tx }, touch, mailbox, outcome, now) };
}

/** Rather one too few than one twice: what becomes of them changes nothing for the email. */
async function sendCopies(sender: Sender, copies: NonNullable<ComposedEmail["copies"]>): Promise<void> {
  const ready = sender.openKept() ?? (await sender.open());
  const outcome =
    "result" in ready ? ready : await sender.send({ touchId: 0, ...copies, copies: null }, ready);
  if (outcome.result !== "sent") log.warn({ result: outcome.result }, "copies of an email were not taken");
}

/** An email that cannot be put together is one prospect's matter, and waits for the rep. */
function setTextAside({ db, clock }: App, touch: Touch, error: unknown): void {
  const detail = `The email cannot be put together: ${error instanceof Error ? error.message : String(error)}`;
  if (touch.journeyId === null) {
    settleRefused(db, touch, detail);
    return;
  }
  releaseClaim(db, touch);
  const wait = { reason: "text_broken" as const, detail, until: null };
  recordDecision(db, { id: touch.journeyId, at: null, mailboxId: touch.mailboxId, wait }, clock.now());
}

/** Where an answer will never go; with another reason it waits. */
const WHY_NO_ANSWER: Partial<Record<NoAt<"answer">["reason"], string>> = {
  blocked: "The address has been on the block list since.",
  overtaken: "They wrote meanwhile, so it was not needed.",
};

function claimAnswer(app: App, id: number, now: number): Claimed | null {
  const { db } = app;
  const queued = touchById(db, id);
  const mailbox = queued && mailboxById(db, queued.mailboxId);
  const prospect = queued && prospectById(db, queued.prospectId);
  if (!queued || !prospect) return null;
  const no = mayNotGo(
    "answer",
    {
      mailbox,
      get person() {
        return { isBlocked: isBlocked(db, queued.recipient), held: null };
      },
      get answer() {
        return { isOvertaken: queued.unlessReply === 1 && wroteSince(db, queued) };
      },
    },
    now,
  );
  const because = no && WHY_NO_ANSWER[no.reason];
  if (!mailbox || (no && !because) || !claimQueued(db, id, now, Date.now())) return null;
  const touch = touchById(db, id) as Touch;
  if (because) {
    settleRefused(db, touch, because);
    return null;
  }
  const toName = touch.recipient === prospect.email ? fullName(prospect) : "";
  return { touch, mailbox, toName, tracks: NOTHING_SEEN };
}

/** Whether a person wrote, or booked, after an answer was put off. */
const wroteSince = (db: Db, { prospectId, id }: Touch): boolean =>
  sql(
    db,
    `SELECT 1 FROM events WHERE prospect_id = @prospectId AND kind IN ('replied', 'booked', 'opted_out')
       AND at > (SELECT at FROM touches WHERE id = @id) LIMIT 1`,
  ).get({ prospectId, id }) !== undefined;

/** Null if nothing is to be sent: a stop, a pause or a limit that came after the plan was made wins. */
function claimStep(app: AppTx, planned: PlannedTouch, now: number): Claimed | null {
  const { db } = app;
  const journey = activeJourney(db, planned.journeyId);
  const prospect = journey && prospectById(db, journey.prospectId);
  const sequence = journey && sequenceById(db, journey.sequenceId);
  const mailbox = mailboxById(db, planned.senderId);
  if (!journey || !prospect || !sequence || !mailbox || journey.placeId !== planned.stepId) return null;
  const path = pathOfVersion(db, sequence.id, journey.version);
  const step = spotsOf(path).get(planned.stepId)?.node;
  if (!step || !isEmail(step)) return null;
  const isElsewhere = journey.mailboxId !== null && journey.mailboxId !== mailbox.id;
  if (isElsewhere && !mayGoElsewhere(db, journey.mailboxId, sequence, now)) return null;
  const known = new KnownEmail(db, journey, sequence, mailbox, step, now);
  const no = mayNotGo("email", known, now);
  if (no) {
    if (no.reason === "blocked") apply(db, { kind: "blocked" }, { at: now, prospectId: prospect.id });
    return null;
  }
  // Nothing that was begun goes twice.
  const isDrafted = journey.placeState !== null;
  if (isDrafted && journey.placeState !== "approved") return null;
  if (step.onlyIf && !isDrafted && !holds(step.onlyIf, factsOf(db, journey), now)) {
    skipStep(app, journey, step, now);
    return null;
  }
  const { sender } = known;

  const earlier = touchesOfJourney(db, journey.id);
  // From another mailbox it is another conversation.
  const last = isElsewhere ? undefined : earlier.at(-1);
  const messageId = stepMessageId(
    app.key,
    { journeyId: journey.id, stepId: step.id, recipient: prospect.email },
    mailbox.address,
  );
  const thread = (inThread: boolean, subject: string) => ({
    inReplyTo: last && inThread ? last.messageId : null,
    references: last && inThread ? `${last.references} ${last.messageId}`.trim() : "",
    subject: last && inThread ? `Re: ${last.subject.replace(/^Re: /, "")}` : subject || lastSubject(earlier),
  });
  const claim = {
    mailboxId: mailbox.id,
    recipient: prospect.email,
    messageId,
    claimedAt: now,
    claimedWall: Date.now(),
  };
  let id: number | null;
  if (isDrafted) {
    const draft = touchOfStep(db, journey.id, step.id);
    const wording = step.variants.find((each) => each.id === draft?.variantId) ?? step.variants[0];
    if (!draft || !wording) return null;
    // The rep may have given it a subject of its own: then it begins a thread.
    const inThread = isSameThread(wording) && draft.subject === draftSubject(earlier, draft.subject);
    id = claimApproved(db, {
      id: draft.id,
      ...claim,
      ...envelopeOf(sequence, step),
      ...thread(inThread, draft.subject),
    })
      ? draft.id
      : null;
  } else {
    const rendered = renderStep(app, {
      ...{ path, step, sequenceId: sequence.id, prospect, mailbox },
      mustBeRead: mustBeRead(db, sequence, step.id, prospect.id),
      leaves: true,
    });
    if (!rendered.ok) {
      recordDecision(
        db,
        { id: journey.id, at: null, mailboxId: mailbox.id, wait: { ...lackOf(rendered), until: null } },
        now,
      );
      return null;
    }
    const wording = step.variants.find((each) => each.id === rendered.variantId) ?? step.variants[0];
    const { inReplyTo, references, subject } = thread(
      wording !== undefined && isSameThread(wording) && !rendered.isOwn,
      rendered.subject,
    );
    id = enterTouch(db, {
      kind: step.kind,
      journeyId: journey.id,
      stepId: step.id,
      version: journey.version,
      variantId: rendered.variantId,
      prospectId: prospect.id,
      state: "claimed",
      ...claim,
      inReplyTo,
      references,
      subject,
      ...withThread(rendered, step.quotes ? last : undefined, mailbox),
      ...envelopeOf(sequence, step),
    });
  }
  if (id === null) return null;
  // From now on it lasts for all of its days.
  const pageId = templateOfSequence(db, sequence.id);
  if (pageId !== null) handOutPage(db, pageId, prospect.id, now);
  recordPathDecision(db, {
    journeyId: journey.id,
    at: now,
    nodeId: step.id,
    kind: "claim",
    outcome: "",
    inputs: {
      mailbox: mailbox.id,
      planned: planned.at,
      sentToday: sender.sentToday + 1,
      limit: limitToday(sender),
    },
  });
  const touch = touchById(db, id) as Touch;
  return {
    touch,
    mailbox,
    toName: fullName(prospect),
    tracks: step.format === "plain" ? NOTHING_SEEN : sequence.settings,
  };
}

/** Whether somebody whose thread lies in a mailbox that does not send may get a new one from another. */
function mayGoElsewhere(db: Db, mailboxId: number | null, { settings }: Sequence, now: number): boolean {
  return settings.threadElsewhere === "new_thread" && isSilent(mailboxById(db, mailboxId ?? 0), now);
}

/** A new thread begun for an email without a subject of its own goes on about the same. */
const lastSubject = (earlier: readonly Touch[]): string => earlier.at(-1)?.subject.replace(/^Re: /, "") ?? "";

/** The text, with the email before it quoted below if the step says so. */
function withThread(
  { body, markup }: { body: string; markup: string },
  last: Touch | undefined,
  { senderName, zone }: Mailbox,
): Pick<Touch, "body" | "markup"> {
  if (last) {
    const quote = quoteBelow(
      { body: last.body, sentAt: last.sentAt ?? last.claimedAt ?? 0, senderName },
      zone,
    );
    return { body: body + quote.text, markup: markup + quote.markup };
  }
  return { body, markup: markup === body ? null : markup };
}

/** How an email of a step goes, besides its text. */
function envelopeOf({ settings }: Sequence, step: EmailStep) {
  return {
    format: step.format,
    cc: settings.cc,
    bcc: [settings.bcc, settings.crm].filter(Boolean).join(", "),
    attachments: JSON.stringify(attachedTo(step)),
  };
}

/** The subject a draft was given by its thread: as the last email has it, with or without the sign of an answer. */
function draftSubject(earlier: readonly Touch[], drafted: string): string {
  const before = earlier.map(({ subject }) => subject.replace(/^Re: /, ""));
  return before.includes(drafted.replace(/^Re: /, "")) || drafted.trim() === "" ? drafted : "";
}
