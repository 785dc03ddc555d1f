/**
 * Counts over long lists, which take longer than a page may. Each is kept with what it was true for (a revision that
 * triggers count up), and while that changes all the time, the last one serves for some seconds.
 */
import { type Db, sql } from "./open.ts";

interface Kept {
  truth: string;
  value: unknown;
  at: number;
  /** Of the processor, in ms: what others kept it for is no reason to count seldom. */
  took: number;
}

const kept = new WeakMap<Db, Map<string, Kept>>();
const MOST_KEPT = 1_000;
/** What is counted faster is always counted anew. */
const QUICK = 15;
/** A count takes this share of the time at most: one of 100 ms is made every two seconds. */
const SHARE = 0.05;

/** `truth` tells when the value may have changed; `compute` makes it anew. */
export function keptCount<T>(db: Db, key: string, truth: string, compute: () => T): T {
  const all = kept.get(db) ?? new Map<string, Kept>();
  kept.set(db, all);
  const known = all.get(key);
  const now = performance.now();
  if (known && (known.truth === truth || (known.took > QUICK && now - known.at < known.took / SHARE)))
    return known.value as T;
  const before = process.cpuUsage();
  const value = compute();
  const { user, system } = process.cpuUsage(before);
  if (all.size >= MOST_KEPT) all.clear();
  all.set(key, { truth, value, at: now, took: (user + system) / 1000 });
  return value;
}

interface KeptOfFew {
  truth: string;
  value: unknown;
}

const few = new WeakMap<Db, Map<string, Map<string, KeptOfFew>>>();
const MOST_OF_FEW = 3;

/** Something large, of the few of its `kind` that were asked for last. It holds exactly as long as its truth does. */
export function keptOfFew<T>(db: Db, kind: string, key: string, truth: string, compute: () => T): T {
  const kinds = few.get(db) ?? new Map<string, Map<string, KeptOfFew>>();
  few.set(db, kinds);
  const all = kinds.get(kind) ?? new Map<string, KeptOfFew>();
  kinds.set(kind, all);
  const known = all.get(key);
  const value = known?.truth === truth ? (known.value as T) : compute();
  // The one that was asked for last stands last.
  all.delete(key);
  all.set(key, { truth, value });
  const [oldest] = all.keys();
  if (all.size > MOST_OF_FEW && oldest !== undefined) all.delete(oldest);
  return value;
}

/** Everything is counted anew: for who takes back what was written, which no revision tells. */
export function forgetCounts(db: Db): void {
  kept.delete(db);
  few.delete(db);
}

/** What changes with whatever is written to the file, by this process or another. */
export const anyTruth = (db: Db): string =>
  sql(db, "SELECT (SELECT data_version FROM pragma_data_version) || ' ' || total_changes() AS truth").get<{
    truth: string;
  }>([])?.truth ?? "";

/** What the counts of a list depend on: how many it has, and the revisions. */
export function listTruth(db: Db, listId: number | null): string {
  const row = sql(
    db,
    `SELECT CASE WHEN @listId IS NULL THEN 0 ELSE (SELECT count(*) FROM list_prospects WHERE list_id = @listId) END AS people,
       (SELECT number FROM address_revision) AS addresses,
       (SELECT group_concat(number) FROM revisions) AS revisions`,
  ).get<{ people: number; addresses: number; revisions: string }>({ listId });
  return `${row?.people} ${row?.addresses} ${row?.revisions}`;
}
