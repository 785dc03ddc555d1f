/**
 * What happens on a page: written down as it is told, by the browser of whoever looks at it. A visit is judged like any load of an email,
 * once what came beside it is known; what only a person does (to watch, to choose a time) counts at once.
 */

import { z } from "zod";
import { DAY, HOUR, MINUTE } from "../../core/calendar.ts";
import { SHARES, type Share, sharesSince } from "../../core/pages/watching.ts";
import { plainLine } from "../../core/plain-line.ts";
import { judgeAgent, type Load, networkOf, SETTLES } from "../../core/replies/loads.ts";
import type { App, AppTx } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import { sql, transact } from "../db/open.ts";
import { visitPage } from "../db/pages.ts";
import { type Asker, emailBefore, happens, judgeBeside, unlessBusy } from "./email-before.ts";
import type { Opened } from "./personal-page.ts";

/** So many visits of one page are kept to be judged within a day; more say nothing new. */
const MOST_A_DAY = 20;
const LONGEST_AGENT = 300;

/** Notes that a page was asked for; nobody who looks at it waits for whoever writes. */
export function noteVisit(app: App, { template, prospect, isLook }: Opened, asker: Asker): void {
  if (isLook) return;
  unlessBusy(() =>
    transact(app, ({ db, clock }) => {
      const now = clock.now();
      const page = visitPage(db, template.id, prospect.id, now);
      const many = sql(
        db,
        "SELECT count(*) AS count FROM page_loads WHERE page_id = @id AND at > @since",
      ).get<{ count: number }>({
        id: page.id,
        since: now - DAY,
      });
      if ((many?.count ?? 0) >= MOST_A_DAY) return;
      sql(
        db,
        `INSERT INTO page_loads (page_id, at, agent, network, is_head, is_own) VALUES (@id, @now, @agent, @network, @isHead, @isOwn)`,
      ).run({
        ...{ id: page.id, now, agent: plainLine(asker.agent, LONGEST_AGENT), network: networkOf(asker.ip) },
        ...{ isHead: Number(asker.isHead), isOwn: Number(asker.isOwn) },
      });
    }),
  );
}

const told = z.discriminatedUnion("what", [
  z.object({ what: z.literal("watched"), share: z.literal(SHARES) }),
  z.object({ what: z.literal("booking") }),
]);

/** Takes what a browser tells of a page: how much of the film was played, that somebody began to choose a time. False for anything else. */
export function noteSeen(app: App, opened: Opened, asker: Asker, input: unknown): boolean {
  const read = told.safeParse(input);
  if (!read.success) return false;
  if (opened.isLook || asker.isOwn || judgeAgent(asker.agent) !== null) return true;
  const happened = read.data;
  unlessBusy(() =>
    transact(app, (app) => {
      if (happened.what === "watched") watched(app, opened, happened.share);
      else happens(app, opened.prospect.id, { kind: "booking_begun" }, DAY);
    }),
  );
  return true;
}

/** Somebody who begins again after so long has sat down to it anew. */
const ANEW = 30 * MINUTE;

function watched(app: AppTx, opened: Opened, share: Share): void {
  const { db, clock } = app;
  const now = clock.now();
  const { id } = visitPage(db, opened.template.id, opened.prospect.id, now);
  const before = sql(
    db,
    `SELECT max(CAST(detail AS INTEGER)) AS share FROM events WHERE prospect_id = @prospectId AND kind = 'film_watched'`,
  ).get<{ share: number | null }>({ prospectId: opened.prospect.id });
  for (const each of sharesSince(before?.share ?? null, share))
    happens(app, opened.prospect.id, { kind: "film_watched", share: each }, null);
  // To begin again is news after a while: they are there now.
  if (share === 0 && before?.share != null)
    happens(app, opened.prospect.id, { kind: "film_watched", share: 0 }, ANEW);
  sql(db, "UPDATE pages SET watched = max(watched, @share) WHERE id = @id").run({ id, share });
}

const MOST_AT_ONCE = 200;

/** Judges the visits that have come to rest; only a person's is an event, once an hour. The engine asks for it. */
export function judgeVisits(app: App): void {
  const waiting = sql(
    app.db,
    `SELECT DISTINCT page_id AS pageId FROM page_loads WHERE trust IS NULL AND at <= @before ORDER BY at LIMIT ${MOST_AT_ONCE}`,
  ).all<{ pageId: number }>({ before: app.clock.now() - SETTLES });
  for (const { pageId } of waiting) judgePage(app, pageId);
}

interface Row {
  id: number;
  at: number;
  agent: string;
  network: string;
  isHead: 0 | 1;
  isOwn: 0 | 1;
  trust: string | null;
}

function judgePage(app: App, pageId: number): void {
  transact(app, (app) => {
    const { db } = app;
    const page = sql(db, "SELECT prospect_id AS prospectId FROM pages WHERE id = @pageId").get<{
      prospectId: number;
    }>({ pageId });
    const rows = sql(
      db,
      `SELECT id, at, agent, network, is_head AS isHead, is_own AS isOwn, trust FROM page_loads WHERE page_id = @pageId ORDER BY at, id`,
    ).all<Row>({ pageId });
    if (!page) return;
    const source = emailBefore(db, page.prospectId);
    const judged = judgeBeside(db, source.touchId, rows.map(asLoad));
    for (const [nth, { id, at, trust }] of rows.entries()) {
      if (trust !== null) continue;
      const now = judged[nth] as (typeof judged)[number];
      sql(db, "UPDATE page_loads SET trust = @trust, because = @because WHERE id = @id").run({
        id,
        trust: now.trust,
        because: now.because,
      });
      if (now.trust !== "person" && now.trust !== "forward") continue;
      const lately = sql(
        db,
        `SELECT 1 FROM events WHERE prospect_id = @id AND kind = 'page_visited' AND at BETWEEN @at - ${HOUR} AND @at LIMIT 1`,
      ).get({ id: page.prospectId, at });
      if (now.trust === "person" && !lately)
        apply(db, { kind: "page_visited" }, { at, prospectId: page.prospectId, ...source });
    }
  });
}

const asLoad = ({ at, agent, network, isHead, isOwn }: Row): Load => ({
  ...{ kind: "clicked" as const, at, agent, network, url: "page" },
  ...{ isHead: isHead === 1, isOwn: isOwn === 1 },
});
