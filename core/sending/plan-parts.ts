/** What a plan is asked, and what it says. */
import type { Calendar } from "../calendar.ts";
import type { ExpectedEmail } from "../sequence/expected-path.ts";
import type { Pace } from "./pace.ts";
import type { Sender } from "./sender.ts";

export interface PlanJourney {
  id: number;
  /** When they can be reached. Journeys that share the object are known for alike. */
  calendar: Calendar;
  /** Of the emails behind the next, where it is another: only an email at a named time ignores hours. */
  calendarAfter?: Calendar;
  /** The senders that may send it; exactly one once a thread has begun. */
  senderIds: readonly number[];
  followUp: boolean;
  dueAt: number;
  ahead: readonly ExpectedEmail[];
  pace?: Pace | null;
  /** Of the address, for the cap by domain. */
  domain?: string;
  /** Who runs their mail. */
  provider?: string | null;
  /** Of any touch by anybody in the team. */
  lastTouchAt?: number | null;
}

export interface PlannedTouch {
  journeyId: number;
  stepId: string;
  senderId: number;
  at: number;
  followUp: boolean;
}

/** What holds for everybody's sending. */
export interface SendingRules {
  /** The part of a sender's day that follow-ups may claim, 0 to 1, while both kinds want more than there is. */
  followUpShare: number;
  /** Touches to one recipient domain within any 24 hours, since its people may live in several zones; null: no cap. */
  domainADay: number | null;
  /** Days at least between two touches of one person by anybody in the team, by date where they are. */
  daysBetween: number;
}
export const NO_RULES: SendingRules = { followUpShare: 1, domainADay: null, daysBetween: 0 };

/** Which rule kept somebody from going on the first day on which they could have. */
export type Block =
  | "mailbox_limit"
  | "ramp"
  | "hour_limit"
  | "gap"
  | "new_a_day"
  | "ratio"
  | "domain_cap"
  | "pace"
  | "touched_lately";

export interface Plan {
  /** In order of time; later steps as if nobody answered. */
  touches: PlannedTouch[];
  /** By journey. */
  blocks: Map<number, Block>;
}

export interface PlanInput {
  now: number;
  until: number;
  senders: readonly Sender[];
  journeys: readonly PlanJourney[];
  rules?: SendingRules;
  /** What was planned before. */
  kept?: readonly PlannedTouch[];
  /** When the last 24 hours' touches went, by recipient domain; needed with a cap. */
  domainsLately?: ReadonlyMap<string, readonly number[]>;
}
