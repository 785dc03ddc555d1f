/**
 * What may go: every rule in the order in which they are asked, what each is about, and which doors ask it. A door is a place
 * that lets something through; each of them asks here, so that none knows less than another. The first rule that says no is the one that is told.
 */
import { afterDays, type Calendar, DAY, dayNumberOf, HOUR, MINUTE } from "../calendar.ts";
import { type AddressState, mayWriteTo, type WritesTo } from "../prospects/verdict.ts";
import { openFrom } from "../sequence/wait.ts";
import { RollingBudget } from "./budget.ts";
import { type Pace, pacesOf } from "./pace.ts";
import type { Wait, WaitReason } from "./reasons.ts";
import { limitToday, ownHours, type Sender } from "./sender.ts";

export type Door =
  /** How a start would go for somebody: who is left out, who starts and waits. */
  | "preview"
  /** Somebody is brought onto a sequence, or a single email is begun for them. */
  | "start"
  | "single"
  /** A journey is walked on: tasks and drafts come up. */
  | "consider"
  /** What goes when, for the engine and every forecast; what the days still hold is the plan's own sum (plan.ts). */
  | "plan"
  /** An email of a sequence is claimed. */
  | "email"
  /** A social touch is claimed. */
  | "social"
  /** A rep's own answer or nudge is claimed. */
  | "answer"
  /** What is no touch: invitations, reminders of meetings, notices. */
  | "service"
  /** Mail between the workspace's own young mailboxes. */
  | "exchange";

export interface MailboxStanding {
  address: string;
  state: "active" | "paused" | "resting";
  restUntil: number | null;
  /** Why its inbox cannot be read. */
  trouble: string | null;
  smtpTrouble: string | null;
  smtpRetryAt: number | null;
  smtpStopped: 0 | 1;
  /** When its inbox was first read to the end; null: it has never connected. */
  connectedWall?: number | null;
  removedAt?: number | null;
}

export interface AccountStanding {
  name: string;
  state: "active" | "paused" | "signed_out";
  /** When the network may be asked again. */
  retryAt: number | null;
}

/** What the rules ask, by what it is about. A door reads of it what its own rules are about, and each part only when it is asked. */
export interface Known {
  /** How somebody stands to a sequence that is about to start for them. */
  entry: {
    hadIt: boolean;
    isElsewhere: boolean;
    /** When the team last wrote to them. */
    writtenAt: number | null;
    /** Whether they lack a field without which a text of the path cannot be filled in. */
    lacksField: boolean;
    /** Whether a text would say what the assistant wrote and nobody has read. */
    isUnread: boolean;
  };
  journey: {
    /** 1 while an email of it is claimed and not settled, 2 if nobody can tell whether it left. */
    settling: 0 | 1 | 2;
    waitReason: WaitReason | null;
    waitDetail: string | null;
    /** When its next touch falls due. */
    dueAt: number;
  };
  sequence: { state: "draft" | "running" | "paused" };
  /** `held`: a hold of the journey's own, of the prospect or of the company that is on. */
  person: { isBlocked: boolean; held: Wait | null };
  /** `email`: "" or null if none is known. `isNeeded`: whether the path has an email at all. */
  address: { email: string | null; state: AddressState; writesTo: WritesTo; isNeeded: boolean };
  /** The step before which somebody stands. */
  place: {
    /** What became of it so far. */
    touch: "draft" | "open" | null;
    wakeAt: number | null;
    /** The social account that carries it out; null: it is not open, or the rep's own. */
    account: AccountStanding | null;
    /** It is a fork behind which no email is sure to come. */
    isOpenFork: boolean;
    /** It is an email that is read before the first people's are decided. */
    comesAfterFirstOnes: boolean;
  };
  /** Whether the email ahead waits for a yes and has none. */
  approval: { isMissing: boolean };
  mailbox: MailboxStanding | undefined;
  sender: Sender;
  /** The sequence's pace with what it has spent; null if it has none. */
  pace: { pace: Pace | null; isFirst: boolean };
  /** Emails to the address's domain in the last 24 hours, and the most there may be; null: no cap. */
  domain: { most: number | null; sentAt: readonly number[] };
  /** Any touch by anybody in the team, and the days that must lie between two. */
  team: { daysBetween: number; lastTouchAt: number | null; zone: string };
  hours: Calendar;
  account: AccountStanding & {
    /** Whether it has done all that it may today, or within seven days, of this kind. */
    isSpent: boolean;
    /** When its next day begins. */
    nextDayAt: number;
  };
  /** Of a rep's own answer: whether it goes only if nothing came back, and something did. */
  answer: { isOvertaken: boolean };
}
type Scope = keyof Known;

/** Why something does not go: a wait that ends, or one of the reasons for which nothing is begun. */
interface No<R extends string = string> {
  reason: R;
  /** The instant at which it goes on, as far as known. */
  until: number | null;
  detail: string | null;
}
const no = <const R extends string>(reason: R, until: number | null = null, detail: string | null = null) =>
  ({ reason, until, detail }) satisfies No<R>;

/** Written to by the team within this time, somebody gets no other sequence. */
export const LATELY = 30 * DAY;

/** Waits of a journey for what its text lacks, which end when that is there. */
const ASKED = ["merge_field_empty", "line_unread", "picture_unmade", "text_broken"] as const;

const rule = <S extends Scope, const D extends Door, R extends string>(
  scope: S,
  doors: readonly D[],
  asks: (known: Known[S], now: number) => No<R> | null | false,
) => ({ scope, doors, asks });

export const RULES = {
  already: rule("entry", ["preview", "start"], ({ hadIt }) => hadIt && no("already")),
  elsewhere: rule(
    "entry",
    ["preview", "start", "single"],
    ({ isElsewhere }) => isElsewhere && no("elsewhere"),
  ),
  settling: rule("journey", ["plan", "email", "social"], ({ settling }) => settling === 1 && no("settling")),
  undecided: rule(
    "journey",
    ["plan", "email", "social"],
    ({ settling }) => settling === 2 && no("undecided"),
  ),
  blocked: rule(
    "person",
    ["preview", "start", "single", "consider", "email", "social", "answer", "service"],
    ({ isBlocked }) => isBlocked && no("blocked"),
  ),
  address_bad: rule(
    "address",
    ["preview", "start", "single"],
    ({ isNeeded, state }) => isNeeded && state === "bad" && no("address_bad"),
  ),
  written_lately: rule(
    "entry",
    ["preview", "start"],
    ({ writtenAt }, now) => writtenAt !== null && writtenAt >= now - LATELY && no("written_lately"),
  ),
  sequence_paused: rule(
    "sequence",
    ["consider", "plan", "email", "social"],
    ({ state }) => state !== "running" && no("sequence_paused"),
  ),
  held: rule("person", ["preview", "consider", "plan", "email", "social"], ({ held }) => held),
  likely_reply: rule(
    "journey",
    ["plan", "email", "social"],
    ({ waitReason, waitDetail }) => waitReason === "likely_reply" && no("likely_reply", null, waitDetail),
  ),
  text: rule("journey", ["plan", "email"], ({ waitReason, waitDetail }) => {
    const asked = ASKED.find((each) => each === waitReason);
    return asked !== undefined && no(asked, null, waitDetail);
  }),
  no_address: rule(
    "address",
    ["preview", "single", "plan", "email"],
    ({ isNeeded, email }) => isNeeded && !email && no("no_address"),
  ),
  address_not_good: rule(
    "address",
    ["preview", "plan", "email"],
    ({ isNeeded, state, writesTo }) =>
      isNeeded && !mayWriteTo(writesTo, state) && no("address_not_good", null, state),
  ),
  lacks_field: rule("entry", ["preview"], ({ lacksField }) => lacksField && no("lacks_field")),
  line_unread: rule("entry", ["preview"], ({ isUnread }) => isUnread && no("line_unread")),
  draft_open: rule("place", ["plan", "email"], ({ touch }) => touch === "draft" && no("draft_open")),
  task_open: rule(
    "place",
    ["plan"],
    ({ touch, account, wakeAt }) => touch === "open" && account === null && no("task_open", wakeAt),
  ),
  account: rule(
    "place",
    ["plan"],
    ({ account }, now) =>
      account !== null && (accountWaits(account, now) ?? no("in_line", account.retryAt, account.name)),
  ),
  fork_open: rule("place", ["plan"], ({ isOpenFork, wakeAt }) => isOpenFork && no("fork_open", wakeAt)),
  first_ones: rule(
    "place",
    ["plan", "email"],
    ({ comesAfterFirstOnes }) => comesAfterFirstOnes && no("first_ones"),
  ),
  approval: rule("approval", ["email"], ({ isMissing }) => isMissing && no("draft_open")),
  no_mailbox: rule(
    "mailbox",
    ["plan", "email", "answer", "service", "exchange"],
    (mailbox) => (!mailbox || mailbox.removedAt != null) && no("no_mailbox"),
  ),
  mailbox_paused: rule(
    "mailbox",
    ["plan", "email", "exchange"],
    (mailbox) => mailbox?.state === "paused" && no("mailbox_paused", null, mailbox.address),
  ),
  /** One that rests until an instant is left to the plan, which knows its hours. */
  mailbox_resting: rule(
    "mailbox",
    ["plan", "email", "exchange"],
    (mailbox) =>
      mailbox?.state === "resting" &&
      mailbox.restUntil === null &&
      no("mailbox_resting", null, mailbox.address),
  ),
  mailbox_stopped: rule(
    "mailbox",
    ["plan", "email", "answer", "service", "exchange"],
    (mailbox) => mailbox?.smtpStopped === 1 && no("mailbox_stopped", null, mailbox.smtpTrouble),
  ),
  mailbox_new: rule(
    "mailbox",
    ["plan", "email", "exchange"],
    (mailbox) => mailbox?.connectedWall === null && no("mailbox_unreachable", null, NEVER_CONNECTED),
  ),
  /** A mailbox whose replies cannot be read must not send: it could write after a stop. */
  mailbox_unread: rule(
    "mailbox",
    ["plan", "email", "answer", "service", "exchange"],
    (mailbox) => mailbox?.trouble != null && no("mailbox_unreachable", null, mailbox.trouble),
  ),
  mailbox_unreachable: rule(
    "mailbox",
    ["plan", "email", "answer", "service", "exchange"],
    (mailbox, now) =>
      mailbox?.smtpTrouble != null &&
      (mailbox.smtpRetryAt ?? 0) > now &&
      no("mailbox_unreachable", mailbox.smtpRetryAt, mailbox.smtpTrouble),
  ),
  overtaken: rule("answer", ["answer"], ({ isOvertaken }) => isOvertaken && no("overtaken")),
  account_waits: rule("account", ["social"], accountWaits),
  wait_days: rule("journey", ["email"], ({ dueAt }, now) => dueAt > now && no("wait_days", dueAt)),
  touched_lately: rule("team", ["email", "social"], ({ daysBetween, lastTouchAt, zone }, now) => {
    if (daysBetween <= 0 || lastTouchAt === null) return null;
    const allowed = afterDays(lastTouchAt, daysBetween, zone);
    return allowed > now && no("touched_lately", allowed);
  }),
  outside_hours: rule("hours", ["email", "social"], (calendar, now) => {
    const opens = openFrom(now, calendar);
    if (opens <= now) return null;
    return calendar.holidays.has(dayNumberOf(now, calendar.zone))
      ? no("holiday", opens)
      : no("outside_hours", opens);
  }),
  own_hours: rule("sender", ["email"], (sender, now) => {
    const own = ownHours(sender, dayNumberOf(now, sender.zone));
    return (own === null || now < own.opens || now >= own.closes) && no("outside_hours");
  }),
  rest: rule(
    "sender",
    ["email"],
    ({ restsUntil }, now) => restsUntil !== null && restsUntil > now && no("mailbox_resting", restsUntil),
  ),
  daily_limit: rule("sender", ["email"], (sender) => {
    const limit = limitToday(sender);
    if (sender.sentToday < limit) return null;
    return limit < sender.dailyLimit ? no("ramp") : no("mailbox_limit");
  }),
  gap: rule(
    "sender",
    ["email"],
    ({ lastSentAt, gapMinutes }, now) =>
      lastSentAt !== null &&
      now - lastSentAt < gapMinutes.least * MINUTE &&
      no("gap", lastSentAt + gapMinutes.least * MINUTE),
  ),
  hour_limit: rule(
    "sender",
    ["email"],
    ({ hourlyLimit, sentLately }, now) =>
      hourlyLimit != null && !new RollingBudget(hourlyLimit, HOUR, sentLately).fits(now) && no("hour_limit"),
  ),
  new_a_day: rule(
    "pace",
    ["email"],
    ({ pace, isFirst }) =>
      isFirst && pace?.newADay != null && pace.begunToday >= pace.newADay && no("new_a_day"),
  ),
  pace: rule(
    "pace",
    ["email"],
    ({ pace }, now) => pace !== null && pacesOf(pace).some((budget) => !budget.fits(now)) && no("pace"),
  ),
  domain_cap: rule(
    "domain",
    ["email"],
    ({ most, sentAt }, now) =>
      most !== null && !new RollingBudget(most, DAY, sentAt).fits(now) && no("domain_cap"),
  ),
  account_limit: rule(
    "account",
    ["social"],
    ({ isSpent, nextDayAt, name }) => isSpent && no("account_limit", nextDayAt, name),
  ),
};

const NEVER_CONNECTED = "Its mailbox has not connected yet.";

function accountWaits({ state, retryAt, name }: AccountStanding, now: number) {
  if (state === "signed_out") return no("account_signed_out", null, name);
  if (state === "paused") return no("account_paused", null, name);
  return retryAt !== null && retryAt > now ? no("account_limit", retryAt, name) : null;
}

type Rules = typeof RULES;
export type RuleName = keyof Rules;
/** The rules that a door asks. */
export type RuleAt<D extends Door> = {
  [K in RuleName]: D extends Rules[K]["doors"][number] ? K : never;
}[RuleName];
export type ScopeAt<D extends Door> = Rules[RuleAt<D>]["scope"];
type RuleOf<D extends Door, S extends Scope> = {
  [K in RuleAt<D>]: Rules[K]["scope"] extends S ? K : never;
}[RuleAt<D>];
export type NoAt<D extends Door, S extends Scope = ScopeAt<D>> = Exclude<
  ReturnType<Rules[RuleOf<D, S>]["asks"]>,
  null | false
>;

/** The names of a door's rules, in their order. */
export const rulesAt = <D extends Door>(door: D): RuleAt<D>[] =>
  (Object.keys(RULES) as RuleName[]).filter((name) =>
    (RULES[name].doors as readonly Door[]).includes(door),
  ) as RuleAt<D>[];

interface AnyRule {
  scope: Scope;
  asks(known: unknown, now: number): No | null | false;
}
const asked = new Map<string, AnyRule[]>();

/** The first rule of a door that says no, or null if it may go. */
export const mayNotGo = <D extends Door>(
  door: D,
  known: Pick<Known, ScopeAt<D>>,
  now: number,
): NoAt<D> | null => firstNo(door, null, known, now) as NoAt<D> | null;

/** As `mayNotGo`, but of some scopes only, where one thing is asked once for many: a mailbox for all its journeys. */
export const mayNotGoFor = <D extends Door, S extends ScopeAt<D>>(
  door: D,
  scopes: readonly S[],
  known: Pick<Known, S>,
  now: number,
): NoAt<D, S> | null => firstNo(door, scopes, known, now) as NoAt<D, S> | null;

function firstNo(door: Door, scopes: readonly Scope[] | null, known: Partial<Known>, now: number): No | null {
  const key = scopes ? `${door} ${scopes}` : door;
  let rules = asked.get(key);
  if (!rules) {
    rules = rulesAt(door)
      .map((name): AnyRule => RULES[name] as AnyRule)
      .filter(({ scope }) => scopes?.includes(scope) ?? true);
    asked.set(key, rules);
  }
  for (const { scope, asks } of rules) {
    const said = asks(known[scope], now);
    if (said) return said;
  }
  return null;
}

/** Whether nothing goes from a mailbox now, for a wait or for a rest: then a thread of it may go on from another, where the sequence says so. */
export const isSilent = (mailbox: MailboxStanding | undefined, now: number): boolean =>
  mayNotGoFor("plan", ["mailbox"], { mailbox }, now) !== null ||
  (mailbox?.state === "resting" && (mailbox.restUntil === null || mailbox.restUntil > now));
