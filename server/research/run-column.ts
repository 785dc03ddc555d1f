/**
 * Works a column out for a list: on five to try it, then for whoever has no value. A job in a lane of its own: each value is kept
 * as it is found, so that a run that was cut off goes on behind the last one; what fails for one company is said at that company.
 */
import { z } from "zod";
import { DAY } from "../../core/calendar.ts";
import { retryAfter } from "../../core/connections/retry.ts";
import { type ColumnKind, RUN_WANTS, type RunWants, TRY_ON } from "../../core/research/column-kinds.ts";
import { type By, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { noteFailure } from "../db/failures.ts";
import { askJob } from "../db/jobs.ts";
import { sql, transact } from "../db/open.ts";
import { AppError, done, isBusy, type Outcome, refused } from "../errors.ts";
import type { Report } from "../jobs/report.ts";
import { keepFound } from "./column-values.ts";
import { type Column, columnById } from "./columns.ts";
import { asFailure, type Found, SlowDown, type Target, workOut } from "./work-out.ts";

/** Looked for at a time: sites are many hosts, the assistant and a service are one. */
const AT_ONCE: Record<ColumnKind, number> = { site: 8, ask: 3, formula: 1, service: 2 };
/** An assistant or service that fails so often in a row is not asked for all the others. */
const MOST_IN_A_ROW = 20;
/** What a service may ask to wait, in ms, before it counts as failing. */
const MOST_WAIT = 60_000;

export interface Run {
  id: number;
  columnId: number;
  listId: number;
  wants: RunWants;
  at: number;
  chosen: string | null;
  /** Whoever asked for it. */
  userId: number | null;
}

const RUN =
  "SELECT id, column_id AS columnId, list_id AS listId, wants, at, chosen, user_id AS userId FROM column_runs WHERE id = @id";

/** Asks for a run. One of a column on a list at a time. */
export function askRun(
  app: App,
  by: By,
  input: { listId: number; columnId: number; wants: unknown },
): Outcome<number> {
  const { listId, columnId } = input;
  const no = mayNot(app, by, "list.use", listId);
  if (no) return no;
  const wants = z.enum(RUN_WANTS).safeParse(input.wants);
  if (!wants.success) return refused({ form: "Choose whom to look for." });
  return transact(app, ({ db }): Outcome<number> => {
    const column = columnById(db, columnId);
    if (!column) return refused({ form: "This column is no longer here. Reload the page." });
    const running = sql(
      db,
      `SELECT 1 FROM column_runs r JOIN jobs j ON j.id = r.job_id WHERE r.column_id = @columnId AND j.state IN ('waiting', 'working')`,
    ).get({ columnId });
    if (running) return refused({ form: "It is being worked out. Wait until that is done, or stop it." });
    const now = app.clock.now();
    const chosen =
      wants.data === "try"
        ? JSON.stringify(
            targetIds(app, column, { listId, wants: "missing", at: now, id: 0, chosen: null }).slice(
              0,
              TRY_ON,
            ),
          )
        : null;
    const runId = Number(
      sql(
        db,
        "INSERT INTO column_runs (column_id, list_id, wants, user_id, at, chosen) VALUES (@columnId, @listId, @wants, @by, @now, @chosen)",
      ).run({ columnId, listId, wants: wants.data, by, now, chosen }).lastInsertRowid,
    );
    const jobId = askJob(db, {
      kind: wants.data === "try" ? "try_research" : "research",
      input: { runId },
      userId: by,
      now,
    });
    sql(db, "UPDATE column_runs SET job_id = @jobId WHERE id = @runId").run({ jobId, runId });
    return done(jobId);
  });
}

/** Of a list, the companies or people that a column has a value for. */
export const TARGETS: Record<Column["scope"], string> = {
  company: `SELECT DISTINCT p.company_id AS id FROM list_prospects lp JOIN prospects p ON p.id = lp.prospect_id AND p.live = 1
    WHERE lp.list_id = @listId AND p.company_id IS NOT NULL`,
  person: `SELECT p.id FROM list_prospects lp JOIN prospects p ON p.id = lp.prospect_id AND p.live = 1 WHERE lp.list_id = @listId`,
};
const OF: Record<Column["scope"], string> = { company: "company_id", person: "prospect_id" };

function targetIds({ db }: App, column: Column, run: Omit<Run, "columnId" | "userId">): number[] {
  const wanted: Record<RunWants, string> = {
    try: "t.id IN (SELECT value FROM json_each(@chosen))",
    missing: "(v.id IS NULL OR v.state = 'failed')",
    old: "v.at < @oldBefore",
    all: "1",
  };
  return sql(
    db,
    `SELECT t.id FROM (${TARGETS[column.scope]}) t LEFT JOIN column_values v ON v.column_id = @columnId AND v.${OF[column.scope]} = t.id
     WHERE v.typed_by IS NULL AND coalesce(v.run_id, 0) != @runId AND @chosen IS @chosen AND @oldBefore IS @oldBefore AND ${wanted[run.wants]} ORDER BY t.id`,
  )
    .all<{ id: number }>({
      ...{ listId: run.listId, columnId: column.id, runId: run.id === 0 ? -1 : run.id, chosen: run.chosen },
      oldBefore: run.at - column.freshDays * DAY,
    })
    .map(({ id }) => id);
}

/** Throws `assistant_failed` where the rest would fail alike. */
export async function runColumn(app: App, runId: number, report: Report, atOnce?: number): Promise<void> {
  const { db } = app;
  const run = sql(db, RUN).get<Run>({ id: runId });
  const column = run && columnById(db, run.columnId);
  if (!run || !column) return;
  const targets = targetIds(app, column, run);
  let finished =
    sql(
      db,
      "SELECT count(*) AS count FROM column_values WHERE column_id = @columnId AND run_id = @runId",
    ).get<{ count: number }>({ columnId: column.id, runId })?.count ?? 0;
  const total = finished + targets.length;
  const since =
    run.wants === "old" || run.wants === "all" ? run.at : app.clock.now() - column.freshDays * DAY;
  let at = 0;
  let isStopped = false;
  let inARow = 0;
  const lane = async () => {
    while (at < targets.length && !isStopped) {
      const id = targets[at++] as number;
      // What a colleague has read of their own people is not written anew for them.
      const isAgain = run.wants === "all" || run.wants === "old";
      if (isAgain && column.scope === "person" && mayNot(app, run.userId, "prospect.change", id)) {
        finished++;
        continue;
      }
      const target: Target = column.scope === "company" ? { companyId: id } : { prospectId: id };
      const found = await oneOf(app, column, target, since, async () => await report(finished, total));
      if (isStopped) return;
      keepFound(app, column, target, found, run);
      finished++;
      const isTheirs =
        found.state === "failed" &&
        (column.kind === "service" || found.problem?.startsWith(ASSISTANT) === true);
      inARow = isTheirs ? inARow + 1 : 0;
      if (inARow >= MOST_IN_A_ROW) {
        isStopped = true;
        throw new AppError(
          "assistant_failed",
          `${MOST_IN_A_ROW} in a row failed, the last: ${found.problem}`,
        );
      }
      if (await report(finished, total)) isStopped = true;
    }
  };
  await Promise.all(Array.from({ length: atOnce ?? AT_ONCE[column.kind] }, lane));
}
const ASSISTANT = new AppError("assistant_failed").message;

async function oneOf(
  app: App,
  column: Column,
  target: Target,
  since: number,
  isCancelled: () => Promise<boolean>,
): Promise<Found> {
  for (let waited = 0; ; )
    try {
      return await workOut(app, column, target, since);
    } catch (error) {
      if (isBusy(error)) throw error;
      if (error instanceof SlowDown) {
        const wait = Math.max(1_000, retryAfter(error.retryAfter, Date.now()));
        if (waited + wait > MOST_WAIT || (await isCancelled()))
          return asFailure(new AppError("assistant_failed", "The service asks to be asked later."));
        waited += wait;
        await new Promise((resolve) => setTimeout(resolve, wait));
        continue;
      }
      if (error instanceof AppError) return asFailure(error);
      // What is a fault of ours holds up nobody else's value either.
      noteFailure(app.db, "job", "research", error);
      return asFailure(
        new AppError("assistant_failed", "Something went wrong here; the server's log says more."),
      );
    }
}

/** Pictures that no value shows any more go, after some days in which a page may still show them. */
export function sweepPictures({ db, clock }: App): number {
  return sql(
    db,
    "DELETE FROM pictures WHERE at < @before AND name NOT IN (SELECT substr(value, 11) FROM column_values WHERE value LIKE '/pictures/%')",
  ).run({ before: clock.now() - 14 * DAY }).changes;
}
