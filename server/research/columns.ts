/** Columns that are worked out: made once, put on any list, changed by whoever made them. */
import { z } from "zod";
import {
  type ColumnSettings,
  columnCode,
  columnProblem,
  columnSettingsSchema,
  givesOf,
  scopeOf,
  templateOf,
} from "../../core/research/column.ts";
import { type ColumnKind, type ColumnScope, GIVES, type Gives } from "../../core/research/column-kinds.ts";
import { everyStep, textsOf } from "../../core/sequence/path.ts";
import { fieldsIn } from "../../core/writing/merge.ts";
import { type By, hiddenFrom, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { type Db, sql, transact } from "../db/open.ts";
import { allCustomFields, noteCustomFields } from "../db/prospects.ts";
import { allSequences } from "../db/sequences.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { isRefusedInside } from "../outside/ask.ts";
import { seal } from "../secrets.ts";

export interface Column {
  id: number;
  name: string;
  /** What texts call it. */
  code: string;
  kind: ColumnKind;
  gives: Gives;
  scope: ColumnScope;
  settings: ColumnSettings;
  hasKey: boolean;
  freshDays: number;
  userId: number | null;
}

const COLUMNS = `id, name, code, kind, gives, scope, settings, key_sealed != '' AS hasKey, fresh_days AS freshDays, user_id AS userId`;
type Row = Omit<Column, "settings" | "hasKey"> & { settings: string; hasKey: 0 | 1 };
const columnOf = (row: Row): Column => ({
  ...row,
  hasKey: row.hasKey === 1,
  settings: columnSettingsSchema.parse(JSON.parse(row.settings)),
});

export const columnById = (db: Db, id: number): Column | null => {
  const row = sql(db, `SELECT ${COLUMNS} FROM columns WHERE id = @id`).get<Row>({ id });
  return row ? columnOf(row) : null;
};

export const allColumns = (db: Db): Column[] =>
  sql(db, `SELECT ${COLUMNS} FROM columns ORDER BY id`).all<Row>([]).map(columnOf);

/** Those of a list, in the order in which they were made. */
export const columnsOfList = (db: Db, listId: number): Column[] =>
  sql(
    db,
    `SELECT ${COLUMNS} FROM columns WHERE id IN (SELECT column_id FROM list_columns WHERE list_id = @listId) ORDER BY id`,
  )
    .all<Row>({ listId })
    .map(columnOf);

/** The scope of every column, by what texts call it. */
export const scopesOf = (columns: readonly Column[]): Map<string, ColumnScope> =>
  new Map(columns.map(({ code, scope }) => [code, scope]));

const form = z.object({
  name: z.string().trim().min(1, "Give it a name.").max(60),
  gives: z.enum(GIVES).default("text"),
  freshDays: z.coerce.number().int().min(1).max(1_000).default(90),
  settings: columnSettingsSchema,
  /** A service's key; "" keeps the one that is stored. */
  key: z.string().trim().max(500).default(""),
});

/** Makes a column and puts it on a list. The answer is its number. */
export function createColumn(app: App, by: By, listId: number, input: unknown): Outcome<number> {
  const no = mayNot(app, by, "column.create") ?? mayNot(app, by, "list.change", listId);
  if (no) return no;
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { name, settings, freshDays, key } = read.data;
  return transact(app, ({ db }): Outcome<number> => {
    const code = columnCode(name);
    if (code === null)
      return refused({
        name: "Texts would call it by the name of another field, or by none. Choose another name.",
      });
    const fields = allCustomFields(db);
    if (fields.includes(code))
      return refused({ name: `There is a field “${code}” already. Choose another name.` });
    const columns = allColumns(db);
    const problem = problemOf(app, settings, fields);
    if (problem) return problem;
    const id = Number(
      sql(
        db,
        `INSERT INTO columns (name, code, kind, gives, scope, settings, key_sealed, fresh_days, user_id, made_at)
         VALUES (@name, @code, @kind, @gives, @scope, @settings, @sealed, @freshDays, @by, @now)`,
      ).run({
        ...{
          name,
          code,
          kind: settings.kind,
          gives: givesOf(settings, read.data.gives),
          scope: scopeOf(settings, scopesOf(columns)),
        },
        ...{
          settings: JSON.stringify(settings),
          sealed: key === "" ? "" : seal(key, app.key),
          freshDays,
          by,
          now: app.clock.now(),
        },
      }).lastInsertRowid,
    );
    noteCustomFields(db, [code]);
    sql(db, "INSERT INTO list_columns (list_id, column_id) VALUES (@listId, @id)").run({ listId, id });
    return done(id);
  });
}

/** Changes what a column asks. What it found by the old question stays until it is looked at anew; its name in texts stays, too. */
export function changeColumn(app: App, by: By, id: number, input: unknown): Outcome<null> {
  const no = mayNot(app, by, "column.change", id);
  if (no) return no;
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { name, settings, freshDays, key } = read.data;
  return transact(app, ({ db }): Outcome<null> => {
    const column = columnById(db, id);
    if (!column) return refused({ form: "This column is no longer here. Reload the page." });
    if (column.kind !== settings.kind)
      return refused({ form: "Make another column for what is found another way." });
    const others = allColumns(db).filter((each) => each.id !== id);
    const problem = problemOf(
      app,
      settings,
      allCustomFields(db).filter((field) => field !== column.code),
    );
    if (problem) return problem;
    const scope = scopeOf(settings, scopesOf(others));
    // Values of companies are none of persons: what was found goes with the question.
    if (scope !== column.scope) sql(db, "DELETE FROM column_values WHERE column_id = @id").run({ id });
    // A key is never taken along to another address.
    const isElsewhere =
      settings.kind === "service" &&
      column.settings.kind === "service" &&
      new URL(settings.url).origin !== new URL(column.settings.url).origin;
    sql(
      db,
      `UPDATE columns SET name = @name, settings = @settings, scope = @scope, gives = @gives, fresh_days = @freshDays,
         key_sealed = CASE WHEN @sealed != '' THEN @sealed WHEN @isElsewhere THEN '' ELSE key_sealed END WHERE id = @id`,
    ).run({
      ...{
        id,
        name,
        settings: JSON.stringify(settings),
        scope,
        freshDays,
        gives: givesOf(settings, read.data.gives),
      },
      ...{ sealed: key === "" ? "" : seal(key, app.key), isElsewhere: isElsewhere ? 1 : 0 },
    });
    return done(null);
  });
}

function problemOf({ config }: App, settings: ColumnSettings, fields: readonly string[]) {
  const wrong = columnProblem(settings, fields);
  if (wrong) return refused({ [FIELD_OF[settings.kind]]: wrong });
  if (
    settings.kind === "service" &&
    isRefusedInside(config, new URL(settings.url.replace(/\{\{[^}]*\}\}/g, "x")))
  )
    return refused({
      "settings.url":
        "This address leads inside this network. Whoever runs the installation can allow it (SAUDADE_INSIDE).",
    });
  return null;
}
const FIELD_OF: Record<ColumnKind, string> = {
  site: "form",
  ask: "settings.question",
  formula: "settings.formula",
  service: "settings.url",
};

/** Puts a column that is there on another list: what it found is there at once. */
export function putOnList(app: App, by: By, listId: number, columnId: number): Outcome<null> {
  const no = mayNot(app, by, "list.change", listId);
  if (no) return no;
  if (!columnById(app.db, columnId))
    return refused({ form: "This column is no longer here. Reload the page." });
  sql(
    app.db,
    "INSERT INTO list_columns (list_id, column_id) VALUES (@listId, @columnId) ON CONFLICT DO NOTHING",
  ).run({ listId, columnId });
  return done(null);
}

/** Takes it off a list; what it found stays with its companies and people. */
export function takeOffList(app: App, by: By, listId: number, columnId: number): Outcome<null> {
  const no = mayNot(app, by, "list.change", listId);
  if (no) return no;
  sql(app.db, "DELETE FROM list_columns WHERE list_id = @listId AND column_id = @columnId").run({
    listId,
    columnId,
  });
  return done(null);
}

/** Deletes a column with all that it found. One that a sequence's text names stays: its people would wait. */
export function deleteColumn(app: App, by: By, id: number): Outcome<null> {
  const no = mayNot(app, by, "column.change", id);
  if (no) return no;
  return transact(app, ({ db }): Outcome<null> => {
    const column = columnById(db, id);
    if (!column) return done(null);
    const used = sequencesWith(app, by, column.code);
    if (used.length > 0)
      return refused({
        form: `“${used[0]}”${used.length > 1 ? ` and ${used.length - 1} more` : ""} writes with it. Take it out of the texts first.`,
      });
    const needed = allColumns(db).find(
      (each) => each.id !== id && fieldsOf(each.settings).includes(column.code),
    );
    if (needed)
      return refused({ form: `The column “${needed.name}” is worked out from it. Delete that one first.` });
    sql(db, "DELETE FROM column_values WHERE column_id = @id").run({ id });
    sql(db, "DELETE FROM columns WHERE id = @id").run({ id });
    sql(
      db,
      "DELETE FROM custom_fields WHERE name = @code AND NOT EXISTS (SELECT 1 FROM prospects WHERE custom ->> ('$.' || @code) IS NOT NULL)",
    ).run({ code: column.code });
    return done(null);
  });
}

const fieldsOf = (settings: ColumnSettings): string[] => fieldsIn(templateOf(settings));

/** The sequences whose texts name a field, by their names; one that a colleague keeps to themselves has none. */
export function sequencesWith(app: Pick<App, "db">, by: By, code: string): string[] {
  const hidden = hiddenFrom(app, by, "sequence.see");
  return allSequences(app.db)
    .filter(
      ({ deletedAt, path }) =>
        deletedAt === null &&
        everyStep(path).some((step) => textsOf(step).some((text) => fieldsIn(text).includes(code))),
    )
    .map(({ id, name }) => (hidden.has(id) ? "A colleague's sequence" : name));
}
