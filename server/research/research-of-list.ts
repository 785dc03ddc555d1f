/** A list's columns as its page shows them: how far each is, and what it found, the doubtful first. */
import { z } from "zod";
import { DAY } from "../../core/calendar.ts";
import { READY_COLUMNS } from "../../core/research/column.ts";
import type { ValueState } from "../../core/research/column-kinds.ts";
import type { Sureness } from "../../core/research/site.ts";
import type { By } from "../accounts/may-not.ts";
import { mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { type Job, jobById } from "../db/jobs.ts";
import { anyTruth, keptCount } from "../db/kept-counts.ts";
import { nameSql } from "../db/names.ts";
import { sql } from "../db/open.ts";
import { allColumns, type Column, columnsOfList, sequencesWith } from "./columns.ts";
import { TARGETS } from "./run-column.ts";

/** What of a column's values is looked at: what a person should read, what was found, what was not, whom nobody looked for. */
export const SHOWS = ["read", "found", "none", "open"] as const;
export type Show = (typeof SHOWS)[number];

export interface ColumnCounts {
  /** Companies, or people, of the list. */
  targets: number;
  found: number;
  /** Unread, doubtful or refused: what a person should look at first. */
  read: number;
  unread: number;
  none: number;
  open: number;
  /** Older than the column calls fresh. */
  old: number;
}

export interface ListColumn extends Omit<Column, "userId"> {
  counts: ColumnCounts;
  job: Pick<Job, "id" | "state" | "done" | "total" | "problem"> | null;
}

export interface ValueRow {
  /** The value's number; null for whom nobody looked for. */
  id: number | null;
  targetId: number;
  name: string;
  /** The company's web domain, or where the person works. */
  about: string;
  state: ValueState | null;
  value: string;
  said: string;
  problem: string | null;
  sourceUrl: string;
  sourceText: string;
  sureness: Sureness;
  isUnread: 0 | 1;
  typedBy: string | null;
  at: number | null;
}

export const researchQuery = z.object({
  column: z.coerce.number().int().optional().catch(undefined),
  show: z.enum(SHOWS).optional().catch(undefined),
  page: z.coerce.number().int().min(0).max(100_000).catch(0),
});
export const RESEARCH_PAGE = 50;

const OF = { company: "company_id", person: "prospect_id" } as const;
/** In words of SQL, over a value `v` of a target. */
const IS: Record<Show, string> = {
  read: "(v.state = 'refused' OR (v.state = 'found' AND (v.read_at IS NULL OR v.sureness = 'doubtful')))",
  found: "v.state = 'found'",
  none: "v.state IN ('nothing', 'failed', 'refused')",
  open: "v.id IS NULL",
};

function countsOf({ db, clock }: App, listId: number, column: Column): ColumnCounts {
  const text = `SELECT count(*) AS targets, count(*) FILTER (WHERE ${IS.found}) AS found, count(*) FILTER (WHERE ${IS.read}) AS read,
      count(*) FILTER (WHERE v.state = 'found' AND v.read_at IS NULL) AS unread, count(*) FILTER (WHERE ${IS.none}) AS none,
      count(*) FILTER (WHERE ${IS.open}) AS open, count(*) FILTER (WHERE v.at < @old AND v.typed_by IS NULL) AS old
    FROM (${TARGETS[column.scope]}) t LEFT JOIN column_values v ON v.column_id = @columnId AND v.${OF[column.scope]} = t.id`;
  // By the day: what grows old does so slowly.
  const old = Math.floor(clock.now() / DAY) * DAY - column.freshDays * DAY;
  return keptCount(db, `column ${column.id} of ${listId} ${old}`, anyTruth(db), () =>
    sql(db, text).get<ColumnCounts>({ listId, columnId: column.id, old }),
  ) as ColumnCounts;
}

function jobOf({ db }: App, columnId: number): ListColumn["job"] {
  const run = sql(
    db,
    "SELECT job_id AS jobId FROM column_runs WHERE column_id = @columnId ORDER BY id DESC LIMIT 1",
  ).get<{
    jobId: number | null;
  }>({ columnId });
  return run?.jobId == null ? null : jobById(db, run.jobId);
}

/** What the page of a list's research shows, for a user. */
export function researchOfList(app: App, by: By, listId: number, query: z.infer<typeof researchQuery>) {
  const own = columnsOfList(app.db, listId);
  const columns: ListColumn[] = own.map(({ userId: _, ...column }) => ({
    ...column,
    counts: countsOf(app, listId, { ...column, userId: null }),
    job: jobOf(app, column.id),
  }));
  const asked = columns.find(({ id }) => id === query.column);
  // Without a choice, the one that asks for a person.
  const column = asked ?? columns.find(({ counts }) => counts.unread > 0) ?? columns[0];
  const chosen = own.find(({ id }) => id === column?.id);
  const show = query.show ?? (column ? firstShown(column.counts) : "open");
  const used = new Set(own.map(({ id }) => id));
  return {
    columns,
    mayChange: mayNot(app, by, "list.change", listId) === null,
    /** Those of the team that are not on this list yet. */
    others: allColumns(app.db)
      .filter(({ id }) => !used.has(id))
      .map(({ id, name, kind }) => ({ id, name, kind })),
    ready: READY_COLUMNS.filter(
      ({ settings }) => !own.some((each) => JSON.stringify(each.settings) === JSON.stringify(settings)),
    ),
    opened:
      column && chosen
        ? {
            column,
            show,
            page: query.page,
            pageSize: RESEARCH_PAGE,
            rows: valueRows(app, listId, chosen, show, query.page),
            mayChange: mayNot(app, by, "column.change", chosen.id) === null,
            sequences: sequencesWith(app, by, chosen.code),
            cost: sql(
              app.db,
              "SELECT coalesce(sum(asked), 0) AS asked, coalesce(sum(tokens), 0) AS tokens, count(*) AS runs FROM column_runs WHERE column_id = @id",
            ).get<{ asked: number; tokens: number; runs: number }>({ id: chosen.id }),
          }
        : null,
  };
}
export type Research = ReturnType<typeof researchOfList>;

const firstShown = ({ read, found, open, none }: ColumnCounts): Show =>
  read > 0 ? "read" : found > 0 ? "found" : open > 0 ? "open" : none > 0 ? "none" : "open";

function valueRows({ db }: App, listId: number, column: Column, show: Show, page: number): ValueRow[] {
  const of = OF[column.scope];
  const named =
    column.scope === "company"
      ? { name: "c.name", about: "coalesce(c.domain, '')", from: "JOIN companies c ON c.id = t.id" }
      : { name: nameSql("p"), about: "p.company", from: "JOIN prospects p ON p.id = t.id" };
  return sql(
    db,
    `SELECT v.id, t.id AS targetId, ${named.name} AS name, ${named.about} AS about, v.state, coalesce(v.value, '') AS value,
       coalesce(v.said, '') AS said, v.problem, coalesce(v.source_url, '') AS sourceUrl, coalesce(v.source_text, '') AS sourceText,
       coalesce(v.sureness, 'likely') AS sureness, v.id IS NOT NULL AND v.state = 'found' AND v.read_at IS NULL AS isUnread, u.name AS typedBy, v.at
     FROM (${TARGETS[column.scope]}) t ${named.from}
     LEFT JOIN column_values v ON v.column_id = @columnId AND v.${of} = t.id LEFT JOIN users u ON u.id = v.typed_by
     WHERE ${IS[show]}
     ORDER BY ${show === "read" ? "CASE WHEN v.state = 'refused' THEN 0 WHEN v.sureness = 'doubtful' THEN 1 ELSE 2 END, " : ""}t.id
     LIMIT ${RESEARCH_PAGE} OFFSET @offset`,
  ).all<ValueRow>({ listId, columnId: column.id, offset: page * RESEARCH_PAGE });
}

/** The columns that a list's table can show, by what texts call them. */
export const shownColumns = ({ db }: App, listId: number): Pick<Column, "code" | "name" | "gives">[] =>
  columnsOfList(db, listId).map(({ code, name, gives }) => ({ code, name, gives }));

/** What columns say of one person, for whoever is about to write to them: doubtful ones first. */
export function researchOfPerson(
  { db }: App,
  prospectId: number,
): (Omit<ValueRow, "targetId" | "about"> & { columnId: number; code: string; isTheirs: 0 | 1 })[] {
  return sql(
    db,
    `SELECT v.id, v.column_id AS columnId, c.name, v.code, v.state, v.value, v.said, v.problem, v.source_url AS sourceUrl, v.source_text AS sourceText,
       v.sureness, v.state = 'found' AND v.read_at IS NULL AS isUnread, u.name AS typedBy, v.at,
       coalesce(p.custom ->> ('$.' || v.code), '') != v.value AS isTheirs
     FROM prospects p JOIN column_values v ON v.prospect_id = p.id OR v.company_id = p.company_id
     JOIN columns c ON c.id = v.column_id LEFT JOIN users u ON u.id = v.typed_by
     WHERE p.id = @prospectId AND v.state = 'found'
     ORDER BY v.read_at IS NULL DESC, v.sureness = 'doubtful' DESC, c.id`,
  ).all({ prospectId });
}
