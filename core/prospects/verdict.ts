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
 * What is said of an address to people, in these words and no others. Of a risky one either nothing speaks against it,
 * and nothing for it either, or something does; of one whose check came to nothing, as little is known as of one
 * never checked.
 */
export const ADDRESS_WORDS = {
  good: "good",
  likely: "likely",
  doubtful: "doubtful",
  bad: "bad",
  unchecked: "not checked",
  missing: "none",
} as const;
export type AddressState = keyof typeof ADDRESS_WORDS;
export const ADDRESS_STATES = Object.keys(ADDRESS_WORDS) as AddressState[];
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
  if (row.verdict === "good" || row.verdict === "bad") return row.verdict;
  if (row.verdict !== "risky") return "unchecked";
  return LIKELY_REASONS.some((reason) => reason === row.verdictReason) ? "likely" : "doubtful";
}

/** How good an address has to be for a sequence, the strictest first: each takes what those before it take, too. */
export const WRITES_TO = ["good", "likely", "doubtful", "any"] as const;
export type WritesTo = (typeof WRITES_TO)[number];

/**
 * What a new sequence writes to. Where no server is asked, no address is good until its owner answers: a sequence for good
 * ones alone would write to nobody.
 */
export const USUALLY: WritesTo = "likely";

const NEEDED: Partial<Record<AddressState, WritesTo>> = {
  good: "good",
  likely: "likely",
  doubtful: "doubtful",
  unchecked: "any",
};

/** Whether a sequence that writes to `writesTo` may write to an address of this state. Bad ones never. */
export function mayWriteTo(writesTo: WritesTo, state: AddressState): boolean {
  const needed = NEEDED[state];
  return needed !== undefined && WRITES_TO.indexOf(writesTo) >= WRITES_TO.indexOf(needed);
}
