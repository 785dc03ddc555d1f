/** Replies as other programs read them. */
import { z } from "zod";
import type { App } from "../app.ts";
import { sql, type Value } from "../db/open.ts";
import { at, id, type Listing, pageOf, time, windowOf } from "./listing.ts";

export const replySchema = z
  .object({
    id,
    prospectId: id,
    mailboxId: id,
    touchId: id.nullable().meta({ description: "The email that it answers." }),
    kind: z.string().meta({ description: "person, automatic, left, bounce, complaint, …" }),
    from: z.object({ name: z.string(), address: z.string() }),
    subject: z.string(),
    text: z.string(),
    label: z.object({ code: z.string(), name: z.string(), isPositive: z.boolean() }).nullable(),
    at: time,
    readAt: time.nullable(),
    answeredAt: time.nullable(),
  })
  .meta({ id: "Reply" });
type Reply = z.infer<typeof replySchema>;

export const repliesQuery = {
  prospect: z.coerce.number().int().optional().meta({ description: "Only this person's." }),
  label: z.string().max(40).optional().meta({ description: "Only those with this label's code." }),
  unread: z.enum(["true", "false"]).optional(),
};

interface Row {
  id: number;
  prospectId: number;
  mailboxId: number;
  touchId: number | null;
  kind: string;
  fromAddress: string;
  fromName: string;
  subject: string;
  text: string;
  labelCode: string | null;
  labelName: string | null;
  isPositive: number | null;
  at: number;
  readAt: number | null;
  answeredAt: number | null;
}

const SELECT = `SELECT r.id, r.prospect_id AS prospectId, r.mailbox_id AS mailboxId, r.touch_id AS touchId, r.kind,
  r.from_address AS fromAddress, r.from_name AS fromName, r.subject, r.text, coalesce(l.key, 'own-' || l.id) AS labelCode,
  l.name AS labelName, l.is_positive AS isPositive, r.at, r.read_at AS readAt, r.answered_at AS answeredAt
  FROM replies r LEFT JOIN labels l ON l.id = r.label_id`;

const replyOf = (row: Row): Reply => ({
  ...{
    id: row.id,
    prospectId: row.prospectId,
    mailboxId: row.mailboxId,
    touchId: row.touchId,
    kind: row.kind,
  },
  from: { name: row.fromName, address: row.fromAddress },
  ...{ subject: row.subject, text: row.text },
  label:
    row.labelCode === null || row.labelName === null
      ? null
      : { code: row.labelCode, name: row.labelName, isPositive: row.isPositive === 1 },
  ...{ at: at(row.at), readAt: at(row.readAt), answeredAt: at(row.answeredAt) },
});

export function listReplyResources(
  { db }: App,
  {
    prospect,
    label,
    unread,
  }: { prospect?: number | undefined; label?: string | undefined; unread?: string | undefined },
  listing: Listing,
) {
  const window = windowOf(listing, "r.id");
  const values: Record<string, Value> = { ...window.values };
  const where = ["r.prospect_id IS NOT NULL", window.where];
  if (prospect !== undefined) {
    where.push("r.prospect_id = @prospect");
    values.prospect = prospect;
  }
  if (label !== undefined) {
    where.push("r.label_id = (SELECT id FROM labels WHERE coalesce(key, 'own-' || id) = @label)");
    values.label = label;
  }
  if (unread !== undefined) where.push(unread === "true" ? "r.read_at IS NULL" : "r.read_at IS NOT NULL");
  const rows = sql(db, `${SELECT} WHERE ${where.join(" AND ")} ORDER BY ${window.order}`).all<Row>(values);
  return pageOf(rows, listing, replyOf);
}

export function replyResource({ db }: App, replyId: number): Reply | null {
  const row = sql(db, `${SELECT} WHERE r.id = @replyId AND r.prospect_id IS NOT NULL`).get<Row>({ replyId });
  return row ? replyOf(row) : null;
}
