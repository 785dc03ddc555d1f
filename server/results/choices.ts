/** What the filters of a look can be set to: only what would leave somebody, and what the asking user may see. */
import { dayNumberOf, textOfDay } from "../../core/calendar.ts";
import { countryName } from "../../core/countries.ts";
import { type By, hiddenFrom } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { versionsOf } from "../db/sequences.ts";
import { type KeptLook, keptLooks } from "./kept-looks.ts";

export interface LookChoices {
  times: { since: string; words: string }[];
  versions: number[];
  reps: { id: number; name: string }[];
  lists: { id: number; name: string }[];
  mailboxes: { id: number; name: string }[];
  /** ISO codes with their names. */
  countries: (readonly [code: string, name: string])[];
  /** Looks that the asking user named, of whatever page. */
  kept: KeptLook[];
}

const AGO = [
  [7, "in the last 7 days"],
  [30, "in the last 30 days"],
  [90, "in the last 90 days"],
  [365, "in the last year"],
] as const;

/** For one sequence, or for all where `sequenceId` is null: then only what needs no look at the people. */
export function lookChoices(app: App, by: By, sequenceId: number | null, zone: string): LookChoices {
  const { db, clock } = app;
  const today = dayNumberOf(clock.now(), zone);
  const times = AGO.map(([days, words]) => ({ since: textOfDay(today - days), words }));
  const mailboxes = sql(
    db,
    `SELECT m.id, m.address AS name, u.id AS userId, u.name AS userName FROM mailboxes m JOIN users u ON u.id = m.user_id
     WHERE @id IS NULL OR m.id IN (SELECT DISTINCT mailbox_id FROM journeys WHERE sequence_id = @id) ORDER BY m.address`,
  ).all<{ id: number; name: string; userId: number; userName: string }>({ id: sequenceId });
  const reps = [...new Map(mailboxes.map(({ userId, userName }) => [userId, userName]))];
  const common = {
    times,
    reps: reps.map(([id, name]) => ({ id, name })),
    mailboxes: mailboxes.map(({ id, name }) => ({ id, name })),
    kept: keptLooks(app, by),
  };
  if (sequenceId === null) return { ...common, versions: [], lists: [], countries: [] };
  const hidden = hiddenFrom(app, by, "list.see");
  const of = { id: sequenceId };
  return {
    ...common,
    versions: versionsOf(db, sequenceId),
    lists: sql(
      db,
      `SELECT id, name FROM lists WHERE id IN (SELECT lp.list_id FROM journeys j JOIN list_prospects lp ON lp.prospect_id = j.prospect_id
         WHERE j.sequence_id = @id) ORDER BY name`,
    )
      .all<{ id: number; name: string }>(of)
      .filter(({ id }) => !hidden.has(id)),
    countries: sql(
      db,
      `SELECT DISTINCT p.country AS code FROM journeys j JOIN prospects p ON p.id = j.prospect_id
       WHERE j.sequence_id = @id AND p.country != ''`,
    )
      .all<{ code: string }>(of)
      .map(({ code }) => [code, countryName(code)] as const)
      .sort(([, a], [, b]) => a.localeCompare(b)),
  };
}
