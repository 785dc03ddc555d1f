/** What "healthy" means: work that was finished lately, not a timer that runs. */
import type { App } from "../app.ts";
import { newestCopyAt } from "../db/backup.ts";
import { type Failure, failures } from "../db/failures.ts";
import { sql } from "../db/open.ts";

/** A tick takes seconds; a mailbox is read with each. */
const TICK_WITHIN = 60_000;
const READ_WITHIN = 15 * 60_000;
const COPY_WITHIN = 50 * 3_600_000;
/** A thread or a process that failed lately is no health, though another took its place; the rest is shown. */
const FAILED_WITHIN = 5 * 60_000;
const SHOWN_WITHIN = 24 * 3_600_000;

export interface Health {
  ok: boolean;
  database: boolean;
  /** Whether the engine finished a tick within the last minute, and what keeps it from it. */
  engine: boolean;
  problem: string | null;
  /** Mailboxes that have worked before and were not read to the end for a quarter of an hour. */
  mailboxes: { total: number; late: string[] };
  /** Hours since the newest nightly copy; null if there is none yet, or they are off. */
  backup: { on: boolean; ageHours: number | null };
  /** Threads, jobs and processes that failed within a day, the latest first. */
  failures: Failure[];
}

/** What strangers are told: whether all is well, and what kind of thing is not, without an address or a word of an error. */
export function publicHealth({ ok, database, engine, mailboxes, backup, failures: failed }: Health) {
  return {
    ok,
    database,
    engine,
    mailboxes: { total: mailboxes.total, late: mailboxes.late.length },
    backup,
    failures: failed.map(({ kind, name, count }) => ({ kind, name, count })),
  };
}

export function health({ db, config }: App, wall = Date.now()): Health {
  const lease = sql(db, "SELECT ticked_wall AS at, problem FROM engine_lease").get<{
    at: number | null;
    problem: string | null;
  }>([]);
  const engine = lease?.at != null && wall - lease.at < TICK_WITHIN;
  const mailboxes = sql(
    db,
    "SELECT address, connected_wall AS connected, read_wall AS read FROM mailboxes WHERE removed_at IS NULL ORDER BY id",
  ).all<{ address: string; connected: number | null; read: number | null }>([]);
  const late = mailboxes
    .filter(({ connected, read }) => connected !== null && wall - (read ?? connected) > READ_WITHIN)
    .map(({ address }) => address);
  const copiedAt = config.backups === null ? null : newestCopyAt(config.backups);
  const ageHours = copiedAt === null ? null : Math.round(((wall - copiedAt) / 3_600_000) * 10) / 10;
  const backedUp = config.backups === null || copiedAt === null || wall - copiedAt < COPY_WITHIN;
  const failed = failures(db).filter(({ lastWall }) => wall - lastWall < SHOWN_WITHIN);
  const broke = failed.some(
    ({ kind, lastWall }) => (kind === "thread" || kind === "uncaught") && wall - lastWall < FAILED_WITHIN,
  );
  return {
    ok: engine && late.length === 0 && backedUp && !broke,
    database: true,
    engine,
    problem: lease?.problem ?? null,
    mailboxes: { total: mailboxes.length, late },
    backup: { on: config.backups !== null, ageHours },
    failures: failed,
  };
}
