/**
 * One look of the engine at the world: settle → read mail → plan → send. Each mailbox has a lane of its own: one whose
 * server is slow is left out of this tick's sending, and holds up nobody else.
 */
import { HOUR, MINUTE } from "../../core/calendar.ts";
import type { PlannedTouch } from "../../core/sending/plan-parts.ts";
import type { App } from "../app.ts";
import { nextQueuedAt, queuedBy } from "../db/ledger.ts";
import { allMailboxes, type Mailbox, setTrouble } from "../db/mailboxes.ts";
import { keepOutcomes } from "../db/outcomes.ts";
import { openRecovery, unreadMailboxes } from "../db/recoveries.ts";
import { nextServiceMailAt } from "../db/service-mails.ts";
import { allAccounts, noteAccount, type SocialAccount } from "../db/social.ts";
import { isDatabaseFault, unreachedWords } from "../errors.ts";
import { MailDoors } from "../mail/doors.ts";
import { stopReading } from "../mail/read-message.ts";
import { troubleWords } from "../mail/trouble.ts";
import { weekNotices } from "../notices/week-notices.ts";
import { mailNotices, nextNoticeMailAt, writeNotices } from "../notices/write-notices.ts";
import { judgeVisits } from "../pages/visits.ts";
import { judgeLoadsOf } from "../replies/judge-loads.ts";
import { readMailbox } from "../replies/read-mail.ts";
import { stopFinding } from "../results/worth-acting-on.ts";
import { followRules } from "../rules/follow-rules.ts";
import { keepCopies } from "../sending/copies.ts";
import { restMailboxes } from "../sending/mailboxes/rest.ts";
import { PlanBook } from "../sending/plan.ts";
import { nextExchangeAt, planExchange, sendExchange } from "../sending/ramp-exchange.ts";
import { endRecovery, readSentFor } from "../sending/recovery.ts";
import { sendFrom } from "../sending/send.ts";
import { sendServiceMails } from "../sending/service-mail.ts";
import { settleOpenClaims } from "../sending/settle.ts";
import { shareWordings } from "../sequences/share-wordings.ts";
import { actFrom, mayActNow, nextActAt, readNews } from "../social/carry-out.ts";
import { Lanes, waitFor } from "./lanes.ts";
import { mailboxesWithWork } from "./work-due.ts";

export interface TickResult {
  sent: number;
  received: number;
  /** When something happens by itself next. */
  nextAt: number | null;
}

/**
 * Which servers a look asks for mail. `as_needed`: all of them before anything leaves or goes on; else those that told of
 * news, that tell nothing by themselves, or were not asked for a while. `none`: whoever moves the clock knows that nothing came.
 */
export type Asks = "all" | "as_needed" | "none";

/** Reasons change with the hour even if nothing else does; after this they are recorded anew. */
const PLAN_KEEPS = 5 * MINUTE;
/** How often a social network is asked what is new. */
const NEWS_EVERY = MINUTE;
/** An account whose network did not answer is left alone for so long. */
const RETRY_ACCOUNT = 10 * MINUTE;
/** An email that is on its way when the engine ends has so long to be answered; the supervisor waits eight seconds. */
const ENDS_WITHIN = 5_000;
/** Mailboxes count up from 1, social accounts down from -1. */
const LANE_OF_WEEK = 0;
/** The demo's clock and the tests let nobody be late. */
const EVERYBODY = 300_000;

export interface EngineOptions {
  /** Milliseconds that a tick waits for the slowest mailbox. */
  patience?: number;
  /** Called when a server tells of a new message between two ticks. */
  onNews?: () => void;
}

export class Engine {
  readonly doors: MailDoors;
  private readonly lanes = new Lanes();
  private readonly patience: number;
  private readonly newsReadAt = new Map<number, number>();
  private readonly book: PlanBook;
  /** What lanes did since the last tick's end. */
  private sent = 0;
  private received = 0;
  private closing = false;
  private hour = Number.NaN;

  constructor(
    readonly app: App,
    { patience = EVERYBODY, onNews }: EngineOptions = {},
  ) {
    this.doors = new MailDoors(app, onNews);
    this.book = new PlanBook(app);
    this.patience = patience;
  }

  /**
   * `planKeeps`: for how long the recorded reasons may stand while nothing changes. Throws what failed in a lane for another
   * reason than its mail server, once everybody had their turn.
   */
  async tick(asks: Asks = "all", planKeeps = PLAN_KEEPS): Promise<TickResult> {
    const { db, clock } = this.app;
    const mailboxes = allMailboxes(db);
    const isDue = asks === "as_needed" && (this.book.isDue(clock.now()) || mayActNow(this.app, clock.now()));
    const read = await this.lookAt(mailboxes, isDue ? "all" : asks);

    const now = clock.now();
    // Rules stop and start people: before anything is planned.
    const rulesAt = followRules(this.app);
    const isRecovering = endRecovery(this.app);
    const unread = unreadMailboxes(db);
    restMailboxes(db, mailboxes, now);
    writeNotices(this.app);
    mailNotices(this.app);
    planExchange(this.app);
    judgeLoadsOf(this.app);
    judgeVisits(this.app);
    keepOutcomes(db);
    await this.oncePerHour(now);
    let due = this.dueBySender(now, planKeeps);
    const answering = new Set(queuedBy(db, now).map(({ mailboxId }) => mailboxId));
    // Somebody started a sequence, or wrote an answer, since the last plan.
    if (asks === "as_needed" && !isDue && due.size + answering.size > 0) {
      const again = await this.lookAt(mailboxes, "all");
      for (const [id, hasErrands] of read)
        if (again.has(id)) read.set(id, hasErrands || again.get(id) === true);
        else read.delete(id);
      due = this.dueBySender(now, planKeeps);
    }
    const acting = mailboxes.map((mailbox) => {
      const hasErrands = read.get(mailbox.id);
      if (hasErrands === undefined) return null;
      const own = due.get(mailbox.id) ?? [];
      const sends = !isRecovering && !unread.has(mailbox.id) && (own.length > 0 || answering.has(mailbox.id));
      if (!hasErrands && !sends) return null;
      return this.lanes.run(mailbox.id, async () => {
        const copies = hasErrands ? this.keepCopies(mailbox) : Promise.resolve();
        copies.catch(() => {}); // told of below
        try {
          if (hasErrands) await this.sendOthers(mailbox);
          if (sends)
            this.sent += await sendFrom(this.app, this.doors, mailbox.id, own, now, () => !this.closing);
        } finally {
          await copies;
        }
      });
    });
    await waitFor(acting, this.patience);
    const accounts = isRecovering ? [] : allAccounts(db);
    // Mailboxes and accounts count from different ends.
    await waitFor(
      accounts.map((account) => this.lanes.run(-account.id, () => this.act(account))),
      this.patience,
    );
    if (due.size > 0 || accounts.length > 0) {
      this.book.look(clock.now(), planKeeps);
      // What was due and did not go is given another moment.
      if (this.book.hasDue(clock.now())) this.book.look(clock.now());
    }

    const failure = this.lanes.takeFailure();
    if (failure) throw failure.error;
    const nextAt = Math.min(
      this.book.nextAt(now),
      nextActAt(this.app, accounts, now) ?? Number.POSITIVE_INFINITY,
      nextExchangeAt(this.app, now) ?? Number.POSITIVE_INFINITY,
      nextQueuedAt(db, now) ?? Number.POSITIVE_INFINITY,
      nextServiceMailAt(db, now) ?? Number.POSITIVE_INFINITY,
      nextNoticeMailAt(db, now) ?? Number.POSITIVE_INFINITY,
      rulesAt ?? Number.POSITIVE_INFINITY,
    );
    const result = { sent: this.sent, received: this.received, nextAt };
    this.sent = 0;
    this.received = 0;
    return result;
  }

  /** What is decided and told by day, wherever the day begins. */
  private async oncePerHour(now: number): Promise<void> {
    const hour = Math.floor(now / HOUR);
    if (hour === this.hour) return;
    this.hour = hour;
    shareWordings(this.app);
    await waitFor([this.lanes.run(LANE_OF_WEEK, () => weekNotices(this.app))], this.patience);
  }

  /** Plans if anything changed. What is due by the plan, by mailbox. */
  private dueBySender(now: number, planKeeps: number): Map<number, PlannedTouch[]> {
    const due = new Map<number, PlannedTouch[]>();
    for (const touch of this.book.look(now, planKeeps).touches) {
      if (touch.at > now) break;
      due.set(touch.senderId, [...(due.get(touch.senderId) ?? []), touch]);
    }
    return due;
  }

  /**
   * Looks at all mailboxes that are to be asked or have something to do, each in its lane. Returns those that answered within
   * the patience, and whether there is something to do with them besides sending.
   */
  private async lookAt(mailboxes: readonly Mailbox[], asks: Asks): Promise<Map<number, boolean>> {
    const { db, clock } = this.app;
    const read = new Map<number, boolean>();
    let isLate = false;
    const isRecovering = openRecovery(db) !== undefined || unreadMailboxes(db).size > 0;
    const working = mailboxesWithWork(db, clock.now());
    const looks = mailboxes.map((mailbox) => {
      const isAsked = this.isAsked(mailbox, asks);
      if (!isAsked && !isRecovering && !working.has(mailbox.id)) {
        if (!this.lanes.isBusy(mailbox.id)) read.set(mailbox.id, false);
        return null;
      }
      return this.lanes.run(mailbox.id, async () => {
        const hasErrands = await this.look(mailbox, isAsked);
        if (!isLate) read.set(mailbox.id, hasErrands);
        else if (hasErrands) {
          await this.sendOthers(mailbox);
          await this.keepCopies(mailbox);
        }
      });
    });
    await waitFor(looks, this.patience);
    isLate = true;
    return read;
  }

  private isAsked(mailbox: Mailbox, asks: Asks): boolean {
    return asks === "all" || this.doors.wantsLook(mailbox, asks === "none" ? null : Date.now());
  }

  /** Settles and reads. Returns whether that went well: only then anything else is done with this mailbox. */
  private async look(mailbox: Mailbox, isAsked: boolean): Promise<boolean> {
    const { app, doors } = this;
    try {
      await settleOpenClaims(app, doors, mailbox);
      // After a restore the Sent folders tell whose letters lie in the inboxes: an answer to an email that the copy does
      // not know would be taken for a stranger's. So nothing is read, or goes, before each of them was.
      await readSentFor(app, doors, mailbox);
      if (openRecovery(app.db)) return false;
      if (isAsked) this.received += await readMailbox(app, doors, mailbox);
    } catch (error) {
      if (isDatabaseFault(error)) throw error;
      setTrouble(app.db, mailbox.id, troubleWords(error, "incoming", mailbox.imapHost, mailbox.imapPort));
      return false;
    }
    return true;
  }

  /** Beside the sending: what fails here is no reason not to send, since who wrote has been read. */
  private async keepCopies(mailbox: Mailbox): Promise<void> {
    await keepCopies(this.app, this.doors, mailbox);
    const { folders } = this.doors.of(mailbox);
    await folders.backToInbox().catch(() => folders.kill());
  }

  private async sendOthers(mailbox: Mailbox): Promise<void> {
    await sendExchange(this.app, this.doors, mailbox);
    await sendServiceMails(this.app, this.doors, mailbox);
  }

  private async act(account: SocialAccount): Promise<void> {
    try {
      const now = this.app.clock.now();
      if (Math.abs(now - (this.newsReadAt.get(account.id) ?? 0)) >= NEWS_EVERY) {
        this.received += await readNews(this.app, account);
        this.newsReadAt.set(account.id, now);
      }
      this.sent += await actFrom(this.app, account);
    } catch (error) {
      if (isDatabaseFault(error)) throw error;
      // Its news can wait; what is due from it asks for itself.
      noteAccount(this.app.db, account.id, {
        trouble: `The network cannot be reached: ${unreachedWords(error)}`,
        retryAt: this.app.clock.now() + RETRY_ACCOUNT,
      });
    }
  }

  /** Plans anew at the next tick. */
  forgetPlan(): void {
    this.book.forget();
  }

  /** Begins nothing new, lets what is under way come to its end for a while, and ends the connections. */
  async close(): Promise<void> {
    this.closing = true;
    await waitFor(this.lanes.underWay(), ENDS_WITHIN);
    await this.doors.close();
    await stopReading();
    await stopFinding();
    this.closing = false;
  }
}
