/** Booked calls as other programs read them. */
import { z } from "zod";
import type { App } from "../app.ts";
import { sql, type Value } from "../db/open.ts";
import { at, id, type Listing, pageOf, time, windowOf } from "./listing.ts";

export const meetingSchema = z
  .object({
    id,
    user: z.object({ id, name: z.string() }).meta({ description: "Whose call it is." }),
    prospectId: id.nullable(),
    name: z.string(),
    email: z.string(),
    place: z.string(),
    startsAt: time,
    endsAt: time,
    bookedAt: time,
    cancelledAt: time.nullable(),
    moves: z.number().int().meta({ description: "How often it was moved." }),
    attendance: z
      .string()
      .meta({ description: "open, accepted, declined or tentative, as their calendar said." }),
    heldAt: time.nullable(),
    missedAt: time.nullable(),
  })
  .meta({ id: "Meeting" });
type Meeting = z.infer<typeof meetingSchema>;

export const meetingsQuery = {
  user: z.coerce.number().int().optional().meta({ description: "Only this user's calls." }),
  prospect: z.coerce.number().int().optional().meta({ description: "Only with this person." }),
  from: z.iso
    .datetime({ offset: true })
    .optional()
    .meta({ description: "Only those that start then or later." }),
};

interface Row {
  id: number;
  userId: number;
  userName: string;
  prospectId: number | null;
  name: string;
  email: string;
  place: string;
  startsAt: number;
  endsAt: number;
  createdAt: number;
  cancelledAt: number | null;
  moves: number;
  attendance: string;
  heldAt: number | null;
  missedAt: number | null;
}

const SELECT = `SELECT m.id, m.user_id AS userId, u.name AS userName, m.prospect_id AS prospectId, m.name, m.email, m.place,
  m.starts_at AS startsAt, m.ends_at AS endsAt, m.created_at AS createdAt, m.cancelled_at AS cancelledAt, m.moves, m.attendance,
  m.held_at AS heldAt, m.missed_at AS missedAt FROM meetings m JOIN users u ON u.id = m.user_id`;

const meetingOf = ({ userId, userName, createdAt, ...row }: Row): Meeting => ({
  ...row,
  user: { id: userId, name: userName },
  startsAt: at(row.startsAt),
  endsAt: at(row.endsAt),
  bookedAt: at(createdAt),
  cancelledAt: at(row.cancelledAt),
  heldAt: at(row.heldAt),
  missedAt: at(row.missedAt),
});

export function listMeetings(
  { db }: App,
  {
    user,
    prospect,
    from,
  }: { user?: number | undefined; prospect?: number | undefined; from?: string | undefined },
  listing: Listing,
) {
  const window = windowOf(listing, "m.id");
  const values: Record<string, Value> = { ...window.values };
  const where = [window.where];
  if (user !== undefined) {
    where.push("m.user_id = @user");
    values.user = user;
  }
  if (prospect !== undefined) {
    where.push("m.prospect_id = @prospect");
    values.prospect = prospect;
  }
  if (from !== undefined) {
    where.push("m.starts_at >= @from");
    values.from = Date.parse(from);
  }
  const rows = sql(db, `${SELECT} WHERE ${where.join(" AND ")} ORDER BY ${window.order}`).all<Row>(values);
  return pageOf(rows, listing, meetingOf);
}

export function meetingResource({ db }: App, meetingId: number): Meeting | null {
  const row = sql(db, `${SELECT} WHERE m.id = @meetingId`).get<Row>({ meetingId });
  return row ? meetingOf(row) : null;
}

/** The newest call with somebody; null without any. */
export function latestMeeting({ db }: App, prospectId: number): Meeting | null {
  const row = sql(db, `${SELECT} WHERE m.prospect_id = @prospectId ORDER BY m.id DESC LIMIT 1`).get<Row>({
    prospectId,
  });
  return row ? meetingOf(row) : null;
}

/** What a note of how it went goes by. */
export const tokenOfMeeting = ({ db }: App, meetingId: number): string | null =>
  sql(db, "SELECT token FROM meetings WHERE id = @meetingId").get<{ token: string }>({ meetingId })?.token ??
  null;
