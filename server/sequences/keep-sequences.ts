/** What is done with whole sequences: copied, put away, deleted and brought back, put on the shelf, written to a file. */

import { z } from "zod";
import { type Brought, bestFirst } from "../../core/results/worked.ts";
import { copies } from "../../core/sequence/edit-path.ts";
import { everyNode, type Path } from "../../core/sequence/path.ts";
import { readSequenceFile, withoutFiles, writeSequenceFile } from "../../core/sequence/path-file.ts";
import { pathSchema } from "../../core/sequence/path-schema.ts";
import { SHELF, type StartingPoint } from "../../core/sequence/shelf.ts";
import { type By, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import { sql, transact } from "../db/open.ts";
import { sequenceById } from "../db/sequences.ts";
import { done, type Outcome, refused } from "../errors.ts";
import { broughtFromPoint } from "./brought.ts";
import { createSequence } from "./create-sequence.ts";
import { sequenceForm } from "./open-sequence.ts";
import { saveSequence } from "./save-sequence.ts";

/** Ids of its own for each step of a copy, so that a prospect may get both. */
function freshPath(path: Path): Path {
  let number = 0;
  const taken = new Set(everyNode(path).map(({ id }) => id));
  const newId = () => {
    let id: string;
    do id = `s${Date.now().toString(36)}${(number++).toString(36)}`;
    while (taken.has(id));
    return id;
  };
  return copies(path, newId);
}

/** A draft with the same path and settings, in the user's name. Returns its id. */
export function duplicateSequence(app: App, userId: number, id: number): Outcome<number> {
  const sequence = sequenceById(app.db, id);
  if (!sequence) return refused({ form: "This sequence no longer exists." });
  const no = mayNot(app, userId, "sequence.see", id);
  if (no) return no;
  const name = `${sequence.name} (copy)`.slice(0, 80);
  const path = freshPath(sequence.path);
  const created = createSequence(app, userId, { name }, path);
  if (!created.ok) return created;
  const { revision: _, mailboxIds, ...form } = sequenceForm(sequence);
  // Of the mailboxes those that are one's own: from others a copy does not send.
  const own = mailboxIds.filter((each) => mayNot(app, userId, "mailbox.use", each) === null);
  const kept = own.length > 0 ? own : sequenceById(app.db, created.value)?.mailboxIds;
  const copy = { ...form, id: created.value, name, path, listId: null, mailboxIds: kept };
  const saved = saveSequence(app, copy, userId);
  return saved.ok ? created : saved;
}

/** Puts a sequence out of sight, or back; what is under way goes on. */
export function archiveSequence(app: App, by: By, id: number, isArchived: boolean): Outcome<null> {
  const { db, clock } = app;
  const no = mayNot(app, by, "sequence.change", id);
  if (no) return no;
  sql(db, "UPDATE sequences SET archived_at = @at, revision = revision + 1 WHERE id = @id").run({
    id,
    at: isArchived ? clock.now() : null,
  });
  return done(null);
}

export interface DeletedSequence {
  name: string;
  /** Those who were under way, and were stopped. */
  stopped: number[];
}

/** Deletes a sequence: nothing more of it goes, and what was sent stays told. Can be brought back with whom it stopped. */
export function deleteSequence(app: App, userId: By, id: number): Outcome<DeletedSequence> {
  const no = mayNot(app, userId, "sequence.change", id);
  if (no) return no;
  const { clock } = app;
  const now = clock.now();
  return transact(app, ({ db }) => {
    const name = sequenceById(db, id)?.name ?? "";
    const people = sql(
      db,
      "SELECT id AS journeyId, prospect_id AS prospectId FROM journeys WHERE sequence_id = @id AND state = 'active'",
    ).all<{ journeyId: number; prospectId: number }>({ id });
    for (const { prospectId } of people)
      apply(db, { kind: "stopped_by_rep" }, { at: now, prospectId, userId });
    sql(db, "UPDATE sequences SET deleted_at = @now, revision = revision + 1 WHERE id = @id").run({
      id,
      now,
    });
    return done({ name, stopped: people.map(({ journeyId }) => journeyId) });
  });
}

/** Brings a deleted sequence back, and lets those go on who were stopped with it and are nowhere else by now. */
export function restoreSequence(app: App, by: By, id: number, stopped: readonly number[]): Outcome<null> {
  const { clock } = app;
  const no = mayNot(app, by, "sequence.change", id);
  if (no) return no;
  transact(app, ({ db }) => {
    sql(db, "UPDATE sequences SET deleted_at = NULL, revision = revision + 1 WHERE id = @id").run({ id });
    const people = sql(
      db,
      `SELECT id AS journeyId, prospect_id AS prospectId FROM journeys
       WHERE sequence_id = @id AND id IN (SELECT value FROM json_each(@stopped))`,
    ).all<{ journeyId: number; prospectId: number }>({ id, stopped: JSON.stringify(stopped) });
    for (const about of people) apply(db, { kind: "restored" }, { at: clock.now(), ...about });
  });
  return done(null);
}

/** Ours, then what the team put there. */
export function startingPoints({ db }: App): (StartingPoint & { own: boolean })[] {
  const saved = sql(db, "SELECT id, name, about, path FROM shelf ORDER BY name").all<{
    id: number;
    name: string;
    about: string;
    path: string;
  }>([]);
  return [
    ...SHELF.map((point) => ({ ...point, own: false })),
    ...saved.map(({ id, name, about, path }) => ({
      id: `own-${id}`,
      name,
      about,
      path: pathSchema.parse(JSON.parse(path)),
      own: true,
    })),
  ];
}

/** The shelf for somebody who begins: what worked first. */
export function shelf(
  app: App,
  by: By,
): (ReturnType<typeof startingPoints>[number] & { brought: Brought })[] {
  const broughtFrom = broughtFromPoint(app, by);
  return bestFirst(startingPoints(app).map((point) => ({ ...point, brought: broughtFrom(point.id) })));
}

/** Puts a sequence's path on the shelf; of the same name, in the place of the one before. */
export function putOnShelf(app: App, userId: By, id: number, about: string): Outcome<null> {
  const { db, clock } = app;
  const taken = sql(db, "SELECT id FROM shelf WHERE name = (SELECT name FROM sequences WHERE id = @id)").get<{
    id: number;
  }>({ id });
  const no = mayNot(app, userId, "sequence.shelve", id) ?? mayNot(app, userId, "shelf.drop", taken?.id ?? []);
  if (no) return no;
  const sequence = sequenceById(db, id);
  if (!sequence) return refused({ form: "This sequence no longer exists." });
  sql(
    db,
    `INSERT INTO shelf (name, about, path, user_id, at, sequence_id) VALUES (@name, @about, @path, @userId, @now, @id)
     ON CONFLICT (name) DO UPDATE SET about = excluded.about, path = excluded.path, user_id = excluded.user_id,
       at = excluded.at, sequence_id = excluded.sequence_id`,
  ).run({
    id,
    name: sequence.name,
    about: about.trim().slice(0, 300),
    path: JSON.stringify(sequence.path),
    userId,
    now: clock.now(),
  });
  return done(null);
}

export function takeOffShelf(app: App, by: By, pointId: string): Outcome<null> {
  const id = Number(/^own-(\d+)$/.exec(pointId)?.[1]);
  const no = mayNot(app, by, "shelf.drop", id || []);
  if (no) return no;
  if (id) sql(app.db, "DELETE FROM shelf WHERE id = @id").run({ id });
  return done(null);
}

const named = z.string().trim().max(80);

/** A new draft from a starting point, "blank" for an empty one. Returns its id. */
export function createFrom(app: App, userId: number, pointId: string, name: string): Outcome<number> {
  if (pointId === "blank") return createSequence(app, userId, { name });
  const point = startingPoints(app).find(({ id }) => id === pointId);
  if (!point) return refused({ form: "This starting point is no longer on the shelf." });
  return createSequence(
    app,
    userId,
    { name: named.parse(name) || point.name },
    freshPath(point.path),
    point.id,
  );
}

/** Who is on a list, in the words of the profile that found them; "" for a list of another origin. */
export const whomOf = ({ db }: App, listId: number): string =>
  sql(
    db,
    `SELECT coalesce(nullif(p.description, ''), p.name) AS whom FROM lists l JOIN profiles p ON p.id = l.profile_id WHERE l.id = @listId`,
  ).get<{ whom: string }>({ listId })?.whom ?? "";

/** Has a draft write to a list, if there is one of that number. */
export function writeTo(app: App, by: By, id: number, listId: number): Outcome<null> {
  const { db } = app;
  const no = mayNot(app, by, "sequence.change", id) ?? mayNot(app, by, "list.see", listId);
  if (no) return no;
  sql(
    db,
    `UPDATE sequences SET list_id = @listId WHERE id = @id AND state = 'draft' AND EXISTS (SELECT 1 FROM lists WHERE id = @listId)`,
  ).run({ id, listId });
  return done(null);
}

/** A new draft from a file's text; `name`: "" for the one in the file. Returns its id. */
export function importSequence(app: App, userId: number, text: string, name = ""): Outcome<number> {
  const read = readSequenceFile(text);
  return read.ok
    ? createSequence(
        app,
        userId,
        { name: named.parse(name) || read.file.name },
        freshPath(withoutFiles(read.file.path)),
      )
    : refused({ file: read.problem });
}

/** A sequence as a file. */
export function exportSequence(app: App, by: By, id: number): Outcome<{ fileName: string; text: string }> {
  const { db } = app;
  const no = mayNot(app, by, "sequence.see", id);
  if (no) return no;
  const sequence = sequenceById(db, id);
  if (!sequence) return refused({ form: "This sequence no longer exists." });
  const { name, path } = sequence;
  const plain = name
    .normalize("NFD")
    .replace(/\p{M}/gu, "")
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "");
  return done({
    fileName: `${plain || "sequence"}.json`,
    text: writeSequenceFile({ name, about: "", path }),
  });
}
