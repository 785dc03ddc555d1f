/** What the filters of a look can be set to: only what would leave somebody, and what the asking user may see. */
import { dayNumberOf, textOfDay } from "../../core/calendar.ts";
import { countryName } from "../../core/countries.ts";
import { type By, hiddenFrom } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { keptCount } from "../db/kept-counts.ts";
import { sql } from "../db/open.ts";
import { outcomesTruth } from "../db/outcomes.ts";
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

/** For one sequence, or for all where `sequenceId` is null. */
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
  const hidden = hiddenFrom(app, by, "list.see");
  const seen = <T extends { id: number }>(lists: T[]) => lists.filter(({ id }) => !hidden.has(id));
  if (sequenceId === null)
    return {
      ...common,
      versions: [],
      lists: seen(sql(db, "SELECT id, name FROM lists ORDER BY name").all<{ id: number; name: string }>([])),
      countries: keptCount(db, "countries of starts", outcomesTruth(db), () =>
        named(sql(db, "SELECT DISTINCT country AS code FROM journey_outcomes").all<{ code: string }>([])),
      ),
    };
  const of = { id: sequenceId };
  return {
    ...common,
    versions: versionsOf(db, sequenceId),
    lists: seen(
      sql(
        db,
        `SELECT id, name FROM lists WHERE id IN (SELECT lp.list_id FROM journeys j JOIN list_prospects lp ON lp.prospect_id = j.prospect_id
           WHERE j.sequence_id = @id) ORDER BY name`,
      ).all<{ id: number; name: string }>(of),
    ),
    countries: named(
      sql(db, "SELECT DISTINCT country AS code FROM journey_outcomes WHERE sequence_id = @id").all<{
        code: string;
      }>(of),
    ),
  };
}

const named = (codes: readonly { code: string }[]): LookChoices["countries"] =>
  codes
    .filter(({ code }) => code !== "")
    .map(({ code }) => [code, countryName(code)] as const)
    .sort(([, a], [, b]) => a.localeCompare(b));
