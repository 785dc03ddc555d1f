/** Turns what happened into notices for whom it concerns, and what is due of them into mail. */
import { randomUUID } from "node:crypto";
import { HOUR } from "../../core/calendar.ts";
import { type NoticeKind, type NoticeSettings, waysOf } from "../../core/notices/notices.ts";
import { readSettings } from "../accounts/settings.ts";
import type { App } from "../app.ts";
import { nameSql } from "../db/names.ts";
import { type Db, sql } from "../db/open.ts";
import { queueServiceMail } from "../db/service-mails.ts";

interface Happened {
  id: number;
  at: number;
  kind: string;
  detail: string | null;
  prospectId: number | null;
  replyId: number | null;
  name: string;
  company: string;
  userId: number | null;
  sure: 0 | 1 | null;
  label: string | null;
}

const MOST_AT_ONCE = 500;

interface Notice {
  kind: NoticeKind;
  text: string;
  path: string;
  about: string;
  /** What a mail says of it below the text. */
  body?: string;
}

/** Looks at the events since the last time. Returns how many notices were written. */
export function writeNotices(app: App): number {
  const { db } = app;
  const mark = sql(db, "SELECT event_id AS id FROM notice_mark").get<{ id: number }>([])?.id ?? 0;
  const newest = sql(db, "SELECT max(id) AS id FROM events").get<{ id: number | null }>([])?.id ?? 0;
  const tasks = tasksDue(app);
  const troubles = mailboxTroubles(app);
  if (newest === mark && tasks.length === 0 && troubles.length === 0) return 0;
  return db
    .transaction(() => {
      let written = 0;
      const events = sql(
        db,
        `SELECT e.id, e.at, e.kind, e.detail, e.prospect_id AS prospectId, e.reply_id AS replyId,
           ${nameSql()} AS name, p.company,
           coalesce(p.owner_id, (SELECT user_id FROM mailboxes m WHERE m.id = e.mailbox_id), (SELECT s.user_id FROM journeys j JOIN sequences s ON s.id = j.sequence_id WHERE j.id = e.journey_id)) AS userId,
           r.reading ->> '$.sure' AS sure, r.reading ->> '$.label' AS label
         FROM events e JOIN prospects p ON p.id = e.prospect_id AND p.erased_at IS NULL LEFT JOIN replies r ON r.id = e.reply_id
         WHERE e.id > @mark AND e.kind IN ('replied', 'likely_reply', 'booked', 'booking_moved', 'booking_cancelled', 'clicked', 'film_watched', 'file_opened', 'stage_set', 'labelled')
         ORDER BY e.id LIMIT ${MOST_AT_ONCE}`,
      ).all<Happened>({ mark });
      for (const event of events)
        for (const notice of noticesOf(event))
          if (event.userId !== null && tell(app, event.userId, event.at, notice)) written++;
      const to = events.length === MOST_AT_ONCE ? (events.at(-1)?.id ?? newest) : newest;
      sql(db, "UPDATE notice_mark SET event_id = @to").run({ to });
      for (const { userId, at, ...notice } of [...tasks, ...troubles])
        if (tell(app, userId, at, notice)) written++;
      return written;
    })
    .immediate();
}

function noticesOf({
  id,
  kind,
  detail,
  prospectId,
  replyId,
  name,
  company,
  sure,
  label,
}: Happened): Notice[] {
  const who = company ? `${name}, ${company}` : name;
  const person = `/prospects/${prospectId}`;
  const reply = replyId === null ? "/replies" : `/replies?reply=${replyId}&show=people`;
  switch (kind) {
    case "replied":
    case "likely_reply": {
      const isInterested = sure === 1 && label === "interested";
      return [
        { kind: "reply", text: `${who} wrote back.`, path: reply, about: `reply ${replyId}` },
        ...(isInterested
          ? [
              {
                kind: "interested" as const,
                text: `${who} seems interested.`,
                path: reply,
                about: `interested ${replyId}`,
              },
            ]
          : []),
      ];
    }
    case "labelled":
      return detail === "Interested"
        ? [{ kind: "interested", text: `${who} is interested.`, path: reply, about: `interested ${replyId}` }]
        : [];
    case "booked":
      return [{ kind: "booking", text: `${who} booked a call.`, path: person, about: `event ${id}` }];
    case "booking_moved":
      return [{ kind: "booking", text: `${who} moved the call.`, path: person, about: `event ${id}` }];
    case "booking_cancelled":
      return [{ kind: "booking", text: `${who} cancelled the call.`, path: person, about: `event ${id}` }];
    case "clicked":
      return [
        {
          kind: "click",
          text: `${who} clicked a link.`,
          path: person,
          about: `click ${prospectId} ${detail ?? ""}`,
        },
      ];
    // Once for each time that they sit down to it.
    case "film_watched":
      return detail === "0"
        ? [{ kind: "watching", text: `${who} is watching your film.`, path: person, about: `event ${id}` }]
        : [];
    case "file_opened":
      return [
        { kind: "watching", text: `${who} is looking at ${detail}.`, path: person, about: `event ${id}` },
      ];
    case "stage_set":
      return [
        {
          kind: "stage",
          text: `${who} is now: ${(detail ?? "").replaceAll("_", " ")}.`,
          path: person,
          about: `event ${id}`,
        },
      ];
    default:
      return [];
  }
}

type Told = Notice & { userId: number; at: number };

/** Own touches and reminders that came due within the last day, counted once a day for each user. */
function tasksDue({ db, clock }: App): Told[] {
  const now = clock.now();
  return sql(
    db,
    `SELECT user_id AS userId, count(*) AS count, date(@now / 1000, 'unixepoch') AS day FROM (
       SELECT user_id, due_at FROM touches WHERE state IN ('draft', 'approved', 'open') AND state = 'open' AND account_id IS NULL AND due_at > @from AND due_at <= @now
       UNION ALL SELECT user_id, due_at FROM reminders WHERE ended_at IS NULL AND due_at > @from AND due_at <= @now)
     WHERE user_id IS NOT NULL GROUP BY user_id`,
  )
    .all<{ userId: number; count: number; day: string }>({ now, from: now - 24 * HOUR })
    .filter(({ userId, day }) => !isTold(db, userId, "task", `tasks ${day}`))
    .map(({ userId, count, day }) => ({
      userId,
      at: now,
      kind: "task" as const,
      text: count === 1 ? "One touch of your own is due." : `${count} touches of your own are due.`,
      path: "/",
      about: `tasks ${day}`,
    }));
}

function mailboxTroubles({ db, clock }: App): Told[] {
  const now = clock.now();
  const mailboxes = sql(
    db,
    `SELECT id, user_id AS userId, address, state, rest_until AS restUntil, coalesce(trouble, smtp_trouble) AS trouble FROM mailboxes
     WHERE removed_at IS NULL AND (state = 'resting' OR trouble IS NOT NULL OR smtp_trouble IS NOT NULL)`,
  )
    .all<{
      id: number;
      userId: number;
      address: string;
      state: string;
      restUntil: number | null;
      trouble: string | null;
    }>([])
    .map((mailbox) => ({
      userId: mailbox.userId,
      at: now,
      kind: "mailbox" as const,
      text:
        mailbox.state === "resting" ? `${mailbox.address} rests.` : `${mailbox.address}: ${mailbox.trouble}`,
      path: `/sending/mailboxes/${mailbox.id}`,
      about: `mailbox ${mailbox.id} ${mailbox.state === "resting" ? mailbox.restUntil : new Date(now).toISOString().slice(0, 10)}`,
    }));
  const finished = sql(
    db,
    `SELECT s.id, s.user_id AS userId, s.name FROM sequences s WHERE s.state = 'running' AND s.kind = 'shared' AND s.deleted_at IS NULL
       AND EXISTS (SELECT 1 FROM journeys WHERE sequence_id = s.id)
       AND NOT EXISTS (SELECT 1 FROM journeys WHERE sequence_id = s.id AND state = 'active')`,
  )
    .all<{ id: number; userId: number; name: string }>([])
    .map(({ id, userId, name }) => ({
      userId,
      at: now,
      kind: "finished" as const,
      text: `“${name}” is through for everybody on it.`,
      path: `/sequences/${id}/people`,
      about: `finished ${id}`,
    }));
  return [...mailboxes, ...finished].filter(({ userId, kind, about }) => !isTold(db, userId, kind, about));
}

export const isTold = (db: Db, userId: number, kind: NoticeKind, about: string): boolean =>
  sql(db, "SELECT 1 FROM notices WHERE user_id = @userId AND kind = @kind AND about = @about").get({
    userId,
    kind,
    about,
  }) !== undefined;

/** False where they want to hear nothing of the kind, or were told. */
export function tell({ db }: App, userId: number, at: number, notice: Notice): boolean {
  const user = sql(db, "SELECT time_zone AS zone FROM users WHERE id = @userId AND removed_at IS NULL").get<{
    zone: string;
  }>({ userId });
  if (!user) return false;
  const ways = waysOf(notice.kind, at, noticeSettings(db, userId), user.zone);
  if (!ways) return false;
  return (
    sql(
      db,
      `INSERT INTO notices (user_id, kind, text, path, about, body, at, in_app, in_browser, mail_at)
       VALUES (@userId, @kind, @text, @path, @about, @body, @at, @inApp, @inBrowser, @mailAt) ON CONFLICT DO NOTHING`,
    ).run({
      userId,
      at,
      body: "",
      ...notice,
      inApp: ways.inApp ? 1 : 0,
      inBrowser: ways.inBrowser ? 1 : 0,
      mailAt: ways.mailAt,
    }).changes === 1
  );
}

export const noticeSettings = (db: Db, userId: number): NoticeSettings => readSettings(db, userId).notices;

/** Puts what is due by mail into one letter for each user. Returns how many letters. */
export function mailNotices({ db, clock, config }: App): number {
  const now = clock.now();
  const due = sql(
    db,
    `SELECT n.user_id AS userId, u.email, u.name, m.id AS mailboxId, m.address FROM (
       SELECT DISTINCT user_id FROM notices WHERE mailed_at IS NULL AND mail_at IS NOT NULL AND mail_at <= @now) n
     JOIN users u ON u.id = n.user_id AND u.removed_at IS NULL
     JOIN mailboxes m ON m.id = coalesce(
       (SELECT min(id) FROM mailboxes WHERE user_id = u.id AND removed_at IS NULL AND state = 'active' AND smtp_trouble IS NULL),
       (SELECT min(id) FROM mailboxes WHERE removed_at IS NULL AND state = 'active' AND smtp_trouble IS NULL))`,
  ).all<{ userId: number; email: string; name: string; mailboxId: number; address: string }>({ now });
  for (const user of due)
    db.transaction(() => {
      const notices = sql(
        db,
        `UPDATE notices SET mailed_at = @now WHERE user_id = @userId AND mailed_at IS NULL AND mail_at IS NOT NULL AND mail_at <= @now
         RETURNING text, path, body`,
      ).all<{ text: string; path: string; body: string }>({ userId: user.userId, now });
      const [first] = notices;
      if (!first) return;
      queueServiceMail(db, {
        kind: "notice",
        mailboxId: user.mailboxId,
        recipient: user.email,
        recipientName: user.name,
        subject: notices.length === 1 ? first.text : `${notices.length} things happened`,
        body: notices
          .map(({ text, body, path }) =>
            [text, body, `${config.url}${path}`].filter(Boolean).join(body ? "\n\n" : "\n"),
          )
          .join("\n\n"),
        meetingId: null,
        prospectId: null,
        messageId: `<notice.${randomUUID()}@${user.address.split("@")[1]}>`,
        dueAt: now,
      });
    }).immediate();
  return due.length;
}

/** When the next notice is due by mail; null if none is. */
export const nextNoticeMailAt = (db: Db, now: number): number | null =>
  sql(db, "SELECT min(mail_at) AS at FROM notices WHERE mailed_at IS NULL AND mail_at > @now").get<{
    at: number | null;
  }>({ now })?.at ?? null;
