/** Pages for prospects, as the team makes them: each is a template, filled in anew for whoever opens its link. */

import { z } from "zod";
import { colourProblems } from "../../core/pages/colours.ts";
import {
  type Definition,
  definitionSchema,
  MOST_BYTES,
  textsOfPage,
  usualDefinition,
} from "../../core/pages/template.ts";
import { PROSPECT_FIELDS, SENDER_FIELDS } from "../../core/writing/fields.ts";
import { mergeProblems } from "../../core/writing/merge.ts";
import { type By, hiddenFrom, mayNot } from "../accounts/may-not.ts";
import { type SharedState, sharingOf } from "../accounts/share.ts";
import type { App } from "../app.ts";
import { type Db, sql, transact } from "../db/open.ts";
import { redrawPictures } from "../db/pages.ts";
import { allCustomFields } from "../db/prospects.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";

export interface PageTemplate {
  id: number;
  name: string;
  definition: Definition;
  userId: number | null;
  changedAt: number;
  revision: number;
}

type Row = Omit<PageTemplate, "definition"> & { definition: string };
const COLUMNS = "id, name, definition, user_id AS userId, changed_at AS changedAt, revision";
const templateOf = (row: Row): PageTemplate => ({
  ...row,
  definition: definitionSchema.parse(JSON.parse(row.definition)),
});

/** One that is still there. */
export function templateById(db: Db, id: number): PageTemplate | undefined {
  const row = sql(db, `SELECT ${COLUMNS} FROM page_templates WHERE id = @id AND removed_at IS NULL`).get<Row>(
    { id },
  );
  return row && templateOf(row);
}

export interface TemplateLine {
  id: number;
  name: string;
  languages: string[];
  shared: SharedState;
  /** People who have the link of one, who looked at it, who watched at least half of its film. */
  pages: number;
  visited: number;
  watched: number;
}

/** Those that somebody may use, by name, with what came of them. */
export function allTemplates(app: App, by: By): TemplateLine[] {
  const hidden = hiddenFrom(app, by, "page.use");
  return sql(
    app.db,
    `SELECT t.id, t.name, t.definition ->> '$.languages' AS languages, count(g.ends_at) AS pages,
       count(g.id) FILTER (WHERE EXISTS (SELECT 1 FROM page_loads l WHERE l.page_id = g.id AND l.trust = 'person')) AS visited,
       count(g.id) FILTER (WHERE g.watched >= 50) AS watched
     FROM page_templates t LEFT JOIN pages g ON g.template_id = t.id WHERE t.removed_at IS NULL GROUP BY t.id ORDER BY t.name`,
  )
    .all<Omit<TemplateLine, "shared" | "languages"> & { languages: string }>([])
    .filter(({ id }) => !hidden.has(id))
    .map((row) => ({
      ...row,
      languages: JSON.parse(row.languages) as string[],
      shared: sharingOf(app, by, "page", row.id),
    }));
}

/** The same as a choice: name and number. */
export const templateChoices = (app: App, by: By): { id: number; name: string }[] =>
  allTemplates(app, by).map(({ id, name }) => ({ id, name }));

const nameForm = z.string().trim().min(1, "Give the page a name.").max(80);

/** Makes a page with what most begin with; `from` copies another. The answer is its number. */
export function createTemplate(app: App, by: By, input: { name?: unknown; from?: unknown }): Outcome<number> {
  const no = mayNot(app, by, "page.create");
  if (no) return no;
  const name = nameForm.safeParse(input.name ?? "");
  if (!name.success) return refused({ name: name.error.issues[0]?.message ?? "Give the page a name." });
  const from = input.from ? templateById(app.db, Number(input.from)) : undefined;
  if (from) {
    const hidden = mayNot(app, by, "page.use", from.id);
    if (hidden) return hidden;
  }
  const definition = from?.definition ?? usualDefinition("en");
  const { lastInsertRowid } = sql(
    app.db,
    "INSERT INTO page_templates (name, definition, user_id, changed_at) VALUES (@name, @definition, @by, @now)",
  ).run({ name: name.data, definition: JSON.stringify(definition), by, now: app.clock.now() });
  return done(Number(lastInsertRowid));
}

/** Fields that a page's texts may use. */
export const fieldsOfPages = (db: Db): string[] => [
  ...PROSPECT_FIELDS,
  ...SENDER_FIELDS.filter((field) => !field.startsWith("page_")),
  ...allCustomFields(db),
];

/**
 * Saves a page; from now on all who have it see it so. `name` and `definition`, which may be JSON; one that was opened before
 * somebody else saved it is refused by its `revision`. The answer is the new one.
 */
export function saveTemplate(
  app: App,
  by: By,
  id: number,
  input: { name?: unknown; definition?: unknown; revision?: unknown },
): Outcome<number> {
  const no = mayNot(app, by, "page.change", id);
  if (no) return no;
  const name = nameForm.safeParse(input.name ?? "");
  if (!name.success) return refused({ name: name.error.issues[0]?.message ?? "Give the page a name." });
  const json =
    typeof input.definition === "string" ? input.definition : JSON.stringify(input.definition ?? null);
  if (json.length > MOST_BYTES)
    return refused({
      form: `This page has ${Math.ceil(json.length / 1000).toLocaleString("en")} kB of words; ${MOST_BYTES / 1000} are the most. Make it shorter: what is longer belongs into a file.`,
    });
  let given: unknown;
  try {
    given = JSON.parse(json);
  } catch {
    return refused({ form: "This page cannot be read. Reload it, and try again." });
  }
  const read = definitionSchema.safeParse(given);
  if (!read.success) return refused(fieldErrors(read.error));
  const problems = definitionProblems(app.db, read.data);
  if (Object.keys(problems).length > 0) return refused(problems);
  return transact(app, ({ db }): Outcome<number> => {
    const before = templateById(db, id);
    if (!before) return refused({ form: "This page is no longer here. Reload the list." });
    if (input.revision !== undefined && input.revision !== before.revision)
      return refused({
        form: "It was saved meanwhile, by somebody else or in another tab. Nothing of yours is saved over it: copy what you wrote, reload, and put it in.",
      });
    sql(
      db,
      "UPDATE page_templates SET name = @name, definition = @definition, changed_at = @now, revision = revision + 1 WHERE id = @id",
    ).run({
      id,
      name: name.data,
      definition: JSON.stringify(read.data),
      now: app.clock.now(),
    });
    if (drawnOf(before.definition) !== drawnOf(read.data)) redrawPictures(db, { templateId: id });
    return done(before.revision + 1);
  });
}

/** What of a page its moving pictures show. */
const drawnOf = ({ blocks, colours, filmId, languages }: Definition): string =>
  JSON.stringify([
    colours.accent,
    filmId,
    languages,
    blocks.filter(({ kind }) => kind === "greeting" || kind === "film"),
  ]);

/** What keeps a page from being saved, by the place in it: "colours.accent", a block's number, "pictureText". */
function definitionProblems(db: Db, definition: Definition): Record<string, string> {
  const problems: Record<string, string> = {};
  for (const [colour, words] of Object.entries(colourProblems(definition.colours)))
    problems[`colours.${colour}`] = words;
  const fields = fieldsOfPages(db);
  for (const { blockId, text } of textsOfPage(definition)) {
    const [wrong] = mergeProblems(text, fields);
    if (wrong) problems[blockId ?? "pictureText"] ??= wrong;
  }
  return problems;
}

/** Takes a page away: its links say so from now on. One that a running sequence writes with stays. */
export function removeTemplate(app: App, by: By, id: number): Outcome<null> {
  const no = mayNot(app, by, "page.change", id);
  if (no) return no;
  return transact(app, ({ db, clock }): Outcome<null> => {
    const used = sql(
      db,
      "SELECT name FROM sequences WHERE settings ->> '$.pageId' = @id AND deleted_at IS NULL AND archived_at IS NULL LIMIT 1",
    ).get<{ name: string }>({ id });
    if (used)
      return refused({ form: `“${used.name}” writes with it. Choose another page in its settings first.` });
    sql(db, "UPDATE page_templates SET removed_at = @now WHERE id = @id").run({ id, now: clock.now() });
    return done(null);
  });
}
