/**
 * Carries out the social touches of connected accounts: each account in a lane of its own, under its limits, minutes apart,
 * within the hours of the person. A touch is noted as begun before the network is asked; asked again after a crash under the
 * same key, the network does it once.
 */
import { afterDays, DAY, dayNumberOf, HOUR, MINUTE, startOfDay } from "../../core/calendar.ts";
import { RollingBudget } from "../../core/sending/budget.ts";
import { type Known, mayNotGo } from "../../core/sending/may-go.ts";
import { momentsOf } from "../../core/sending/sender.ts";
import type { App } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import { recordEvent } from "../db/events.ts";
import { activeJourney } from "../db/journeys.ts";
import { type Db, sql, transact } from "../db/open.ts";
import { sequenceById } from "../db/sequences.ts";
import { accountById, actsSince, allAccounts, noteAccount, type SocialAccount } from "../db/social.ts";
import { unseal } from "../secrets.ts";
import { KnownSocial } from "../sending/known.ts";
import { acceptances, carryOut, type SocialKind } from "./network.ts";

interface DueTouch {
  id: number;
  accountId: number;
  kind: SocialKind;
  journeyId: number;
  prospectId: number;
  profile: string;
  text: string;
  dueAt: number;
}

const WEEK = 7 * DAY;
const SIGNED_OUT = {
  state: "signed_out",
  trouble: "The network signed it out. Sign in again under Settings.",
  retryAt: null,
} as const;
/** In one look; the gap between two lets few go anyway. */
const MOST_LOOKED_AT = 200;
const UNREACHABLE_FOR = 10 * MINUTE;
const LIMIT_LASTS = 6 * HOUR;
/** The demo's clock takes no smaller steps for what could not go after all. */
const SOONEST = MINUTE;

const WEEKLY: Record<SocialKind, (account: SocialAccount) => number> = {
  profile_view: ({ weeklyViews }) => weeklyViews,
  invitation: ({ weeklyInvitations }) => weeklyInvitations,
  social_message: ({ weeklyMessages }) => weeklyMessages,
};

function dueTouches(db: Db, accountId: number, until: number): DueTouch[] {
  return sql(
    db,
    `SELECT t.id, t.account_id AS accountId, t.kind, t.journey_id AS journeyId, t.prospect_id AS prospectId, p.profile, t.body AS text, t.due_at AS dueAt
     FROM touches t JOIN prospects p ON p.id = t.prospect_id
     WHERE t.state IN ('draft', 'approved', 'open') AND t.state = 'open' AND t.account_id = @accountId AND t.due_at <= @until
     ORDER BY t.claimed_at IS NULL, t.due_at, t.id LIMIT ${MOST_LOOKED_AT}`,
  ).all<DueTouch>({ accountId, until });
}

/** What an account may still do, of each kind, and when it may do something next. */
class Allowance {
  private readonly daily: number;
  private readonly weekly: Record<SocialKind, RollingBudget>;
  private readonly lastAt: number;

  constructor(
    db: Db,
    private readonly account: SocialAccount,
    private readonly now: number,
  ) {
    const acts = actsSince(db, account.id, now - WEEK);
    const ofKind = (kind: SocialKind) =>
      new RollingBudget(
        WEEKLY[kind](account),
        WEEK,
        acts.filter((each) => each.kind === kind).map(({ at }) => at),
      );
    this.weekly = {
      profile_view: ofKind("profile_view"),
      invitation: ofKind("invitation"),
      social_message: ofKind("social_message"),
    };
    const today = startOfDay(now, account.zone);
    this.daily = account.dailyLimit - acts.filter(({ at }) => at >= today).length;
    this.lastAt = Math.max(0, ...acts.map(({ at }) => at));
  }

  /** The account as the rules ask about it, for a touch of that kind. */
  standing(kind: SocialKind): Known["account"] {
    return {
      ...this.account,
      isSpent: this.daily <= 0 || !this.weekly[kind].fits(this.now),
      nextDayAt: afterDays(this.now, 1, this.account.zone),
    };
  }

  /** Its next moment from now on: now itself if its last one lies a gap behind. */
  nextMoment(): number {
    const { gapLeast, gapMost, id, zone } = this.account;
    const gap = gapLeast * MINUTE;
    if (this.now - this.lastAt >= gapMost * MINUTE) return this.now;
    const day = dayNumberOf(this.now, zone);
    // Senders and accounts count from different ends, so that their grids differ.
    const grid = { id: -id, zone, gapMinutes: { least: gapLeast, most: gapMost } };
    const moments = [...(momentsOf(grid, day) ?? [this.now]), ...(momentsOf(grid, day + 1) ?? [])];
    return moments.find((at) => at >= this.now && at - this.lastAt >= gap) ?? this.now + DAY;
  }
}

/** Whether an account can be asked at all. */
const isOpen = ({ state, retryAt }: SocialAccount, now: number): boolean =>
  state === "active" && (retryAt === null || retryAt <= now);

/** Why a touch does not go at an instant, or null; "gone" if its journey is no longer under way. */
function whyNot(db: Db, touch: DueTouch, account: Known["account"], at: number) {
  const journey = activeJourney(db, touch.journeyId);
  const sequence = journey && sequenceById(db, journey.sequenceId);
  if (!journey || !sequence) return "gone";
  return mayNotGo("social", new KnownSocial(db, journey, sequence, account, at), at);
}

/** Does what is due from an account, at most one touch for each of its moments. Returns how many were done. */
export async function actFrom(app: App, account: SocialAccount): Promise<number> {
  const { db, key, clock } = app;
  const now = clock.now();
  if (!isOpen(account, now)) return 0;
  const allowance = new Allowance(db, account, now);
  if (allowance.nextMoment() > now) return 0;
  const signIn = { url: account.url, token: unseal(account.tokenSealed, key), config: app.config };
  for (const touch of dueTouches(db, account.id, now)) {
    if (!claim(app, touch, now)) continue;
    const { profile, text } = touch;
    const answer = await carryOut(signIn, touch.kind, { profile, text, key: `saudade-${touch.id}` });
    switch (answer.result) {
      case "done":
        end(db, touch, "done", null, clock.now());
        return 1;
      case "refused":
        end(db, touch, "skipped", answer.words, clock.now());
        continue;
      case "signed_out":
        release(db, touch.id);
        noteAccount(db, account.id, SIGNED_OUT);
        return 0;
      case "limit":
        release(db, touch.id);
        noteAccount(db, account.id, { trouble: answer.words, retryAt: answer.retryAt ?? now + LIMIT_LASTS });
        return 0;
      case "unreachable":
        // It stays begun: whether it was done, the network tells under the same key.
        noteAccount(db, account.id, { trouble: answer.words, retryAt: now + UNREACHABLE_FOR });
        return 0;
    }
  }
  return 0;
}

/** Notes that a touch is begun, if it may still go: a stop, a hold, a limit or a pause that came after wins. */
function claim({ db }: App, touch: DueTouch, now: number): boolean {
  return db
    .transaction(() => {
      const account = accountById(db, touch.accountId);
      if (!account || whyNot(db, touch, new Allowance(db, account, now).standing(touch.kind), now) !== null)
        return false;
      return (
        sql(db, "UPDATE touches SET claimed_at = @now WHERE id = @id AND state = 'open'").run({
          id: touch.id,
          now,
        }).changes === 1
      );
    })
    .immediate();
}

const release = (db: Db, id: number): void => {
  sql(db, "UPDATE touches SET claimed_at = NULL WHERE id = @id AND state = 'open'").run({
    id,
  });
};

function end(db: Db, touch: DueTouch, how: "done" | "skipped", words: string | null, now: number): void {
  db.transaction(() => {
    const ended = sql(
      db,
      `UPDATE touches SET state = @how, ended_at = @now, outcome = @outcome, note = @words WHERE id = @id AND state = 'open'`,
    ).run({ id: touch.id, how, now, outcome: how === "done" ? null : "refused", words: words ?? "" }).changes;
    if (ended === 0) return;
    recordEvent(db, {
      at: now,
      kind: how === "done" ? "touch_done" : "touch_skipped",
      prospectId: touch.prospectId,
      journeyId: touch.journeyId,
      touchId: touch.id,
      detail: words,
    });
  }).immediate();
}

/** Notes who accepted; their journeys' forks live from it. Returns how many. */
export async function readNews(app: App, account: SocialAccount): Promise<number> {
  const { db, key, clock } = app;
  if (account.state === "signed_out" || !isOpen(account, clock.now())) return 0;
  const news = await acceptances(
    { url: account.url, token: unseal(account.tokenSealed, key), config: app.config },
    account.newsMark,
  );
  if (news === null) {
    noteAccount(db, account.id, SIGNED_OUT);
    return 0;
  }
  if (account.trouble !== null) noteAccount(db, account.id, { trouble: null, retryAt: null });
  if (news.length === 0) return 0;
  transact(app, ({ db }) => {
    for (const { profile, at } of news) {
      const prospect = sql(
        db,
        `SELECT p.id FROM prospects p WHERE p.profile = @profile AND p.live = 1
           AND EXISTS (SELECT 1 FROM touches t WHERE t.prospect_id = p.id AND t.kind = 'invitation' AND t.state = 'done')
         ORDER BY p.id LIMIT 1`,
      ).get<{ id: number }>({ profile });
      if (prospect) apply(db, { kind: "accepted" }, { at, prospectId: prospect.id });
    }
    sql(db, "UPDATE social_accounts SET news_mark = @mark WHERE id = @id").run({
      id: account.id,
      mark: Math.max(...news.map(({ at }) => at)),
    });
  });
  return news.length;
}

/** Whether some account may do something at this moment. */
export function mayActNow(app: App, now: number): boolean {
  const at = nextActAt(app, allAccounts(app.db), now);
  return at !== null && at <= now + SOONEST;
}

/** When some account may do something next; null if none has anything to do. */
export function nextActAt(app: App, accounts: readonly SocialAccount[], now: number): number | null {
  const { db } = app;
  const times = accounts.flatMap((account) => {
    if (account.state !== "active") return [];
    const touches = dueTouches(db, account.id, now + 3 * DAY);
    if (touches.length === 0) return [];
    const allowance = new Allowance(db, account, now);
    const moment = Math.max(allowance.nextMoment(), account.retryAt ?? 0, now + SOONEST);
    return touches.slice(0, 20).flatMap((touch) => {
      const from = Math.max(moment, touch.dueAt);
      const no = whyNot(db, touch, allowance.standing(touch.kind), from);
      if (no === null) return [from];
      // Something else has to happen first.
      return no === "gone" || no.until === null ? [] : [Math.max(from, no.until)];
    });
  });
  return times.length === 0 ? null : Math.min(...times);
}
