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

/**
 * What is said of an address to people. Of a risky one either nothing speaks against it, and nothing for it
 * either, or something does.
 */
export const ADDRESS_STATES = [
  "good",
  "likely",
  "doubtful",
  "unknown",
  "unchecked",
  "missing",
  "bad",
] as const;
export type AddressState = (typeof ADDRESS_STATES)[number];
export const isAddressState = (value: string): value is AddressState =>
  (ADDRESS_STATES as readonly string[]).includes(value);

/** A risky address for one of these is likely: nobody could be asked, or the server takes everybody. */
export const LIKELY_REASONS: readonly VerdictReason[] = ["not_probed", "accepts_all"];

export function addressState(row: {
  email: string;
  verdict: string | null;
  verdictReason: string | null;
}): AddressState {
  if (row.email === "") return "missing";
  if (row.verdict === null) return "unchecked";
  if (row.verdict !== "risky") return row.verdict as Verdict & AddressState;
  return LIKELY_REASONS.some((reason) => reason === row.verdictReason) ? "likely" : "doubtful";
}

/** Which verdicts a sequence writes to. */
export const WRITES_TO = ["good", "risky", "any"] as const;
export type WritesTo = (typeof WRITES_TO)[number];

/** Whether a sequence that writes to `writesTo` may write to an address of this verdict. Bad ones never. */
export function mayWriteTo(writesTo: WritesTo, verdict: Verdict | null): boolean {
  if (verdict === "good") return true;
  if (verdict === "bad") return false;
  return writesTo === "any" || (writesTo === "risky" && verdict === "risky");
}
