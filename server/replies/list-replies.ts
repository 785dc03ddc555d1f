import { newText } from "../../core/replies/new-text.ts";
import type { Reading } from "../../core/replies/sort.ts";
import { type By, mayNot } from "../accounts/may-not.ts";
import type { Whose } from "../accounts/whose.ts";
import type { App } from "../app.ts";
import { isBlocked } from "../db/block-list.ts";
import { nameSql } from "../db/names.ts";
import { sql } from "../db/open.ts";
import { done, type Outcome } from "../errors.ts";
import { readingOf } from "./stored-reading.ts";

export type ReplyKind =
  | "person"
  | "automatic"
  | "left"
  | "bounce"
  | "delay"
  | "complaint"
  | "receipt"
  | "challenge"
  | "notice";

export interface ReplyRow {
  id: number;
  prospectId: number;
  name: string;
  company: string;
  title: string;
  subject: string;
  /** The first words of what they wrote; "" if there are none, but perhaps something else. */
  firstLine: string;
  hasAttached: boolean;
  hasQuoted: boolean;
  kind: ReplyKind;
  /** "likely": no id says so; the rep is asked. */
  certainty: "sure" | "likely" | "denied";
  fromAddress: string;
  at: number;
  readAt: number | null;
  mailbox: string;
  /** Where an answer would go. */
  answerTo: string;
  reading: Reading | null;
  /** Its label's code and name, and whether a person set it. */
  label: { code: string; name: string; byRep: boolean } | null;
}

export interface OpenReply extends ReplyRow {
  /** Nothing may be written to where an answer would go. */
  blocked: boolean;
  text: string;
  detail: string | null;
}

export type ReplyFilter = "unread" | "people" | "automatic" | "bounces";

/** What somebody has to read: also an absence that no header proves, since a person may have written it, and a notice that names somebody. */
const FOR_A_PERSON = `(r.kind IN ('person', 'left', 'challenge')
  OR (r.kind IN ('automatic', 'notice') AND r.reading IS NOT NULL AND NOT r.reading ->> '$.sure'))`;
const WHERE: Record<ReplyFilter, string> = {
  unread: `${FOR_A_PERSON} AND r.certainty != 'denied' AND r.read_at IS NULL`,
  people: `${FOR_A_PERSON} AND r.certainty != 'denied'`,
  automatic: "r.kind IN ('automatic', 'receipt', 'notice')",
  bounces: "r.kind IN ('bounce', 'delay', 'complaint')",
};
const MOST_ROWS = 100;
/** Characters of a reply that the list shows. */
const FIRST_LINE = 110;

/** What waits for an answer comes first, then what has to be decided; of the same kind the newest. */
const ORDER: Record<ReplyFilter, string> = {
  unread: `CASE WHEN r.certainty = 'likely' THEN 3
    ELSE CASE r.reading ->> '$.label' WHEN 'interested' THEN 0 WHEN 'question' THEN 1 WHEN 'not_now' THEN 2 WHEN 'wrong_person' THEN 2
      WHEN 'opt_out' THEN 4 WHEN 'not_interested' THEN 4 ELSE 3 END END, r.at DESC, r.id DESC`,
  people: "r.at DESC, r.id DESC",
  automatic: "r.at DESC, r.id DESC",
  bounces: "r.at DESC, r.id DESC",
};

const COLUMNS = `r.id, r.prospect_id AS prospectId,
  ${nameSql()} AS name,
  coalesce(nullif(c.name, ''), p.company) AS company, p.title, r.subject, substr(r.text, 1, 400) AS beginning, r.attached != '[]' AS hasAttached,
  r.quoted != '' AS hasQuoted, r.kind, r.at, r.read_at AS readAt,
  m.address AS mailbox, r.answer_to AS answerTo, r.certainty, r.from_address AS fromAddress, r.reading,
  coalesce(l.key, 'own-' || l.id) AS labelCode, l.name AS labelName, r.labelled_by AS labelledBy`;
const FROM = `replies r JOIN prospects p ON p.id = r.prospect_id LEFT JOIN companies c ON c.id = p.company_id
  JOIN mailboxes m ON m.id = r.mailbox_id LEFT JOIN labels l ON l.id = r.label_id`;

type Row = Omit<ReplyRow, "reading" | "label" | "firstLine" | "hasAttached" | "hasQuoted"> & {
  beginning: string;
  hasAttached: 0 | 1;
  hasQuoted: 0 | 1;
  reading: string | null;
  labelCode: string | null;
  labelName: string | null;
  labelledBy: number | null;
};

function rowOf({ reading, labelCode, labelName, labelledBy, beginning, ...row }: Row): ReplyRow {
  return {
    ...row,
    firstLine: firstLineOf(beginning),
    hasAttached: row.hasAttached === 1,
    hasQuoted: row.hasQuoted === 1,
    reading: reading === null ? null : readingOf(reading),
    label:
      labelCode === null || labelName === null
        ? null
        : { code: labelCode, name: labelName, byRep: labelledBy !== null },
  };
}

/** The first words behind the greeting. */
function firstLineOf(text: string): string {
  const lines = newText(text)
    .split("\n")
    .map((line) => line.trim())
    .filter(Boolean);
  const behind =
    lines.length > 1 && (lines[0] ?? "").length < 40 && /[,:!]$/.test(lines[0] ?? "")
      ? lines.slice(1)
      : lines;
  const line = behind.join(" ");
  return line.length > FIRST_LINE ? `${line.slice(0, FIRST_LINE - 1)}…` : line;
}

/** Of the mailboxes of somebody, or of all. */
const OF = "(@everybody OR r.mailbox_id IN (SELECT id FROM mailboxes WHERE user_id = @userId))";

export interface ReplyQuery {
  filter: ReplyFilter;
  /** Only those with this label's code; "" for all. */
  label?: string;
  /** Ids that a search found, in its order; null for no search. */
  found?: readonly number[] | null;
}

/** The replies of a kind, in the order in which they are best read. `keep` stays in the list although it has been read since. */
export function listReplies({ db }: App, of: Whose, query: ReplyQuery, keep: number | null): ReplyRow[] {
  if (query.found)
    return sql(
      db,
      `SELECT ${COLUMNS} FROM json_each(@ids) f JOIN ${FROM.replace("replies r", "replies r ON r.id = f.value")} ORDER BY f.key`,
    )
      .all<Row>({ ids: JSON.stringify(query.found) })
      .map(rowOf);
  if (query.label)
    return sql(
      db,
      `SELECT ${COLUMNS} FROM ${FROM} WHERE r.label_id = (SELECT id FROM labels WHERE coalesce(key, 'own-' || id) = @label) AND ${OF}
       ORDER BY r.at DESC, r.id DESC LIMIT ${MOST_ROWS}`,
    )
      .all<Row>({ ...of, label: query.label })
      .map(rowOf);
  return sql(
    db,
    `SELECT ${COLUMNS} FROM ${FROM}
     WHERE r.id IN (SELECT r.id FROM replies r WHERE ${WHERE[query.filter]} AND ${OF} UNION SELECT @keep)
     ORDER BY ${ORDER[query.filter]} LIMIT ${MOST_ROWS}`,
  )
    .all<Row>({ ...of, keep })
    .map(rowOf);
}

const oneRow = (db: App["db"], id: number): ReplyRow | null => {
  const row = sql(db, `SELECT ${COLUMNS} FROM ${FROM} WHERE r.id = @id`).get<Row>({ id });
  return row ? rowOf(row) : null;
};

/** One reply with all that the desk shows of it, or null. */
export function openReply({ db }: App, id: number): OpenReply | null {
  const row = oneRow(db, id);
  const more = sql(db, "SELECT text, detail FROM replies WHERE id = @id").get<{
    text: string;
    detail: string | null;
  }>({ id });
  return row && more ? { ...row, ...more, blocked: isBlocked(db, row.answerTo) } : null;
}

export function countReplies({ db }: App, of: Whose): Record<ReplyFilter, number> {
  const count = (where: string) =>
    sql(
      db,
      `SELECT count(*) AS count FROM replies r WHERE ${where} AND r.prospect_id IS NOT NULL AND ${OF}`,
    ).get<{ count: number }>(of)?.count ?? 0;
  return {
    unread: count(WHERE.unread),
    people: count(WHERE.people),
    automatic: count(WHERE.automatic),
    bounces: count(WHERE.bounces),
  };
}

/** How many carry each label, by its code. */
export function countLabels({ db }: App, of: Whose): Record<string, number> {
  return Object.fromEntries(
    sql(
      db,
      `SELECT coalesce(l.key, 'own-' || l.id) AS code, count(*) AS count FROM replies r JOIN labels l ON l.id = r.label_id
       WHERE r.prospect_id IS NOT NULL AND ${OF} GROUP BY l.id`,
    )
      .all<{ code: string; count: number }>(of)
      .map(({ code, count }) => [code, count]),
  );
}

export function countUnread({ db }: App, of: Whose): number {
  return (
    sql(
      db,
      `SELECT count(*) AS count FROM replies r WHERE ${WHERE.unread} AND r.prospect_id IS NOT NULL AND ${OF}`,
    ).get<{ count: number }>(of)?.count ?? 0
  );
}

/** Since when the longest one waits to be read; null without any. */
export const oldestUnread = ({ db }: App, of: Whose): number | null =>
  sql(
    db,
    `SELECT min(r.at) AS at FROM replies r WHERE ${WHERE.unread} AND r.prospect_id IS NOT NULL AND ${OF}`,
  ).get<{ at: number | null }>(of)?.at ?? null;

/** What the unread ones seem to say, by label: for a sentence. */
export function unreadByReading({ db }: App, of: Whose): { label: string; count: number }[] {
  return sql(
    db,
    `SELECT coalesce(CASE WHEN r.reading ->> '$.sure' THEN r.reading ->> '$.label' END, 'unsure') AS label, count(*) AS count
     FROM replies r WHERE ${WHERE.unread} AND r.prospect_id IS NOT NULL AND ${OF} GROUP BY 1 ORDER BY 2 DESC`,
  ).all<{ label: string; count: number }>(of);
}

/** Marks a reply as read, or (false) as to be read again. */
export function markRead(app: App, by: By, id: number, read: boolean): Outcome<null> {
  const { db, clock } = app;
  const no = mayNot(app, by, "reply.change", id);
  if (no) return no;
  sql(db, "UPDATE replies SET read_at = @at WHERE id = @id").run({
    id,
    at: read ? clock.now() : null,
  });
  return done(null);
}
