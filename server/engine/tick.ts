/** One look of the engine at the world: settle → read mail → plan → send. */

import { MINUTE } from "../../core/calendar.ts";
import type { PlannedTouch } from "../../core/sending/plan.ts";
import type { App } from "../app.ts";
import { touchesInState } from "../db/ledger.ts";
import { allMailboxes } from "../db/mailboxes.ts";
import { MailDoors } from "./doors.ts";
import { planAndRecord } from "./plan.ts";
import { readMailbox } from "./read-mail.ts";
import { restMailboxes } from "./rest.ts";
import { sendDue } from "./send.ts";
import { settleOpenClaims } from "./settle.ts";

export interface TickResult {
  sent: number;
  received: number;
  /** The next planned touch, or null if none is in sight. */
  nextAt: number | null;
}

/** Reasons change with the hour even if nothing else does; after this they are recorded anew. */
const PLAN_KEEPS = 5 * MINUTE;

export class Engine {
  readonly doors: MailDoors;
  private planned: PlannedTouch[] = [];
  private plannedAt = Number.NEGATIVE_INFINITY;
  private seenVersion = -1;

  constructor(readonly app: App) {
    this.doors = new MailDoors(app);
  }

  async tick(): Promise<TickResult> {
    const { db, clock } = this.app;
    const mailboxes = allMailboxes(db);
    if (touchesInState(db, "claimed").length > 0) {
      await settleOpenClaims(this.app, this.doors, mailboxes);
      this.forgetPlan();
    }
    const read = await Promise.all(mailboxes.map((mailbox) => readMailbox(this.app, this.doors, mailbox)));
    const received = read.reduce((sum, count) => sum + count, 0);
    const now = clock.now();
    if (received > 0 || this.isStale(now)) {
      restMailboxes(db, mailboxes, now);
      this.replan(now);
    }

    const due = this.planned.filter(({ at }) => at <= now);
    const sent = await sendDue(this.app, this.doors, due, now);
    if (due.length > 0) this.replan(clock.now());
    return { sent, received, nextAt: this.planned[0]?.at ?? null };
  }

  /** Plans anew at the next tick: the engine does not see what its own connection wrote in between. */
  forgetPlan(): void {
    this.planned = [];
    this.plannedAt = Number.NEGATIVE_INFINITY;
  }

  private replan(now: number): void {
    this.planned = planAndRecord(this.app.db, now);
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
  }
}
