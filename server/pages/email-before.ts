/** The email that led somebody to a page or a file: what they do there belongs to its way, and what else was loaded of it tells programs apart. */

import { type Judged, judgeLoads, type Load } from "../../core/replies/loads.ts";
import type { AppTx } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import { type Db, sql } from "../db/open.ts";
import { isBusy } from "../errors.ts";

/** Who asks, as far as it says. */
export interface Asker {
  agent: string;
  /** The address it comes from. */
  ip: string;
  isHead: boolean;
  /** Its browser is signed in here. */
  isOwn: boolean;
}

/** Nobody who looks at something waits for whoever writes: then it is not noted. */
export function unlessBusy(work: () => void): void {
  try {
    work();
  } catch (error) {
    if (!isBusy(error)) throw error;
  }
}

export interface Source {
  touchId?: number;
  journeyId?: number | null;
  mailboxId?: number;
}

/** The last email of a sequence that they got. */
export const emailBefore = (db: Db, prospectId: number): Source =>
  sql(
    db,
    `SELECT id AS touchId, journey_id AS journeyId, mailbox_id AS mailboxId FROM touches
     WHERE prospect_id = @prospectId AND journey_id IS NOT NULL AND sent_at IS NOT NULL ORDER BY sent_at DESC LIMIT 1`,
  ).get<Source>({ prospectId }) ?? {};

type Happened = Parameters<typeof apply>[1] & {
  kind: "page_visited" | "film_watched" | "file_opened" | "file_saved" | "booking_begun";
};

/** Writes down what happened, with the email that led there. `unless`: not again within so many ms. */
export function happens(
  { db, clock }: AppTx,
  prospectId: number,
  happening: Happened,
  unless: number | null,
  source: Source = emailBefore(db, prospectId),
): void {
  const at = clock.now();
  const detail = "share" in happening ? String(happening.share) : "name" in happening ? happening.name : null;
  const lately =
    unless !== null &&
    sql(
      db,
      `SELECT 1 FROM events WHERE prospect_id = @id AND kind = @kind AND at > @since AND (@detail IS NULL OR detail = @detail) LIMIT 1`,
    ).get({ id: prospectId, kind: happening.kind, since: at - unless, detail });
  if (lately) return;
  apply(db, happening, { at, prospectId, ...source });
}

/** Loads of what an email leads to, judged beside all that was loaded of it: a program that follows all links follows this one, too. */
export const judgeBeside = (db: Db, touchId: number | undefined, loads: readonly Load[]): Judged[] =>
  judgeLoads(sentAt(db, touchId), [...loads, ...loadsOf(db, touchId)]).slice(0, loads.length);

/** Links of ours as `judgeBeside` is told of them, followed or asked for. */
const loadsOf = (db: Db, touchId: number | undefined): Load[] =>
  touchId === undefined
    ? []
    : sql(
        db,
        `SELECT kind, at, agent, network, CASE WHEN instr(coalesce(url, ''), '/for/') > 0 THEN 'page' WHEN instr(coalesce(url, ''), '/look/') > 0 THEN 'file'
           ELSE url END AS url, is_head AS isHead, is_own AS isOwn
         FROM loads WHERE touch_id = @touchId ORDER BY at, id`,
      )
        .all<Omit<Load, "isHead" | "isOwn"> & { isHead: 0 | 1; isOwn: 0 | 1 }>({ touchId })
        .map((row) => ({ ...row, isHead: row.isHead === 1, isOwn: row.isOwn === 1 }));

const sentAt = (db: Db, touchId: number | undefined): number =>
  touchId === undefined
    ? 0
    : (sql(db, "SELECT sent_at AS at FROM touches WHERE id = @touchId").get<{ at: number | null }>({
        touchId,
      })?.at ?? 0);
