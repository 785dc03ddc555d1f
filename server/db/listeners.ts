/** What is listened for: the triggers of the outbox keep nothing else. */
import type { HappeningKind } from "../../core/connections/happenings.ts";
import { type Db, sql } from "./open.ts";

/** What only rules are set off by; no webhook tells it. */
export type RuleHappening =
  | "form.received"
  | "list.added"
  | "prospect.field_changed"
  | "prospect.owner_changed"
  | "rule.called"
  | "deal.moved";

/** Follows from what is switched on. */
export function renewListeners(db: Db): void {
  sql(db, "DELETE FROM listeners").run([]);
  sql(
    db,
    `INSERT OR IGNORE INTO listeners SELECT DISTINCT k.value FROM
       (SELECT kinds FROM webhooks WHERE state = 'on' UNION ALL SELECT kinds FROM rules WHERE state = 'on'
        UNION ALL SELECT kinds FROM crms WHERE state = 'on') l, json_each(l.kinds) k`,
  ).run([]);
}

/** Of what no trigger sees: kept if somebody listens for it. */
export function noteHappening(
  db: Db,
  happening: { kind: RuleHappening; at: number; prospectId: number; detail: string },
): void {
  sql(
    db,
    `INSERT INTO happenings (kind, at, prospect_id, detail) SELECT @kind, @at, @prospectId, @detail
     WHERE EXISTS (SELECT 1 FROM listeners WHERE kind = @kind)`,
  ).run(happening);
}

/** The number of the newest happening that there ever was: what comes later is news. */
export const newestHappening = (db: Db): number =>
  sql(db, "SELECT seq FROM sqlite_sequence WHERE name = 'happenings'").get<{ seq: number }>([])?.seq ?? 0;

/** What a kind of happening is called where it is listened for. */
export type Listened = HappeningKind | RuleHappening;
