/** The merge fields that are there for everybody. */
import { FIELD_CODES, type FieldCode } from "../prospects/fields.ts";

/** Fields every prospect has; lists add their own. */
export type MergeField = Exclude<FieldCode, "company_domain" | "time_zone">;
export const PROSPECT_FIELDS = Object.values(FIELD_CODES).filter(
  (code): code is MergeField => code !== "company_domain" && code !== "time_zone",
);
/** Fields that the sender fills in. */
export const SENDER_FIELDS = [
  "sender_name",
  "sender_first_name",
  "booking_link",
  "opt_out_link",
  /** The page that is theirs, and a moving picture that leads to it. */
  "page_link",
  "page_picture",
] as const;
