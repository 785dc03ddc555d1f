/**
 * One look of the engine at the world: settle → read mail → plan → send. Each mailbox has a lane of its own: one whose
 * server is slow is left out of this tick's sending, and holds up nobody else.
 */
import { MINUTE } from "../../core/calendar.ts";
import type { PlannedTouch } from "../../core/sending/plan.ts";
import type { App } from "../app.ts";
import { touchesInState } from "../db/ledger.ts";
import { allMailboxes, type Mailbox, setTrouble } from "../db/mailboxes.ts";
import { isDatabaseFault } from "../errors.ts";
import { MailDoors } from "../mail/doors.ts";
import { stopReading } from "../mail/read-message.ts";
import { troubleWords } from "../mail/trouble.ts";
import { readMailbox } from "../replies/read-mail.ts";
import { keepCopies } from "../sending/copies.ts";
import { restMailboxes } from "../sending/mailboxes/rest.ts";
import { planAndRecord } from "../sending/plan.ts";
import { sendFrom } from "../sending/send.ts";
import { settleOpenClaims } from "../sending/settle.ts";
import { Lanes, waitFor } from "./lanes.ts";

export interface TickResult {
  sent: number;
  received: number;
  /** The next planned touch, or null if none is in sight. */
  nextAt: number | null;
}

/** Reasons change with the hour even if nothing else does; after this they are recorded anew. */
const PLAN_KEEPS = 5 * MINUTE;
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
  private planned: PlannedTouch[] = [];
  private plannedAt = Number.NEGATIVE_INFINITY;
  private seenVersion = -1;
  /** What lanes did since the last tick's end. */
  private sent = 0;
  private received = 0;

  constructor(
    readonly app: App,
    { patience = EVERYBODY, onNews }: EngineOptions = {},
  ) {
    this.doors = new MailDoors(app, onNews);
    this.patience = patience;
  }

  /** Throws what failed in a lane for another reason than its mail server, once everybody had their turn. */
  async tick(): Promise<TickResult> {
    const { db, clock } = this.app;
    const mailboxes = allMailboxes(db);
    const read = new Set<number>();
    const looks = mailboxes.map((mailbox) =>
      this.lanes.run(mailbox.id, async () => {
        await this.look(mailbox);
        read.add(mailbox.id);
      }),
    );
    await waitFor(looks, this.patience);

    const now = clock.now();
    if (this.received > 0 || this.isStale(now)) {
      restMailboxes(db, mailboxes, now);
      this.replan(now);
    }
    const due = this.planned.filter(({ at }) => at <= now);
    const answering = new Set(touchesInState(db, "queued").map(({ mailboxId }) => mailboxId));
    const sending = [...read].map((mailboxId) => {
      const own = due.filter((touch) => touch.mailboxId === mailboxId);
      return own.length === 0 && !answering.has(mailboxId)
        ? null
        : this.lanes.run(mailboxId, async () => {
            this.sent += await sendFrom(this.app, this.doors, mailboxId, own, now);
            this.forgetPlan();
          });
    });
    await waitFor(sending, this.patience);
    if (due.length > 0) this.replan(clock.now());

    const failure = this.lanes.takeFailure();
    if (failure) throw failure.error;
    const result = { sent: this.sent, received: this.received, nextAt: this.planned[0]?.at ?? null };
    this.sent = 0;
    this.received = 0;
    return result;
  }

  private async look(mailbox: Mailbox): Promise<void> {
    const { app, doors } = this;
    try {
      if (await settleOpenClaims(app, doors, mailbox)) this.forgetPlan();
      this.received += await readMailbox(app, doors, mailbox);
      await keepCopies(app, doors, mailbox);
      await doors.of(mailbox).folders.backToInbox();
    } catch (error) {
      if (isDatabaseFault(error)) throw error;
      setTrouble(app.db, mailbox.id, troubleWords(error, "incoming", mailbox.imapHost, mailbox.imapPort));
    }
  }

  /** Plans anew at the next tick: the engine does not see what its own connection wrote in between. */
  forgetPlan(): void {
    this.planned = [];
    this.plannedAt = Number.NEGATIVE_INFINITY;
  }

  private replan(now: number): void {
    this.planned = planAndRecord(this.app, now);
    this.plannedAt = now;
    this.seenVersion = this.dataVersion();
  }

  /** Whether another process wrote, or the plan grew old. */
  private isStale(now: number): boolean {
    return (
      now - this.plannedAt >= PLAN_KEEPS || now < this.plannedAt || this.dataVersion() !== this.seenVersion
    );
  }

  private dataVersion(): number {
    return this.app.db.pragma("data_version", { simple: true }) as number;
  }

  async close(): Promise<void> {
    await this.doors.close();
    await stopReading();
  }
}
