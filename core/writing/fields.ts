/** The merge fields that are there for everybody. */

/** Fields every prospect has; lists add their own. */
export const PROSPECT_FIELDS = [
  "first_name",
  "last_name",
  "email",
  "company",
  "title",
  "city",
  "country",
  "phone",
  "profile",
] as const;
/** Fields that the sender fills in. */
export const SENDER_FIELDS = ["sender_name", "sender_first_name", "booking_link", "opt_out_link"] as const;
