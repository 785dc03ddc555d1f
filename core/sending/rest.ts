/**
 * When a mailbox should rest by itself. Receiving servers count how much of a sender's mail is for people who do not
 * exist, and how much is reported; past a few percent they file the rest as junk.
 */
import { z } from "zod";

export const restRulesSchema = z.object({
  /** Days looked back on. */
  windowDays: z.number().int().min(1).max(30),
  /** Below this many emails one bounce proves nothing. */
  fewestSent: z.number().int().min(1).max(1_000),
  /** Percent of the emails that may come back, or be refused for the sender's sake. */
  bouncePercent: z.number().min(0.5).max(50),
  /** Percent that may be reported as unwanted. */
  complaintPercent: z.number().min(0.05).max(10),
  /** Working days of rest. */
  restDays: z.number().int().min(1).max(60),
  /** Percent of its limit at which it comes back; it rises again from there. */
  returnPercent: z.number().int().min(5).max(100),
});
export type RestRules = z.infer<typeof restRulesSchema>;

/**
 * Large receivers publish 0.3 % of complaints as what they bear (the sender guidelines of 2024) and bear about ten times
 * that in bounces; M3AAWG's Sender Best Common Practices (3.0, 2015) has senders slow down long before.
 */
export const DEFAULT_REST: RestRules = {
  windowDays: 7,
  fewestSent: 25,
  bouncePercent: 4,
  complaintPercent: 0.3,
  restDays: 5,
  returnPercent: 40,
};

/** Fewer than these are chance, whatever their share. */
const FEWEST_BOUNCES = 3;
const FEWEST_COMPLAINTS = 2;

export interface SentCounts {
  sent: number;
  bounced: number;
  complained: number;
  optedOut: number;
}

export const NOTHING_SENT: SentCounts = { sent: 0, bounced: 0, complained: 0, optedOut: 0 };

export interface RestReason {
  sent: number;
  bounced: number;
  /** What passed its limit. */
  of?: "bounced" | "complained";
  complained?: number;
}

/** The counts that call for a rest, or null. */
export function needsRest(counts: SentCounts, rules: RestRules = DEFAULT_REST): RestReason | null {
  const { sent, bounced, complained } = counts;
  if (sent < rules.fewestSent) return null;
  if (bounced >= FEWEST_BOUNCES && (100 * bounced) / sent >= rules.bouncePercent)
    return { sent, bounced, of: "bounced" };
  return complained >= FEWEST_COMPLAINTS && (100 * complained) / sent >= rules.complaintPercent
    ? { sent, bounced, of: "complained", complained }
    : null;
}

export type HealthVerdict = "good" | "watch" | "resting" | "unknown";

/** How a mailbox does: `watch` from half of what would have it rest, `unknown` before it has sent enough to tell. */
export function healthOf(
  counts: SentCounts,
  isResting: boolean,
  rules: RestRules = DEFAULT_REST,
): HealthVerdict {
  if (isResting) return "resting";
  const { sent, bounced, complained } = counts;
  if (sent < rules.fewestSent) return "unknown";
  return (100 * bounced) / sent >= rules.bouncePercent / 2 ||
    (100 * complained) / sent >= rules.complaintPercent / 2
    ? "watch"
    : "good";
}

/** A limit that comes back low rises by this part of the whole each day. */
const RETURN_STEPS = 6;

/** The ramp with which a mailbox comes back from a rest. */
export const returnRamp = (
  dailyLimit: number,
  { returnPercent }: RestRules,
): { start: number; step: number } => ({
  start: Math.max(1, Math.round((dailyLimit * returnPercent) / 100)),
  step: Math.max(1, Math.round(dailyLimit / RETURN_STEPS)),
});
