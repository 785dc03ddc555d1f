/** What is said of an address, as SQL. */
import { ADDRESS_STATES, type AddressState, LIKELY_REASONS } from "../../core/prospects/verdict.ts";

const LIKELY = `p.verdict_reason IN (${LIKELY_REASONS.map((reason) => `'${reason}'`).join()})`;
const verdict = (value: string) => `p.verdict IS '${value}'`;

/**
 * Whether prospects `p` are in a state, each by conditions that an index answers: who has no address has no verdict,
 * either. The same as addressState (core/prospects/verdict.ts); a test holds the two together.
 */
export const STATE_IS: Record<AddressState, string> = {
  good: `(${verdict("good")})`,
  likely: `(${verdict("risky")} AND coalesce(${LIKELY}, 0))`,
  doubtful: `(${verdict("risky")} AND NOT coalesce(${LIKELY}, 0))`,
  bad: `(${verdict("bad")})`,
  unchecked: `(p.email IS NOT NULL AND (p.verdict IS NULL OR ${verdict("unknown")}))`,
  missing: "(p.email IS NULL)",
};

/** The state of prospects `p`. */
export const STATE_OF = `CASE ${ADDRESS_STATES.map((state) => `WHEN ${STATE_IS[state]} THEN '${state}'`).join(" ")} END`;
