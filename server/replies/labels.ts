/** The labels that replies get: the usual seven, what follows from each, and the team's own. */

import type { z } from "zod";
import { Kept } from "../../core/kept.ts";
import { effectsOf, type LabelEffects, labelForm } from "../../core/replies/label-effects.ts";
import { type By, hiddenFrom, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { type Db, sql, transact } from "../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";

export interface LabelRow {
  id: number;
  /** Null for one of the team's own. */
  key: string | null;
  name: string;
  /** The name by which the model knows it. */
  code: string;
  effects: LabelEffects;
  /** Whoever it is said of wants to talk, as results count. */
  isPositive: boolean;
}

const MOST_OWN = 12;

/** Parsed once, and never changed in place. */
const parsed = new Kept<LabelEffects>();

const labelOf = ({
  effects,
  isPositive,
  ...row
}: Omit<LabelRow, "effects" | "code" | "isPositive"> & {
  effects: string;
  isPositive: number;
}): LabelRow => ({
  ...row,
  isPositive: isPositive === 1,
  code: row.key ?? `own-${row.id}`,
  effects: parsed.get(`${row.key} ${effects}`, () => effectsOf(row.key, JSON.parse(effects))),
});

/** In the order of their keys on the desk. */
export function allLabels(db: Db): LabelRow[] {
  return sql(
    db,
    "SELECT id, key, name, effects, is_positive AS isPositive FROM labels WHERE removed_at IS NULL ORDER BY position, id",
  )
    .all<Parameters<typeof labelOf>[0]>([])
    .map(labelOf);
}

export const labelByCode = (db: Db, code: string): LabelRow | undefined =>
  allLabels(db).find((label) => label.code === code);

/** Adds a label of the team's own, or changes one. The usual ones keep their names. */
export function saveLabel(app: App, by: By, id: number | null, input: unknown): Outcome<number> {
  const { db } = app;
  const no = mayNot(app, by, "settings.team");
  if (no) return no;
  const read = labelForm.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { name, effects, isPositive }: z.infer<typeof labelForm> = read.data;
  return transact(app, (): Outcome<number> => {
    const labels = allLabels(db);
    const known = labels.find((label) => label.id === id);
    if (id !== null && !known) return refused({ form: "This label no longer exists." });
    if (labels.some((label) => label.id !== id && label.name.toLowerCase() === name.toLowerCase()))
      return refused({ name: "Another label has this name." });
    if (id === null && labels.filter(({ key }) => key === null).length >= MOST_OWN)
      return refused({ form: `At most ${MOST_OWN} labels of your own.` });
    const values = {
      ...{ id, name: known?.key ? known.name : name },
      ...{ effects: JSON.stringify(effects), isPositive: Number(isPositive) },
    };
    if (known) {
      sql(
        db,
        "UPDATE labels SET name = @name, effects = @effects, is_positive = @isPositive WHERE id = @id",
      ).run(values);
      return done(known.id);
    }
    const { lastInsertRowid } = sql(
      db,
      `INSERT INTO labels (name, effects, is_positive, position)
       SELECT @name, @effects, @isPositive, coalesce(max(position), 0) + 1 FROM labels`,
    ).run(values);
    return done(Number(lastInsertRowid));
  });
}

/** Takes a label of the team's own away; replies that carry it keep it. */
export function removeLabel(app: App, by: By, id: number): Outcome<null> {
  const { db, clock } = app;
  const no = mayNot(app, by, "settings.team");
  if (no) return no;
  const removed = sql(
    db,
    "UPDATE labels SET removed_at = @now WHERE id = @id AND key IS NULL AND removed_at IS NULL",
  ).run({ id, now: clock.now() }).changes;
  return removed === 1 ? done(null) : refused({ form: "The usual labels stay." });
}

/** The lists that a label can put people on, as far as somebody may see them. */
export function listChoices(app: App, by: By): { id: number; name: string }[] {
  const hidden = hiddenFrom(app, by, "list.see");
  return sql(app.db, "SELECT id, name FROM lists ORDER BY name")
    .all<{ id: number; name: string }>([])
    .filter(({ id }) => !hidden.has(id));
}
