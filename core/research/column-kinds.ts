/** The closed lists of columns that are worked out, apart from what checks them: pages show these. */

export const COLUMN_KINDS = ["site", "ask", "formula", "service"] as const;
export type ColumnKind = (typeof COLUMN_KINDS)[number];
export const GIVES = ["text", "link", "number", "picture"] as const;
export type Gives = (typeof GIVES)[number];
/** Whether everybody of a company has the same value. */
export type ColumnScope = "company" | "person";
export type ValueState = "found" | "nothing" | "failed" | "refused";
/** For whom a column is worked out: five to try it on; who has no value; whose value is old; everybody. */
export const RUN_WANTS = ["try", "missing", "old", "all"] as const;
export type RunWants = (typeof RUN_WANTS)[number];
export const TRY_ON = 5;

/** What can be taken from a company's web site as it stands there. */
export const SITE_PIECES = ["line", "name", "logo", "picture", "news", "language", "address"] as const;
export type SitePiece = (typeof SITE_PIECES)[number];
