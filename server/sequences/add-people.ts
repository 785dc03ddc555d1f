/** Brings people onto a sequence from wherever they were chosen: a list, a filter, a selection, an earlier outcome. */

import { everyStep } from "../../core/sequence/path.ts";
import { LEFT_OUT, STANDINGS, type Standing } from "../../core/sequence/standing.ts";
import { type By, mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import type { App, AppTx } from "../app.ts";
import { listNamed } from "../db/lists.ts";
import { sql } from "../db/open.ts";
import { sequenceById } from "../db/sequences.ts";
import { done, type Outcome, refused } from "../errors.ts";
import { problemsOf } from "./check-sequence.ts";
import { standingSql } from "./start-check.ts";
import { startJourneys } from "./start-sequence.ts";
import { type VisibleSequence, visibleSequences } from "./visible-sequences.ts";

export interface Added {
  /** Who was started. */
  started: number[];
  /** Who was put on its list, to start with it. */
  listed: number[];
  listId: number;
  leftOut: number;
  sequenceName: string;
}

/**
 * Puts people on the sequence's list, and starts those who may start if it runs already. Who is on another sequence, blocked,
 * written to lately or known to be bad is left out, as at any start.
 */
export function addToSequence(
  app: AppTx,
  user: User,
  sequenceId: number,
  ids: readonly number[],
): Outcome<Added> {
  const { db, clock } = app;
  const sequence = sequenceById(db, sequenceId);
  if (!sequence || sequence.deletedAt !== null || sequence.kind !== "shared")
    return refused({ form: "This sequence no longer exists." });
  // Its own list grows with it, whoever made that.
  const no = mayNot(app, user.id, "sequence.change", sequenceId);
  if (no) return no;
  const listId = sequence.listId ?? listNamed(db, sequence.name, clock.now(), { ownerId: sequence.userId });
  if (sequence.listId === null)
    sql(db, "UPDATE sequences SET list_id = @listId, revision = revision + 1 WHERE id = @id").run({
      id: sequenceId,
      listId,
    });
  const listed = sql(
    db,
    `INSERT INTO list_prospects (list_id, prospect_id) SELECT @listId, p.id FROM prospects p
     WHERE p.live = 1 AND p.id IN (SELECT value FROM json_each(@ids)) ON CONFLICT DO NOTHING RETURNING prospect_id AS id`,
  )
    .all<{ id: number }>({ listId, ids: JSON.stringify(ids) })
    .map(({ id }) => id);
  const added = { listed, listId, sequenceName: sequence.name };
  if (sequence.state === "draft") return done({ ...added, started: [], leftOut: 0 });
  // Who of them lacks a field waits for it; a list of 100,000 is not read through for some people more.
  const [problem] = problemsOf(app, { ...sequence, listId: null });
  if (problem)
    return refused({ form: `“${sequence.name}” cannot start for anybody now: ${problem.message}` });
  const started = startJourneys(app, user.id, sequence, [...ids]);
  return done({ ...added, started, leftOut: ids.length - started.length });
}

export interface AddPreview {
  sequenceName: string;
  state: "draft" | "running" | "paused";
  /** How the people would stand: ready, waiting for something, or left out. */
  standings: { standing: Standing; count: number }[];
  /** Of those who would start: how many are a colleague's. */
  colleagues: { name: string; count: number }[];
}

/** What bringing people onto a sequence would do, before it is done. */
export function previewAdd(
  app: App,
  user: User,
  sequenceId: number,
  ids: readonly number[],
): Outcome<AddPreview> {
  const { db, clock } = app;
  const sequence = sequenceById(db, sequenceId);
  if (!sequence || sequence.deletedAt !== null) return refused({ form: "This sequence no longer exists." });
  const no = mayNot(app, user.id, "sequence.change", sequenceId);
  if (no) return no;
  const { standing, values } = standingSql("preview", sequence, clock.now());
  const rows = sql(
    db,
    `SELECT standing, owner, count(*) AS count FROM (
       SELECT ${standing} AS standing, (SELECT name FROM users WHERE id = p.owner_id AND id != @userId) AS owner
       FROM prospects p WHERE p.live = 1 AND p.id IN (SELECT value FROM json_each(@ids)))
     GROUP BY standing, owner`,
  ).all<{ standing: Standing; owner: string | null; count: number }>({
    ...values,
    userId: user.id,
    ids: JSON.stringify(ids),
  });
  const sumOf = (of: typeof rows) => of.reduce((sum, { count }) => sum + count, 0);
  const starting = rows.filter((row) => !LEFT_OUT.includes(row.standing));
  return done({
    sequenceName: sequence.name,
    state: sequence.state,
    standings: STANDINGS.toReversed()
      .map((each) => ({ standing: each, count: sumOf(rows.filter((row) => row.standing === each)) }))
      .filter(({ count }) => count > 0),
    colleagues: [...new Set(starting.flatMap(({ owner }) => owner ?? []))].map((name) => ({
      name,
      count: sumOf(starting.filter(({ owner }) => owner === name)),
    })),
  });
}

export type SequenceChoice = Pick<VisibleSequence, "id" | "name" | "state">;

/** The sequences onto which somebody may bring people. */
export function sequenceChoices(app: App, by: By): SequenceChoice[] {
  return visibleSequences(app, by)
    .filter(({ id, isArchived }) => !isArchived && mayNot(app, by, "sequence.change", id) === null)
    .toSorted(
      (a, b) =>
        Number(a.state === "draft") - Number(b.state === "draft") || a.name.localeCompare(b.name, "en"),
    );
}

/** The same with the steps of each, for what leads to one of them. */
export const sequenceChoicesWithSteps = (
  app: App,
  by: By,
): (SequenceChoice & { steps: { id: string; name: string }[] })[] =>
  sequenceChoices(app, by).map(({ id, name, state }) => ({
    ...{ id, name, state },
    steps: everyStep(sequenceById(app.db, id)?.path ?? []).map((step) => ({ id: step.id, name: step.name })),
  }));
