/** The people behind a number of a sequence's results. */
import { z } from "zod";
import { PICKS, whoDid } from "../../core/results/who-did.ts";
import type { By } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { nameSql } from "../db/names.ts";
import { sql } from "../db/open.ts";
import { stepsEver } from "../db/sequences.ts";
import { sequenceOf } from "../sequences/open-sequence.ts";
import { lookQuery, materialOf } from "./look.ts";

export const behindQuery = lookQuery.extend({
  pick: z.enum(PICKS).catch("came"),
  /** Null: of the sequence as a whole. */
  step: z.string().max(40).nullable().catch(null).default(null),
  page: z.coerce.number().int().min(0).catch(0),
});
export type BehindQuery = z.infer<typeof behindQuery>;

export interface PersonBehind {
  journeyId: number;
  prospectId: number;
  name: string;
  company: string;
  title: string;
  startedAt: number;
  answeredAt: number | null;
}

const PAGE = 50;
/** More than a sequence ever has. */
export const EVERYBODY = 1_000_000_000;

/** Null where there is no such sequence for them. The latest start first. */
export function peopleBehind(
  app: App,
  by: By,
  sequenceId: number,
  query: BehindQuery,
  zone: string,
  pageSize = PAGE,
): { name: string; step: string | null; people: PersonBehind[]; total: number; pageSize: number } | null {
  const sequence = sequenceOf(app, by, sequenceId);
  if (!sequence) return null;
  const { starts, touches } = materialOf(app, by, sequenceId, query, zone);
  const found = whoDid(starts, touches, query.pick, query.step, query.credit).sort(
    (a, b) => b.startedAt - a.startedAt || b.id - a.id,
  );
  const shown = found.slice(query.page * pageSize, (query.page + 1) * pageSize);
  const rows = sql(
    app.db,
    `SELECT j.id AS journeyId, p.id AS prospectId, ${nameSql()} AS name, p.company, p.title
     FROM json_each(@ids) i JOIN journeys j ON j.id = i.value JOIN prospects p ON p.id = j.prospect_id`,
  ).all<Omit<PersonBehind, "startedAt" | "answeredAt">>({ ids: JSON.stringify(shown.map(({ id }) => id)) });
  const byId = new Map(rows.map((row) => [row.journeyId, row]));
  return {
    name: sequence.name,
    step: query.step === null ? null : (stepsEver(app.db, sequenceId).get(query.step)?.name ?? "A step"),
    people: shown.flatMap(({ id, startedAt, answeredAt }) => {
      const row = byId.get(id);
      return row ? [{ ...row, startedAt, answeredAt }] : [];
    }),
    total: found.length,
    pageSize,
  };
}
