/** What stands out in the figures, and what is only chance: for whoever has no time to read a table. */

export interface StepFigures {
  sequence: string;
  step: string;
  /** Whether it is the first step of its sequence. */
  isFirst: boolean;
  sent: number;
  replied: number;
  bounced: number;
  optedOut: number;
}

export interface Share {
  part: number;
  whole: number;
  /** Between these shares, from 0 to 1, the true one lies in 19 of 20 cases. */
  low: number;
  high: number;
}

/** z of the 95 % interval. */
const Z = 1.96;

/** A share with its interval (E. B. Wilson, 1927), which holds for few and for none as well. */
export function shareOf(part: number, whole: number): Share {
  if (whole === 0) return { part, whole, low: 0, high: 1 };
  const p = part / whole;
  const centre = p + (Z * Z) / (2 * whole);
  const spread = Z * Math.sqrt((p * (1 - p)) / whole + (Z * Z) / (4 * whole * whole));
  const by = 1 + (Z * Z) / whole;
  return { part, whole, low: Math.max(0, (centre - spread) / by), high: Math.min(1, (centre + spread) / by) };
}

export type Finding =
  /** The step with the most replies; `isSure` if no other reaches it but by chance. */
  | { kind: "best_step"; at: StepFigures; share: Share; isSure: boolean }
  /** How many of all replies answered a follow-up. */
  | { kind: "follow_ups"; share: Share }
  /** A step that was sent to enough people, and nobody answered it. */
  | { kind: "silent_step"; at: StepFigures; share: Share }
  | { kind: "bounces"; at: StepFigures; share: Share }
  | { kind: "opt_outs"; at: StepFigures; share: Share };

/** Fewer emails than this say nothing of a step. */
const ENOUGH = 20;
/** More of a step than this coming back harms a mailbox's name. */
const MANY_BOUNCES = 0.03;
/** More people than this asking to be left alone is a matter of the text or the list. */
const MANY_OPT_OUTS = 0.02;
/** A step that this many got without an answer can be spared. */
const SILENT_FROM = 60;

/** The findings worth a sentence, what is amiss last; none while the figures are too small. */
export function whatStandsOut(steps: readonly StepFigures[]): Finding[] {
  const judged = steps
    .filter(({ sent }) => sent >= ENOUGH)
    .map((at) => ({ at, share: shareOf(at.replied, at.sent) }))
    .sort((a, b) => b.share.low - a.share.low);
  const findings: Finding[] = [];
  const [best, ...others] = judged;
  if (best && best.at.replied > 0)
    findings.push({
      kind: "best_step",
      ...best,
      isSure: others.every(({ share }) => share.high < best.share.low),
    });
  const replied = steps.reduce((sum, each) => sum + each.replied, 0);
  const late = steps.filter(({ isFirst }) => !isFirst).reduce((sum, each) => sum + each.replied, 0);
  const hasFollowUps = steps.some(({ isFirst, sent }) => !isFirst && sent >= ENOUGH);
  if (replied >= ENOUGH && hasFollowUps) findings.push({ kind: "follow_ups", share: shareOf(late, replied) });
  for (const { at, share } of judged)
    if (at.sent >= SILENT_FROM && at.replied === 0) findings.push({ kind: "silent_step", at, share });
  for (const { at } of judged) {
    const bounces = shareOf(at.bounced, at.sent);
    if (at.bounced / at.sent > MANY_BOUNCES) findings.push({ kind: "bounces", at, share: bounces });
    const optOuts = shareOf(at.optedOut, at.sent);
    if (at.optedOut / at.sent > MANY_OPT_OUTS) findings.push({ kind: "opt_outs", at, share: optOuts });
  }
  return findings;
}
