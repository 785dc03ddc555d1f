/** The moving pictures of emails: drawn ahead for everybody whose sequence shows one, so that no email has to wait for long. */
import { createHash } from "node:crypto";
import { existsSync, readdirSync, rmSync, statSync } from "node:fs";
import { writeFile } from "node:fs/promises";
import { DAY, HOUR } from "../../core/calendar.ts";
import { hasBlock, shownIn, wordsIn } from "../../core/pages/template.ts";
import { renderMerge } from "../../core/writing/merge.ts";
import type { App } from "../app.ts";
import { askJob } from "../db/jobs.ts";
import { type Db, sql, transact } from "../db/open.ts";
import { ensurePage, type Page, pageOf } from "../db/pages.ts";
import { type Prospect, prospectById } from "../db/prospects.ts";
import type { Report } from "../jobs/report.ts";
import { log } from "../log.ts";
import { makeMediaFolder, mediaPath, newMediaName } from "../mail/media.ts";
import { languageOf } from "../prospects/people/language.ts";
import { pictureByName } from "../research/pictures.ts";
import { reconsiderHolds } from "../sequences/reconsider-holds.ts";
import { GuardedThread } from "../threads.ts";
import type { Drawing, SiteLook } from "./draw-picture.ts";
import { filmFor, foundPicture, makerOf, pageValues, siteOf } from "./personal-page.ts";
import { type PageTemplate, templateById } from "./templates.ts";

/** A picture takes a fraction of a second; on a machine that is busy with others some. */
const DRAWN_WITHIN = 30_000;

const warmUp: Drawing = {
  site: { domain: "", name: "", line: "", colour: "", headings: [], words: [], logo: null, picture: null },
  frames: null,
  label: "",
  accent: "#1f4f8f",
};
const thread = new GuardedThread<Drawing, Uint8Array>("server/pages/picture-worker.ts", {
  ...{ memoryMb: 256, stays: false, patience: DRAWN_WITHIN },
  warmUp,
});

/** Ends the thread that draws; the next picture starts another. */
export const stopDrawing = (): Promise<void> => thread.stop();

/** Whose texts show a picture that is not there: the people under way, of sequences that write with a page. */
const LACKING = `FROM sequences s JOIN page_templates t ON t.id = s.settings ->> '$.pageId' AND t.removed_at IS NULL
  JOIN journeys j ON j.sequence_id = s.id AND j.state = 'active'
  JOIN sequence_versions v ON v.sequence_id = s.id AND v.number = j.version AND instr(v.path, 'page_picture') > 0
  LEFT JOIN pages g ON g.template_id = t.id AND g.prospect_id = j.prospect_id
  WHERE s.deleted_at IS NULL AND s.state = 'running' AND coalesce(g.picture_of, '') = '' AND g.picture_problem IS NULL`;

/** By which it is known that nobody can lack a picture who did not before. */
const stateOf = (db: Db): string =>
  JSON.stringify(
    sql(
      db,
      `SELECT (SELECT max(id) FROM journeys) AS people, (SELECT sum(revision) FROM sequences) AS texts,
         (SELECT group_concat(state) FROM sequences) AS states, (SELECT count(*) FROM pages WHERE picture_of = '' AND picture_problem IS NULL) AS undrawn,
         (SELECT count(*) FROM page_templates) AS pages`,
    ).get([]),
  );

/** Of each database, the state in which nothing was to be drawn: then nobody is looked through. */
const nothingIn = new WeakMap<Db, string>();

/** Asks for the work where there is some and nobody is at it. True where it was asked for. */
export function askForPictures({ db, clock }: App): boolean {
  const state = stateOf(db);
  if (nothingIn.get(db) === state) return false;
  const open = sql(
    db,
    "SELECT 1 FROM jobs WHERE state IN ('waiting', 'working') AND kind = 'page_pictures' LIMIT 1",
  ).get([]);
  if (open) return false;
  if (!sql(db, `SELECT 1 ${LACKING} LIMIT 1`).get([])) {
    nothingIn.set(db, state);
    return false;
  }
  askJob(db, { kind: "page_pictures", input: { templateId: null }, userId: null, now: clock.now() });
  return true;
}

interface Wanted {
  templateId: number;
  prospectId: number;
}

/**
 * Draws what is missing: of a page, for everybody who has it; without one, for everybody under way. Each is kept as it is made, so that
 * a worker who is cut off goes on behind the last.
 */
export async function makePictures(
  app: App,
  { templateId }: { templateId: number | null },
  report: Report,
): Promise<void> {
  const { db } = app;
  const people =
    templateId === null
      ? sql(
          db,
          `SELECT DISTINCT t.id AS templateId, j.prospect_id AS prospectId ${LACKING} ORDER BY j.due_at`,
        ).all<Wanted>([])
      : sql(
          db,
          `SELECT template_id AS templateId, prospect_id AS prospectId FROM pages
           WHERE template_id = @templateId AND picture_of = '' AND picture_problem IS NULL ORDER BY id`,
        ).all<Wanted>({ templateId });
  let made = 0;
  for (const each of people) {
    if (await report(made, people.length)) return;
    await makePicture(app, each.templateId, each.prospectId);
    made++;
  }
  await report(made, people.length);
}

/** Draws one, unless it is there and would be the same. */
export async function makePicture(app: App, templateId: number, prospectId: number): Promise<Page | null> {
  const { db, clock } = app;
  const template = templateById(db, templateId);
  const prospect = prospectById(db, prospectId);
  if (!template || !prospect || prospect.erasedAt !== null || prospect.mergedInto !== null) return null;
  const before = pageOf(db, templateId, prospectId) ?? ensurePage(db, templateId, prospectId, clock.now());
  const drawing = drawingOf(app, template, prospect);
  const of = hashOf(drawing);
  if (
    before.picture !== null &&
    pictureOf(db, before.id) === of &&
    existsSync(mediaPath(app, before.picture))
  )
    return before;
  makeMediaFolder(app);
  let picture: string | null = null;
  let problem: string | null = null;
  try {
    const bytes = await thread.ask(drawing);
    picture = newMediaName("gif");
    await writeFile(mediaPath(app, picture), bytes, { mode: 0o600 });
  } catch (error) {
    problem = error instanceof Error ? error.message : String(error);
    log.warn({ problem, prospect: prospectId }, "a moving picture was not drawn");
  }
  transact(app, (app) => {
    sql(
      app.db,
      "UPDATE pages SET picture = @picture, picture_of = @of, picture_problem = @problem WHERE id = @id",
    ).run({
      ...{ id: before.id, picture, of, problem },
    });
    reconsiderHolds(app, { prospectId });
  });
  if (before.picture !== null) rmSync(mediaPath(app, before.picture), { force: true });
  return pageOf(db, templateId, prospectId) ?? null;
}

const pictureOf = (db: Db, id: number) =>
  sql(db, "SELECT picture_of AS text FROM pages WHERE id = @id").get<{ text: string }>({ id })?.text;

function hashOf({ site: { logo, picture, ...site }, frames, ...rest }: Drawing): string {
  const hash = createHash("sha256").update(JSON.stringify([site, rest]));
  for (const bytes of [logo, picture, frames]) hash.update(bytes ?? "none");
  return hash.digest("hex").slice(0, 32);
}

/** All that a picture is drawn of. */
function drawingOf(app: App, template: PageTemplate, prospect: Prospect): Drawing {
  const { db } = app;
  const { definition } = template;
  const film = hasBlock(definition, "film") ? filmFor(db, definition, prospect.id) : null;
  const frames =
    film &&
    (sql(db, "SELECT frames FROM films WHERE id = @id").get<{ frames: Buffer | null }>({ id: film.id })
      ?.frames ??
      null);
  const language = shownIn(definition, languageOf(app, prospect.id)?.language ?? null);
  const greeting = definition.blocks.find(({ kind }) => kind === "greeting");
  const filled =
    greeting && "text" in greeting
      ? renderMerge(
          wordsIn(greeting.text, definition, language),
          pageValues(app, prospect, makerOf(db, template, prospect)),
        )
      : null;
  return {
    site: siteLook(db, prospect),
    frames,
    label: filled?.ok ? filled.text.trim() : "",
    accent: definition.colours.accent,
  };
}

function siteLook(db: Db, prospect: Prospect): SiteLook {
  const site = siteOf(db, prospect);
  const [home] = site?.reading.pages ?? [];
  const paragraphs = (home?.text ?? "").split("\n").filter((line) => line.length > 40);
  const bytes = (of: "logo" | "picture") => {
    const path = foundPicture(db, prospect, of);
    return path === null ? null : (pictureByName(db, path.replace("/pictures/", ""))?.bytes ?? null);
  };
  const name = site?.reading.name || prospect.company || (site?.domain ?? "");
  return {
    domain: site?.domain ?? prospect.companyDomain ?? "",
    name,
    line: site?.reading.line?.value ?? "",
    colour: site?.reading.color ?? "",
    headings: (home?.headings ?? []).slice(0, 6),
    words: paragraphs.slice(0, 6).map((line) => line.slice(0, 240)),
    logo: bytes("logo"),
    picture: bytes("picture"),
  };
}

/** A file of nobody's that is younger may be one that is being written. */
const UNUSED_FOR = HOUR;

/** A film of which no more has come for so long is given up. */
const BROKEN_OFF_FOR = 7 * DAY;

/**
 * Deletes files that nothing names any more: of films that were removed or never came whole, people who were erased, pages that have
 * ended. Pictures whose file is gone, as after a restore, are drawn anew. How many files.
 */
export function sweepMedia(app: App): number {
  const { db, config, clock } = app;
  sql(db, "UPDATE pages SET picture = NULL WHERE picture IS NOT NULL AND ends_at < @now").run({
    now: clock.now(),
  });
  sql(db, "DELETE FROM films WHERE type = '' AND made_at < @before").run({
    before: clock.now() - BROKEN_OFF_FOR,
  });
  const drawn = sql(db, "SELECT id, picture FROM pages WHERE picture IS NOT NULL").all<{
    id: number;
    picture: string;
  }>([]);
  for (const { id, picture } of drawn)
    if (!existsSync(mediaPath(app, picture)))
      sql(db, "UPDATE pages SET picture = NULL, picture_of = '' WHERE id = @id").run({ id });
  const named = new Set(
    sql(db, "SELECT file FROM films UNION ALL SELECT picture FROM pages WHERE picture IS NOT NULL")
      .all<{ file: string }>([])
      .map(({ file }) => file),
  );
  let swept = 0;
  if (!existsSync(config.media)) return swept;
  for (const name of readdirSync(config.media)) {
    if (named.has(name) || !/\.(film|gif)$/.test(name)) continue;
    const path = mediaPath(app, name);
    if (Date.now() - statSync(path).mtimeMs < UNUSED_FOR) continue;
    rmSync(path, { force: true });
    swept++;
  }
  return swept;
}
