/** What happened here and is to be told in the CRM, written down in the order in which it happened. */
import { createHmac } from "node:crypto";
import type { App, AppTx } from "../app.ts";
import { personKey } from "../db/erased.ts";
import { newestHappening } from "../db/listeners.ts";
import { type Db, sql, transact } from "../db/open.ts";
import { prospectById } from "../db/prospects.ts";
import { at } from "../resources/listing.ts";
import { latestMeeting } from "../resources/meeting.ts";
import { type Crm, crmOf } from "./crm.ts";
import { linkOf } from "./meet.ts";

const MOST_AT_ONCE = 200;
const LONGEST_TEXT = 20_000;

interface Happened {
  id: number;
  kind: string;
  at: number;
  prospectId: number | null;
  touchId: number | null;
  replyId: number | null;
  detail: string | null;
}

/**
 * The id under which something of ours is known there. It is told by what it is of, and not by a number that a restored copy
 * gives again; keyed, so that two installations at one CRM have their own.
 */
export const externalId = ({ key }: Pick<App, "key">, ...of: (string | number | null)[]): string =>
  `saudade-${createHmac("sha256", key).update(JSON.stringify(of)).digest("base64url").slice(0, 22)}`;

/** Looks at what happened since the last look; true if more may be left. */
export function noteNews(app: App, crmId: number): boolean {
  // Most looks find nothing, and nobody waits for those.
  if (newestHappening(app.db) <= (crmOf(app)?.seenHappening ?? 0)) return false;
  return transact(app, (app) => {
    const { db } = app;
    const crm = crmOf(app);
    if (crm?.id !== crmId) return false;
    const rows = sql(
      db,
      `SELECT id, kind, at, prospect_id AS prospectId, touch_id AS touchId, reply_id AS replyId, detail FROM happenings
       WHERE id > @seen ORDER BY id LIMIT ${MOST_AT_ONCE}`,
    ).all<Happened>({ seen: crm.seenHappening });
    for (const each of rows)
      if (each.prospectId !== null) note(app, crm, { ...each, prospectId: each.prospectId });
    const to = rows.at(-1)?.id ?? newestHappening(db);
    sql(db, "UPDATE crms SET seen_happening = @to WHERE id = @id").run({ id: crm.id, to });
    return rows.length === MOST_AT_ONCE;
  });
}

const CHANGES = ["prospect.field_changed", "prospect.stage_changed", "prospect.owner_changed"];

function note(app: AppTx, crm: Crm, happened: Happened & { prospectId: number }): void {
  const { db } = app;
  const { kind, prospectId, detail } = happened;
  const { logs, deals } = crm.settings;
  if (CHANGES.includes(kind)) {
    sql(db, "UPDATE crm_links SET is_dirty = 1 WHERE prospect_id = @prospectId AND crm_id = @crmId").run({
      ...{ prospectId, crmId: crm.id },
    });
    return;
  }
  const makesDeal =
    (deals.at === "first_email" && kind === "email.sent") ||
    (deals.at === "booked" && kind === "meeting.booked") ||
    (deals.at === "positive" && kind === "reply.labelled" && isPositive(db, happened.replyId));
  if (makesDeal && !hasDeal(db, crm.id, prospectId))
    askDeal(app, crm, { prospectId, name: deals.name, stage: deals.stage, cause: "settings" });
  const logged: [boolean, string, () => { subject: string; text: string }][] = [
    [logs.sent && kind === "email.sent", "email", () => emailOf(db, happened.touchId)],
    [logs.replies && kind === "reply.received", "reply", () => replyOf(db, happened.replyId)],
    [
      logs.replies && kind === "prospect.opted_out",
      "note",
      () => ({ subject: "Wants no more mail", text: "" }),
    ],
    [logs.meetings && kind.startsWith("meeting."), "meeting", () => meetingOf(app, kind, prospectId)],
  ];
  const [, type, say] = logged.find(([isLogged]) => isLogged) ?? [];
  const person = prospectById(db, prospectId);
  if (!type || !say || !person || !isInStep(db, crm, prospectId)) return;
  sql(
    db,
    `INSERT INTO crm_outbox (crm_id, kind, prospect_id, external_id, body, at)
     VALUES (@crmId, 'activity', @prospectId, @externalId, @body, @at) ON CONFLICT DO NOTHING`,
  ).run({
    ...{ crmId: crm.id, prospectId, at: happened.at },
    externalId: externalId(
      app,
      kind,
      happened.at,
      personKey(person),
      happened.touchId,
      happened.replyId,
      detail,
    ),
    body: JSON.stringify({
      ...{ kind: type, at: at(happened.at), ...say() },
      url: `${app.config.url}/prospects/${prospectId}`,
    }),
  });
}

/** Whether somebody is there, or will be before this is told. */
function isInStep(db: Db, crm: Crm, prospectId: number): boolean {
  const link = linkOf(db, crm.id, prospectId);
  if (link) return link.state === "linked" || link.state === "gone_there";
  return (
    crm.settings.makesPeople ||
    sql(
      db,
      "SELECT 1 FROM crm_outbox WHERE prospect_id = @prospectId AND kind = 'deal' AND state = 'due'",
    ).get({
      prospectId,
    }) !== undefined
  );
}

const hasDeal = (db: Db, crmId: number, prospectId: number): boolean =>
  sql(
    db,
    `SELECT 1 FROM crm_deals WHERE prospect_id = @prospectId AND crm_id = @crmId
     UNION ALL SELECT 1 FROM crm_outbox WHERE prospect_id = @prospectId AND kind = 'deal' AND crm_id = @crmId AND state != 'failed'`,
  ).get({ prospectId, crmId }) !== undefined;

/** A deal of somebody is made there, or moved to a stage where there is one. `cause`: of the same it is asked once. */
export function askDeal(
  app: AppTx,
  crm: Crm,
  { prospectId, name, stage, cause }: { prospectId: number; name: string; stage: string; cause: string },
): void {
  sql(
    app.db,
    `INSERT INTO crm_outbox (crm_id, kind, prospect_id, external_id, body, at)
     VALUES (@crmId, 'deal', @prospectId, @externalId, @body, @now) ON CONFLICT DO NOTHING`,
  ).run({
    ...{ crmId: crm.id, prospectId, now: app.clock.now() },
    externalId: externalId(app, "deal asked", prospectId, cause),
    body: JSON.stringify({ name, stage }),
  });
}

const isPositive = (db: Db, replyId: number | null): boolean =>
  sql(
    db,
    "SELECT 1 FROM replies r JOIN labels l ON l.id = r.label_id WHERE r.id = @replyId AND l.is_positive = 1",
  ).get({ replyId }) !== undefined;

function emailOf(db: Db, touchId: number | null): { subject: string; text: string } {
  const row = sql(db, "SELECT subject, body FROM touches WHERE id = @touchId").get<{
    subject: string;
    body: string;
  }>({
    touchId,
  });
  return { subject: row?.subject ?? "An email", text: (row?.body ?? "").slice(0, LONGEST_TEXT) };
}

function replyOf(db: Db, replyId: number | null): { subject: string; text: string } {
  const row = sql(db, "SELECT subject, text FROM replies WHERE id = @replyId").get<{
    subject: string;
    text: string;
  }>({
    replyId,
  });
  return { subject: row?.subject ?? "An answer", text: (row?.text ?? "").slice(0, LONGEST_TEXT) };
}

const MEETING_WORDS: Record<string, string> = {
  "meeting.booked": "A call was booked",
  "meeting.moved": "A call was moved",
  "meeting.cancelled": "A call was cancelled",
  "meeting.held": "A call took place",
  "meeting.missed": "Nobody came to a call",
};

function meetingOf(app: AppTx, kind: string, prospectId: number): { subject: string; text: string } {
  const meeting = latestMeeting(app, prospectId);
  return {
    subject: MEETING_WORDS[kind] ?? "A call",
    text: meeting ? `${meeting.startsAt}, with ${meeting.user.name}` : "",
  };
}
