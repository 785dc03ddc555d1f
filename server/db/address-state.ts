/** What is said of an address, as SQL. */
import { LIKELY_REASONS } from "../../core/prospects/verdict.ts";

/** The same as addressState (core/prospects/verdict.ts) of prospects `p`; a test holds the two together. */
export const STATE_OF = `CASE WHEN p.email IS NULL THEN 'missing' WHEN p.verdict IS NULL THEN 'unchecked'
  WHEN p.verdict != 'risky' THEN p.verdict
  WHEN p.verdict_reason IN (${LIKELY_REASONS.map((reason) => `'${reason}'`).join()}) THEN 'likely' ELSE 'doubtful' END`;
