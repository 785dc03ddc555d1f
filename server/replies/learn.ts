/** Learns from the labels that people set here: in a worker, and what would change is shown before it is used. */
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { LABELS } from "../../core/replies/labels.ts";
import { packModel } from "../../core/replies/model-file.ts";
import { newText } from "../../core/replies/new-text.ts";
import { sortReply } from "../../core/replies/sort.ts";
import { type Example, readTraining, train } from "../../core/replies/train.ts";
import { type By, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { projectRoot } from "../config.ts";
import { askJob } from "../db/jobs.ts";
import { nameSql } from "../db/names.ts";
import { type Db, sql } from "../db/open.ts";
import { done, type Outcome, refused } from "../errors.ts";
import { isRunning, type JobState, latestOf } from "../jobs/job-state.ts";
import type { Report } from "../jobs/report.ts";
import { modelInUse, shippedModel } from "./sorter.ts";

/** A correction made here says more about this team's mail than a letter that ships. */
const CORRECTION_WEIGHT = 4;
const MOST_CORRECTIONS = 3_000;
/** Replies that are read again to show what would change. */
const MOST_COMPARED = 2_000;
const MOST_CHANGES = 200;
/** A label of the team's own is learned from this many replies on; fewer are chance. */
const FEWEST_OF_OWN = 5;

export interface ReadOtherwise {
  replyId: number;
  name: string;
  words: string;
  before: string;
  after: string;
  /** What a person said of it, if anybody did. */
  label: string | null;
}

export interface Learning {
  /** Replies that people labelled, and those of them that had been read otherwise. */
  labelled: number;
  corrections: number;
  job: JobState | null;
  proposed: { id: number; changes: ReadOtherwise[] } | null;
  inUse: { id: number; corrections: number } | null;
}

const BY_HAND = `FROM replies r JOIN labels l ON l.id = r.label_id
  WHERE r.labelled_by IS NOT NULL AND r.kind = 'person' AND r.prospect_id IS NOT NULL`;
const CODE = "coalesce(l.key, 'own-' || l.id)";

export function learning(app: App): Learning {
  const { db } = app;
  const counts = sql(
    db,
    `SELECT count(*) AS labelled, coalesce(sum(r.reading ->> '$.label' IS NOT ${CODE}), 0) AS corrections ${BY_HAND}`,
  ).get<{ labelled: number; corrections: number }>([]) ?? { labelled: 0, corrections: 0 };
  const proposed = sql(
    db,
    "SELECT id, changes FROM reply_models WHERE state = 'proposed' ORDER BY id DESC LIMIT 1",
  ).get<{ id: number; changes: string }>([]);
  return {
    ...counts,
    job: latestOf(app, "learn"),
    proposed: proposed ? { id: proposed.id, changes: JSON.parse(proposed.changes) } : null,
    inUse:
      sql(db, "SELECT id, corrections FROM reply_models WHERE state = 'used' ORDER BY id DESC LIMIT 1").get<{
        id: number;
        corrections: number;
      }>([]) ?? null,
  };
}

/** Asks a worker to learn. */
export function askLearning(app: App, userId: By): Outcome<number> {
  const no = mayNot(app, userId, "settings.team");
  if (no) return no;
  const now = learning(app);
  if (isRunning(now.job)) return refused({ form: "It is learning already." });
  if (now.labelled === 0) return refused({ form: "Label some replies first: that is what it learns from." });
  return done(askJob(app.db, { kind: "learn", input: { userId }, userId, now: app.clock.now() }));
}

/** The letters that ship. */
export function shippedExamples(): Example[] {
  const folder = join(projectRoot, "core/replies/training");
  return readdirSync(folder)
    .filter((name) => name.endsWith(".txt"))
    .sort()
    .flatMap((name) => readTraining(readFileSync(join(folder, name), "utf8"), name.replace(".txt", "")));
}

function ownExamples(db: Db): Example[] {
  const rows = sql(
    db,
    `SELECT r.text, ${CODE} AS label ${BY_HAND} AND l.removed_at IS NULL ORDER BY r.id DESC LIMIT ${MOST_CORRECTIONS}`,
  ).all<{ text: string; label: string }>([]);
  const perLabel = new Map<string, number>();
  for (const { label } of rows) perLabel.set(label, (perLabel.get(label) ?? 0) + 1);
  return rows
    .filter(({ label }) => !label.startsWith("own-") || (perLabel.get(label) ?? 0) >= FEWEST_OF_OWN)
    .map(({ text, label }) => ({ text: newText(text), label, weight: CORRECTION_WEIGHT }))
    .filter(({ text }) => text.trim() !== "");
}

/** The worker's part: learns, reads again what is here, and keeps both for a person to decide. */
export async function learn(
  app: App,
  userId: number | null,
  report: Report,
  shipped: readonly Example[] = shippedExamples(),
): Promise<void> {
  const { db, clock } = app;
  const own = ownExamples(db);
  await report(0, 2);
  const labels = [...new Set<string>([...LABELS, ...own.map(({ label }) => label)])];
  const model = { ...train([...shipped, ...own], labels), temperature: shippedModel().temperature };
  await report(1, 2);
  const before = modelInUse(db);
  const changes: ReadOtherwise[] = [];
  const letters = sql(
    db,
    `SELECT r.id AS replyId, ${nameSql()} AS name, r.text, r.at,
       CASE WHEN r.labelled_by IS NOT NULL THEN ${CODE} END AS label
     FROM replies r JOIN prospects p ON p.id = r.prospect_id LEFT JOIN labels l ON l.id = r.label_id
     WHERE r.kind = 'person' ORDER BY r.id DESC LIMIT ${MOST_COMPARED}`,
  ).all<{ replyId: number; name: string; text: string; at: number; label: string | null }>([]);
  for (const { text, at, ...letter } of letters) {
    const context = { text, at, zone: "UTC", country: "", own: [] };
    const [was, is] = [sortReply(context, before).label, sortReply(context, model).label];
    if (was !== is && changes.length < MOST_CHANGES)
      changes.push({
        ...letter,
        words: newText(text).replace(/\s+/g, " ").slice(0, 90),
        before: was,
        after: is,
      });
  }
  db.transaction(() => {
    sql(db, "UPDATE reply_models SET state = 'dropped' WHERE state = 'proposed'").run([]);
    sql(
      db,
      `INSERT INTO reply_models (model, corrections, changes, state, user_id, at)
       VALUES (@model, @corrections, @changes, 'proposed', @userId, @now)`,
    ).run({
      model: JSON.stringify(packModel(model)),
      corrections: own.length,
      changes: JSON.stringify(changes),
      userId,
      now: clock.now(),
    });
  }).immediate();
  await report(2, 2);
}

/** Uses what was proposed, drops it, or goes back to what ships. New replies are read by it. */
export function decideLearning(app: App, by: By, how: "use" | "drop" | "forget"): Outcome<null> {
  const { db } = app;
  const no = mayNot(app, by, "settings.team");
  if (no) return no;
  db.transaction(() => {
    if (how !== "drop") sql(db, "UPDATE reply_models SET state = 'dropped' WHERE state = 'used'").run([]);
    if (how !== "forget")
      sql(db, "UPDATE reply_models SET state = @state WHERE state = 'proposed'").run({
        state: how === "use" ? "used" : "dropped",
      });
  }).immediate();
  return done(null);
}
