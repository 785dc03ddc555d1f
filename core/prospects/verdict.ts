/** What can be said of an address, and whom a sequence writes to because of it. */

export const VERDICTS = ["good", "risky", "bad", "unknown"] as const;
export type Verdict = (typeof VERDICTS)[number];

export type VerdictReason =
  | "accepted"
  | "answered_before"
  | "not_probed"
  | "accepts_all"
  | "role"
  | "disposable"
  | "look_alike"
  | "bounced"
  | "refused"
  | "no_mail"
  | "no_domain"
  | "syntax"
  | "dns_silent"
  | "mail_server_silent"
  | "later";

/** Which verdicts a sequence writes to. */
export const WRITES_TO = ["good", "risky", "any"] as const;
export type WritesTo = (typeof WRITES_TO)[number];

/** Whether a sequence that writes to `writesTo` may write to an address of this verdict. Bad ones never. */
export function mayWriteTo(writesTo: WritesTo, verdict: Verdict | null): boolean {
  if (verdict === "good") return true;
  if (verdict === "bad") return false;
  return writesTo === "any" || (writesTo === "risky" && verdict === "risky");
}
