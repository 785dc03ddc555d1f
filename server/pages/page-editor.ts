/** What whoever makes a page sees: the page as a person would, and who of a list lacks what. */
import { z } from "zod";
import type { PublicLanguage } from "../../core/languages.ts";
import { fillPage, type Lack } from "../../core/pages/fill-page.ts";
import { type Definition, definitionSchema, hasBlock, shownIn } from "../../core/pages/template.ts";
import { type By, hiddenFrom, mayNot } from "../accounts/may-not.ts";
import { type SharedState, sharingOf } from "../accounts/share.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { fullName, prospectById, prospectsOfList } from "../db/prospects.ts";
import { AppError, done, type Outcome, refused } from "../errors.ts";
import { pageLink } from "../mail/page-links.ts";
import { languageOf } from "../prospects/people/language.ts";
import { type Film, filmsForAll } from "./films.ts";
import {
  filmFor,
  foundPicture,
  makerOf,
  type PersonalPage,
  pageValues,
  personalPage,
  siteOf,
} from "./personal-page.ts";
import { fieldsOfPages, type PageTemplate, templateById } from "./templates.ts";

/** Of a longer list the first are looked through: enough to see what is missing. */
const MOST_LOOKED = 300;
const MOST_OFFERED = 60;

export interface PageEditor {
  template: PageTemplate;
  shared: SharedState;
  mayChange: boolean;
  fields: string[];
  films: Pick<Film, "id" | "name" | "durationMs" | "startsMs" | "endsMs" | "captions" | "captionsLanguage">[];
  fileNames: Record<number, string>;
  lists: { id: number; name: string }[];
  listId: number | null;
  /** Of so many people of the list. */
  looked: number;
  /** What they lack, the most frequent first. */
  lacks: (Lack & { people: number })[];
  /** People to look at it as: who lacks most first. */
  people: { id: number; name: string; company: string; lacks: number }[];
  bookingPages: { slug: string; name: string }[];
}

/** Throws `not_found` for one that is not there, or that a colleague keeps. */
export function pageEditor(app: App, by: By, id: number, wantedList: number | null): PageEditor {
  const { db } = app;
  const template = templateById(db, id);
  if (!template || mayNot(app, by, "page.use", id)) throw new AppError("not_found");
  const hidden = hiddenFrom(app, by, "list.see");
  const lists = sql(db, "SELECT id, name FROM lists ORDER BY id DESC")
    .all<{ id: number; name: string }>([])
    .filter((list) => !hidden.has(list.id));
  const usual =
    sql(
      db,
      "SELECT list_id AS id FROM sequences WHERE settings ->> '$.pageId' = @id AND deleted_at IS NULL AND list_id IS NOT NULL ORDER BY id DESC LIMIT 1",
    ).get<{ id: number }>({ id })?.id ?? lists[0]?.id;
  const listId = lists.find((list) => list.id === (wantedList ?? usual))?.id ?? null;
  const people = listId === null ? [] : lackOfList(app, template, listId);
  const counts = new Map<string, Lack & { people: number }>();
  for (const { lacks } of people)
    for (const lack of lacks) {
      const key = `${lack.blockId} ${lack.what}`;
      counts.set(key, { ...lack, people: (counts.get(key)?.people ?? 0) + 1 });
    }
  const files = template.definition.blocks.flatMap((block) =>
    block.kind === "files" ? block.files : block.kind === "picture" && block.fileId ? [block.fileId] : [],
  );
  return {
    template,
    shared: sharingOf(app, by, "page", id),
    mayChange: mayNot(app, by, "page.change", id) === null,
    fields: fieldsOfPages(db),
    films: filmsForAll(db).map(({ id, name, durationMs, startsMs, endsMs, captions, captionsLanguage }) => ({
      ...{ id, name, durationMs, startsMs, endsMs, captions, captionsLanguage },
    })),
    fileNames: Object.fromEntries(
      sql(db, "SELECT id, name FROM files WHERE id IN (SELECT value FROM json_each(@ids))")
        .all<{ id: number; name: string }>({ ids: JSON.stringify(files) })
        .map(({ id, name }) => [id, name]),
    ),
    lists,
    listId,
    looked: people.length,
    lacks: [...counts.values()].sort((a, b) => b.people - a.people),
    people: people
      .toSorted((a, b) => b.lacks.length - a.lacks.length)
      .slice(0, MOST_OFFERED)
      .map(({ lacks, ...person }) => ({ ...person, lacks: lacks.length })),
    bookingPages: sql(db, "SELECT slug, name FROM booking_pages WHERE removed_at IS NULL ORDER BY name").all<{
      slug: string;
      name: string;
    }>([]),
  };
}

/** What each of a list would not be shown. Free times are not asked for one by one: everybody has the same. */
function lackOfList(app: App, { definition, userId }: PageTemplate, listId: number) {
  const { db } = app;
  return prospectsOfList(db, listId, MOST_LOOKED).map((prospect) => {
    const language = shownIn(definition, languageOf(app, prospect.id)?.language ?? null);
    const { lacks } = fillPage(
      definition,
      language,
      pageValues(app, prospect, makerOf(db, { userId }, prospect)),
      {
        film: hasBlock(definition, "film") && filmFor(db, definition, prospect.id) !== null,
        logo: hasBlock(definition, "company") ? foundPicture(db, prospect, "logo") : null,
        site: hasBlock(definition, "film") && siteOf(db, prospect) !== null,
        files: new Set(
          definition.blocks.flatMap((block) =>
            block.kind === "picture" && block.fileId !== null ? [block.fileId] : [],
          ),
        ),
        times: true,
        plainGreeting: "",
      },
    );
    return { id: prospect.id, name: fullName(prospect), company: prospect.company, lacks };
  });
}

const asked = z.object({ prospectId: z.coerce.number().int(), definition: z.unknown().optional() });

/** The page as one person would see it, saved or not. */
export function previewPage(
  app: App,
  by: By,
  id: number,
  input: unknown,
  plainGreeting: (language: PublicLanguage) => string,
): Outcome<{ page: PersonalPage; link: string }> {
  const no = mayNot(app, by, "page.use", id);
  if (no) return no;
  const read = asked.safeParse(input);
  const template = templateById(app.db, id);
  const prospect = read.success ? prospectById(app.db, read.data.prospectId) : undefined;
  if (!read.success || !template || !prospect || prospect.erasedAt !== null)
    return refused({ form: "Choose somebody to look at it as." });
  let definition: Definition = template.definition;
  if (read.data.definition !== undefined) {
    const given = definitionSchema.safeParse(read.data.definition);
    // While somebody types, the page stands as it was last in order.
    if (given.success) definition = given.data;
  }
  return done({
    page: personalPage(
      app,
      { template, prospect, endsAt: null },
      { wanted: languageOf(app, prospect.id)?.language ?? null, plainGreeting, definition },
    ),
    link: pageLink(app, id, prospect.id, "look"),
  });
}
