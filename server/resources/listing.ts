/** How a collection is read piece by piece: by a cursor, which stays right while rows come and go. */
import { z } from "zod";

export const MOST_ROWS = 100;

/** What every collection can be asked. */
export const listingQuery = {
  limit: z.coerce
    .number()
    .int()
    .min(1)
    .max(MOST_ROWS, `At most ${MOST_ROWS} at once.`)
    .default(25)
    .meta({ description: `How many at once, at most ${MOST_ROWS}.` }),
  cursor: z
    .string()
    .regex(/^[A-Za-z0-9_-]{1,24}$/, "Take the cursor from “next” of the answer before.")
    .optional()
    .meta({ description: "“next” of the answer before; without it, the beginning." }),
  order: z
    .enum(["asc", "desc"])
    .default("asc")
    .meta({ description: "By id: the oldest first, or the newest." }),
};
export type Listing = { limit: number; cursor?: string | undefined; order: "asc" | "desc" };

export const collection = <T extends z.ZodType>(item: T) =>
  z.object({
    data: z.array(item),
    next: z.string().nullable().meta({ description: "The cursor of what follows; null at the end." }),
  });

const cursorOf = (id: number) => Buffer.from(String(id)).toString("base64url");
function idOf(cursor: string): number {
  const id = Number(Buffer.from(cursor, "base64url").toString("latin1"));
  return Number.isSafeInteger(id) ? id : 0;
}

/** A condition over `column`, the order, and their values; one row more than asked for tells whether more follow. */
export function windowOf({ limit, cursor, order }: Listing, column: string) {
  const isUp = order === "asc";
  const after = cursor === undefined ? (isUp ? 0 : Number.MAX_SAFE_INTEGER) : idOf(cursor);
  return {
    where: `${column} ${isUp ? ">" : "<"} @after`,
    order: `${column} ${order} LIMIT @limit`,
    values: { after, limit: limit + 1 },
  };
}

/** The rows of a window as a page; `make` makes of each what is answered. */
export function pageOf<Row extends { id: number }, T>(
  rows: readonly Row[],
  { limit }: Pick<Listing, "limit">,
  make: (row: Row) => T,
): { data: T[]; next: string | null } {
  const shown = rows.slice(0, limit);
  const last = shown.at(-1);
  return { data: shown.map(make), next: rows.length > limit && last ? cursorOf(last.id) : null };
}

/** Of a small collection that is in memory as a whole, by id. */
export function pageOfAll<Row extends { id: number }>(
  rows: readonly Row[],
  listing: Listing,
): { data: Row[]; next: string | null } {
  const { after } = windowOf(listing, "").values;
  const isUp = listing.order === "asc";
  const rest = rows
    .filter(({ id }) => (isUp ? id > after : id < after))
    .toSorted((a, b) => (isUp ? a.id - b.id : b.id - a.id));
  return pageOf(rest.slice(0, listing.limit + 1), listing, (row) => row);
}

/** An instant as others read it (RFC 3339, UTC). */
export const time = z.iso.datetime().meta({ description: "RFC 3339, UTC." });
export function at(ms: number): string;
export function at(ms: number | null): string | null;
export function at(ms: number | null): string | null {
  return ms === null ? null : new Date(ms).toISOString();
}

export const id = z.number().int();
/** An id as it stands in a path. */
export const pathId = z.coerce.number().int().positive().meta({ description: "Its id." });
